import { MESH_NAMES, readFormula, resolveGraph, summaryAt, type Names, setSetting } from '@umberfish/core';
import { lazy, Suspense, useMemo } from 'react';
import { gestureEnded } from '../../../state/project-slice.ts';
import { applyEdit, store, useStore } from '../../../state/store.ts';
import { remarked } from '../../../state/ui-slice.ts';
import type { FieldProps, SettingEditor } from './field.ts';
import type { FormulaName } from './formula-editor.tsx';
import { catalogue } from '../../../state/catalogue.ts';

const FormulaEditor = lazy(() => import('./formula-editor.tsx'));

/** The text of a Formula, with what is wrong with it below. */
function FormulaField({ graph, node }: FieldProps<'formula'>) {
  const resolved = resolveGraph(catalogue(), graph).get(node.id);
  const wire = resolved?.wires.get('mesh');
  const attributes = useStore((s) =>
    wire ? summaryAt(s.evaluation.reports.get(wire.from.node), wire.from.port)?.attributes : undefined,
  );
  const text = String(resolved?.settings.formula ?? '');
  const inputs = (resolved?.settings.inputs as Names).names;
  const outputs = (resolved?.settings.outputs as Names).names;
  const names = useMemo((): FormulaName[] => {
    const own = inputs.map((i) => ({ name: i.name, about: `input, ${i.type}` }));
    if (!wire) return own;
    const mesh = Object.keys(MESH_NAMES).map((name) => ({ name, about: 'of the mesh, vector' }));
    return [...own, ...mesh, ...(attributes ?? []).map((a) => ({ name: a.name, about: `${a.type} on ${a.on}s` }))];
  }, [inputs, wire, attributes]);
  const around = useMemo(() => {
    if (!wire) return {};
    const widths = (attributes ?? []).map((a) => [a.name, ['number', 'integer', 'toggle'].includes(a.type) ? 1 : 3] as const);
    return { attributes: new Map<string, 1 | 3>([...widths, ...Object.entries(MESH_NAMES)]) };
  }, [wire, attributes]);
  const source = { text, inputs, outputs };
  const problem = readFormula(source, around).problems[0];
  const write = (to: string) =>
    applyEdit('Change formula', setSetting(catalogue(), graph.id, node.id, 'formula', to), `formula ${node.id}`);
  return (
    <div>
      <Suspense fallback={<p className="py-2 text-soft">Opening the editor…</p>}>
        <FormulaEditor
          source={source}
          around={around}
          names={names}
          onChange={write}
          onEnd={() => store.dispatch(gestureEnded())}
          onTooLong={() =>
            store.dispatch(
              remarked({ kind: 'wrong', text: 'A formula takes 10,000 characters at most. Split it over two nodes.' }),
            )
          }
        />
      </Suspense>
      {problem && (
        <p data-formula-problem className="mt-1 border-l-2 border-rust py-0.5 pl-2 text-xs leading-snug text-rust">
          The formula {problem.message}
        </p>
      )}
    </div>
  );
}

export const formulaEditor: SettingEditor<'formula'> = { field: FormulaField, alone: true };

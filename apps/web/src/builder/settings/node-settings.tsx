import { moduleKey, usedKey } from '@umberfish/core';
import { nodeTitle, problemWords, resolveGraph, type GraphRecord, type NodeRecord, changeNode } from '@umberfish/core';
import { applyEdit, useStore } from '../../state/store.ts';
import { TextField } from '../../ui/text-field.tsx';
import { Dials } from '../modules/dials.tsx';
import { InputField } from './input-field.tsx';
import { MatrixRows } from './matrix-rows.tsx';
import { SettingField } from './setting-field.tsx';
import { ModuleSection } from '../modules/module-section.tsx';
import { catalogue } from '../../state/catalogue.ts';

/** Title, inputs and settings of a node. */
export function NodeSettings({ graph, node }: { graph: GraphRecord; node: NodeRecord }) {
  const resolved = resolveGraph(catalogue(), graph).get(node.id);
  const report = useStore((s) => s.evaluation.reports.get(node.id));
  const module = useStore((s) => s.project.project?.modules.find((m) => moduleKey(m) === usedKey(node)));
  if (!resolved) return null;
  const { definition } = resolved;
  const problems = report?.problems ?? [];
  return (
    <div className="flex flex-col gap-1.5" data-settings-of={node.id}>
      <div className="mb-1">
        <TextField
          label="Title"
          value={node.title || nodeTitle(resolved)}
          onChange={(title) =>
            applyEdit('Rename node', changeNode(graph.id, node.id, { title: title === definition?.title ? '' : title }))
          }
          className="!border-transparent !bg-transparent !px-0 font-serif text-sm font-semibold hover:!border-line-strong"
        />
        <p className="text-xs leading-snug text-soft">
          {definition ? `${node.title ? `${definition.title}. ` : ''}${definition.summary}` : `Unknown type "${node.type}".`}
        </p>
      </div>
      {module && <ModuleSection path={node.id} module={module} />}
      {definition?.inOrder && <MatrixRows graph={graph} node={resolved} />}
      {module ? (
        <Dials graph={graph} node={resolved} module={module} />
      ) : (
        <>
          {resolved.inputs.map((port) => (
            <InputField key={port.id} graph={graph} node={node} port={port} />
          ))}
          {definition?.settings
            .filter((s) => s.shown?.(resolved.settings) ?? true)
            .map((s) => (
              <SettingField key={s.id} graph={graph} node={node} setting={s} value={resolved.settings[s.id]} />
            ))}
        </>
      )}
      {problems.map((p, i) => (
        <p
          key={i}
          className={`mt-1 border-l-2 py-1 pl-2 text-xs leading-snug ${p.severity === 'error' ? 'border-rust text-rust' : 'border-line-strong text-soft'}`}
        >
          {problemWords(p)}
        </p>
      ))}
    </div>
  );
}

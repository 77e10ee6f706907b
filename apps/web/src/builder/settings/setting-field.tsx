import {
  counted,
  exposeSetting,
  pathOfInside,
  setSetting,
  wallsOf,
  type GraphRecord,
  type NodeRecord,
  type Setting,
  type SettingValue,
} from '@umberfish/core';
import type { ComponentType } from 'react';
import { applyEdit, selectGraph, store } from '../../state/store.ts';
import { remarked } from '../../state/ui-slice.ts';
import { FieldRow } from './field-row.tsx';
import type { FieldProps, SettingEditor } from './fields/field.ts';
import { SETTING_EDITORS } from './fields/index.ts';
import { catalogue } from '../../state/catalogue.ts';

interface SettingFieldProps {
  graph: GraphRecord;
  node: NodeRecord;
  setting: Setting;
  value: SettingValue;
}

/** An editor of whatever type. */
type AnyEditor = Omit<SettingEditor<never>, 'field'> & {
  field: ComponentType<Omit<FieldProps<never>, 'setting'> & { setting: Setting }>;
};

/** Settings that make dials; the others are worked out, or belong to one use. */
const DIALS: readonly Setting['type'][] = ['object', 'choice', 'toggle', 'number', 'text', 'response', 'gradient'];

/** What makes a setting a dial: inside of a module, where it is none yet. */
function exposing(graph: GraphRecord, node: NodeRecord, setting: Setting): (() => void) | undefined {
  const path = pathOfInside(graph.id);
  if (path === undefined || !DIALS.includes(setting.type)) return undefined;
  const local = node.id.slice(path.length + 1);
  const { ins } = wallsOf(catalogue(), graph);
  if (ins.some((w) => w.sets.some((s) => s.node === local && s.setting === setting.id))) return undefined;
  return () => applyEdit('Make a dial', exposeSetting(catalogue(), graph.id, node.id, setting.id, local));
}

/** One setting of a node. */
export function SettingField({ graph, node, setting, value }: SettingFieldProps) {
  // The table pairs each type with a field for it, which the compiler cannot follow through a union.
  const { alone, worked, field: Field } = SETTING_EDITORS[setting.type] as unknown as AnyEditor;
  const write = (v: SettingValue, gesture: string | null = null) => {
    const wires = () => selectGraph(store.getState())?.wires ?? [];
    const before = wires();
    applyEdit(`Change ${setting.label.toLowerCase()}`, setSetting(catalogue(), graph.id, node.id, setting.id, v), gesture);
    // A choice may take inputs or outputs away: the wires that went with them are told.
    const after = new Set(wires().map((w) => w.id));
    const gone = before.filter((w) => !after.has(w.id));
    if (gone.length === 0) return;
    const ports = gone.map((w) => `"${w.to.node === node.id ? w.to.port : w.from.port}"`).join(', ');
    const text = `${counted(gone.length, 'wire')} went with ${gone.length === 1 ? 'its end' : 'their ends'}: ${ports}. Ctrl Z brings ${gone.length === 1 ? 'it' : 'them'} back.`;
    store.dispatch(remarked({ text, kind: 'wrong' }));
  };
  const shown = <Field graph={graph} node={node} setting={setting} value={value} write={write} />;
  const expose = exposing(graph, node, setting);
  if (alone)
    return (
      <>
        {shown}
        {expose && (
          <button
            type="button"
            aria-label={`Make ${setting.label} a dial`}
            className="self-start text-xs text-umber underline"
            onClick={expose}
          >
            Make it a dial of the module
          </button>
        )}
      </>
    );
  const standard = 'default' in setting ? setting.default : undefined;
  const changed = standard !== undefined && !worked && value !== standard;
  return (
    <FieldRow label={setting.label} help={setting.help} onReset={changed ? () => write(standard) : undefined} onExpose={expose}>
      {shown}
    </FieldRow>
  );
}

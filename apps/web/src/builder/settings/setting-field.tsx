import { setSetting, type GraphRecord, type NodeRecord, type Setting, type SettingValue } from '@umberfish/core';
import type { ComponentType } from 'react';
import { applyEdit } from '../../state/store.ts';
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

/** One setting of a node. */
export function SettingField({ graph, node, setting, value }: SettingFieldProps) {
  // The table pairs each type with a field for it, which the compiler cannot follow through a union.
  const { alone, worked, field: Field } = SETTING_EDITORS[setting.type] as unknown as AnyEditor;
  const write = (v: SettingValue, gesture: string | null = null) =>
    applyEdit(`Change ${setting.label.toLowerCase()}`, setSetting(catalogue(), graph.id, node.id, setting.id, v), gesture);
  const shown = <Field graph={graph} node={node} setting={setting} value={value} write={write} />;
  if (alone) return shown;
  const standard = 'default' in setting ? setting.default : undefined;
  const changed = standard !== undefined && !worked && value !== standard;
  return (
    <FieldRow label={setting.label} help={setting.help} onReset={changed ? () => write(standard) : undefined}>
      {shown}
    </FieldRow>
  );
}

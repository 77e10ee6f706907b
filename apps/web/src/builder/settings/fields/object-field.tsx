import { fitsSetting, removedById } from '@umberfish/core';
import { selectProject, useStore } from '../../../state/store.ts';
import { Choice } from '../../../ui/choice.tsx';
import type { FieldProps, SettingEditor } from './field.ts';

function ObjectField({ setting, value, write }: FieldProps<'object'>) {
  const project = useStore(selectProject);
  const kept = project && typeof value === 'string' ? removedById(project.removed).get(value) : undefined;
  return (
    <Choice
      label={setting.label}
      value={typeof value === 'string' ? value : setting.optional ? '-' : ''}
      empty={typeof value === 'string' ? 'an object that is gone' : 'Choose…'}
      options={[
        ...(setting.optional ? [{ value: '-', label: 'No object' }] : []),
        ...(project?.objects ?? []).filter((o) => fitsSetting(o, setting.takes)).map((o) => ({ value: o.id, label: o.name })),
        ...(kept ? [{ value: kept.object.id, label: `${kept.object.name} (removed)` }] : []),
      ]}
      onChange={(v) => write(v === '-' ? null : v)}
    />
  );
}

export const objectEditor: SettingEditor<'object'> = { field: ObjectField, worked: true };

import { fitsSetting, pathOfInside, removedById } from '@umberfish/core';
import { selectProject, useStore } from '../../../state/store.ts';
import { Choice } from '../../../ui/choice.tsx';
import type { FieldProps, SettingEditor } from './field.ts';

function ObjectField({ graph, setting, value, write }: FieldProps<'object'>) {
  const project = useStore(selectProject);
  // Nothing inside of a module points at a scene: objects come in by a dial.
  if (pathOfInside(graph.id) !== undefined)
    return <span className="text-xs leading-snug text-soft">An object comes in by a dial of the module.</span>;
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

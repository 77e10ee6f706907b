import { channelName, channelsOf, objectsById, withRemoved } from '@umberfish/core';
import { selectProject, useStore } from '../../../state/store.ts';
import { Choice } from '../../../ui/choice.tsx';
import type { FieldProps, SettingEditor } from './field.ts';

/** The channels of the object in another setting; only its own ones where none need be chosen. */
function ChannelField({ node, setting, value, write }: FieldProps<'channel'>) {
  const project = useStore(selectProject);
  const object = project && objectsById(withRemoved(project).objects).get(String(node.settings[setting.of]));
  if (!object) return <span className="text-xs text-faint">choose the object first</span>;
  const optional = setting.default === '';
  const offered = optional ? object.custom.map((c) => c.id) : channelsOf(object);
  return (
    <Choice
      label={setting.label}
      value={value === '' ? '-' : String(value)}
      empty="a channel that is gone"
      options={[
        ...(optional ? [{ value: '-', label: 'None' }] : []),
        ...offered.map((c) => ({ value: c, label: channelName(object, c) })),
      ]}
      onChange={(v) => write(v === '-' ? '' : v)}
    />
  );
}

export const channelEditor: SettingEditor<'channel'> = { field: ChannelField };

import type { Gradient, Response } from '@umberfish/core';
import { gestureEnded } from '../../../state/project-slice.ts';
import { store } from '../../../state/store.ts';
import { Choice } from '../../../ui/choice.tsx';
import { GradientEditor } from '../../../ui/gradient-editor.tsx';
import { NumberField } from '../../../ui/number-field.tsx';
import { ResponseEditor } from '../../../ui/response-editor.tsx';
import { Switch } from '../../../ui/switch.tsx';
import type { SettingEditor } from './field.ts';

const endGesture = () => store.dispatch(gestureEnded());

export const choiceEditor: SettingEditor<'choice'> = {
  field: ({ setting, value, write }) => (
    <Choice label={setting.label} value={String(value)} options={setting.options} onChange={(v) => write(v)} />
  ),
};

export const toggleEditor: SettingEditor<'toggle'> = {
  field: ({ setting, value, write }) => <Switch checked={value === true} onChange={(v) => write(v)} label={setting.label} />,
};

export const numberEditor: SettingEditor<'number'> = {
  field: ({ node, setting, value, write }) => (
    <NumberField
      label={setting.label}
      unit={setting.unit}
      range={setting.range}
      whole={setting.whole}
      value={Number(value)}
      onChange={(v, gesture) => typeof v === 'number' && write(v, gesture && `${gesture} ${node.id}`)}
      onEnd={endGesture}
    />
  ),
};

export const responseEditor: SettingEditor<'response'> = {
  alone: true,
  field: ({ value, write }) => (
    <div className="mt-1">
      <ResponseEditor value={value as Response} onChange={(v, gesture) => write(v, gesture)} />
    </div>
  ),
};

export const gradientEditor: SettingEditor<'gradient'> = {
  alone: true,
  field: ({ value, write }) => <GradientEditor value={value as Gradient} onChange={write} onEnd={endGesture} />,
};

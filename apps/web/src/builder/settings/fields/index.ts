import type { Setting } from '@umberfish/core';
import { channelEditor } from './channel-field.tsx';
import type { SettingEditor } from './field.ts';
import { formulaEditor } from './formula-field.tsx';
import { paintedEditor } from './painted-field.tsx';
import { matricesEditor, offsetsEditor, snapshotEditor } from './kept-fields.tsx';
import { namesEditor } from './names-field.tsx';
import { objectEditor } from './object-field.tsx';
import { choiceEditor, gradientEditor, numberEditor, responseEditor, toggleEditor } from './plain-fields.tsx';
import { waysEditor } from './ways-lazy.tsx';
import { textEditor } from './text-setting.tsx';

/** How each type of setting is edited; a new type is a file here and a line. */
export const SETTING_EDITORS: { readonly [T in Setting['type']]: SettingEditor<T> } = {
  choice: choiceEditor,
  toggle: toggleEditor,
  number: numberEditor,
  text: textEditor,
  channel: channelEditor,
  snapshot: snapshotEditor,
  matrices: matricesEditor,
  response: responseEditor,
  gradient: gradientEditor,
  names: namesEditor,
  formula: formulaEditor,
  offsets: offsetsEditor,
  painted: paintedEditor,
  object: objectEditor,
  ways: waysEditor,
};

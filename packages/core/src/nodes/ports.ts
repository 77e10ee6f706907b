import type { InputPort, OutputPort, Setting, Settings } from '../graph/definition.ts';
import { ROTATION_ORDERS } from '../maths/rotation.ts';

/** A required geometry input called `mesh`. */
export const MESH_IN: InputPort = { id: 'mesh', label: 'mesh', kind: 'mesh', help: 'The mesh to work on.' };

/** The geometry output called `mesh`. */
export const MESH_OUT: OutputPort = {
  id: 'mesh',
  label: 'mesh',
  kind: 'mesh',
  help: 'The mesh, with points and faces in the same order.',
};

/** The weight every node that moves points takes. */
export const WEIGHT_IN: InputPort = {
  id: 'weight',
  label: 'weight',
  kind: 'number',
  default: 1,
  range: { min: 0, max: 1 },
  help: 'How much of the change each point gets: 0 leaves it, 1 is all of it. A single value or one per point.',
};

export const ROTATION_ORDER: Setting = {
  id: 'order',
  label: 'Order',
  type: 'choice',
  options: ROTATION_ORDERS.map((o) => ({ value: o, label: `${o[0]}, then ${o[1]}, then ${o[2]}` })),
  default: 'xyz',
  help: 'Which turn is applied first, second and third.',
};

/** A setting's value as text. */
export const text = (settings: Settings, id: string): string => String(settings[id] ?? '');
/** A setting's value as a yes or no. */
export const yes = (settings: Settings, id: string): boolean => settings[id] === true;
/** The label of a choice's present option, in lower case, for sentences. */
export function choice(setting: Setting, settings: Settings): string {
  if (setting.type !== 'choice') return '';
  const label = setting.options.find((o) => o.value === settings[setting.id])?.label ?? '';
  return label.toLowerCase();
}

/** Whether a node gives a number per element or a vector of three unrelated ones. */
export const GIVES: Setting = {
  id: 'gives',
  label: 'Gives',
  type: 'choice',
  options: [
    { value: 'number', label: 'A number' },
    { value: 'vector', label: 'A vector' },
  ],
  default: 'number',
  help: 'One number per element, or three unrelated ones.',
};

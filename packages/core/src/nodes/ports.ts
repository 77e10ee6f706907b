import type { InputPort, NodeContext, OutputPort, SentenceContext, Setting, Settings } from '../graph/node/definition.ts';
import { NodeError } from '../graph/node/problems.ts';
import type { Vec3 } from '../maths/vector.ts';
import { ROTATION_ORDERS } from '../maths/rotation.ts';
import { counted, several } from '../words.ts';

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
  kind: 'weight',
  isEffect: true,
  default: 1,
  range: { min: 0, max: 1 },
  help: 'How much of the change each point gets: 0 leaves it, 1 is all of it. A single value, one per point, or a falloff.',
};

export const ROTATION_ORDER: Setting = {
  id: 'order',
  label: 'Order',
  type: 'choice',
  options: ROTATION_ORDERS.map((o) => ({ value: o, label: `${o[0]}, then ${o[1]}, then ${o[2]}` })),
  default: 'xyz',
  help: 'Which turn is applied first, second and third.',
};

/** A number port that takes one value for the whole node, unless `extras` say otherwise. */
export function numberPort(
  id: string,
  label: string,
  unit: string | undefined,
  value: number,
  [min, max]: readonly [number, number],
  help: string,
  extras: Partial<InputPort> = {},
): InputPort {
  return {
    id,
    label,
    kind: 'number',
    unit,
    default: value,
    range: { min, max },
    uniform: true,
    help,
    ...extras,
  };
}

/** A vector input that takes one value for the whole node. */
export const vectorPort = (
  id: string,
  label: string,
  unit: string | undefined,
  value: number,
  [min, max]: readonly [number, number],
  help: string,
): InputPort => ({
  id,
  label,
  kind: 'vector',
  unit,
  default: [value, value, value],
  range: { min, max },
  uniform: true,
  help,
});

/** A single vector at an input; one number stands for all three. */
export function singleVector(context: NodeContext, port: string): Vec3 {
  const v = context.input(port);
  if (v?.form !== 'single') throw new NodeError({ code: 'needs-single', port, count: v?.form === 'column' ? v.count : 0 });
  const { data } = v;
  return data.length === 3 ? [data[0], data[1], data[2]] : [data[0], data[0], data[0]];
}

/** A choice setting; the first option is the default. */
export function choiceSetting(
  id: string,
  label: string,
  options: readonly (readonly [value: string, label: string])[],
  help: string,
  shown?: (settings: Settings) => boolean,
): Setting {
  const all = options.map(([value, words]) => ({ value, label: words }));
  return {
    id,
    label,
    type: 'choice',
    options: all,
    default: options[0][0],
    help,
    ...(shown ? { shown } : {}),
  };
}

export const toggleSetting = (id: string, label: string, value: boolean, help: string): Setting => ({
  id,
  label,
  type: 'toggle',
  default: value,
  help,
});

/** x, y or z as a choice. */
export const axisSetting = (value: 'x' | 'y' | 'z', help: string): Setting => ({
  id: 'axis',
  label: 'Axis',
  type: 'choice',
  options: ['x', 'y', 'z'].map((axis) => ({ value: axis, label: `World ${axis}` })),
  default: value,
  help,
});

/** The number of an axis chosen by letter. */
export const axisOf = (settings: Settings, id = 'axis'): 0 | 1 | 2 =>
  Math.max(0, 'xyz'.indexOf(String(settings[id] ?? 'y'))) as 0 | 1 | 2;

/** Where a search begins. */
export const POSITIONS_IN: InputPort = {
  id: 'positions',
  label: 'positions',
  kind: 'vector',
  unit: 'm',
  help: 'Where to search from: one place or a column.',
};

export const CURVES_IN: InputPort = {
  id: 'curves',
  label: 'curves',
  kind: 'curves',
  help: 'The curves to work on.',
};
export const CURVES_OUT: OutputPort = { id: 'curves', label: 'curves', kind: 'curves', help: 'The curves.' };
export const COPIES_IN: InputPort = {
  id: 'copies',
  label: 'copies',
  kind: 'copies',
  help: 'The copies to work on.',
};
export const COPIES_OUT: OutputPort = { id: 'copies', label: 'copies', kind: 'copies', help: 'The copies.' };
export const FALLOFF_IN: InputPort = {
  id: 'falloff',
  label: 'falloff',
  kind: 'falloff',
  help: 'The falloff to work on.',
};
export const FALLOFF_OUT: OutputPort = {
  id: 'falloff',
  label: 'falloff',
  kind: 'falloff',
  help: 'The falloff: a weight for every place in the world.',
};

/** What stands in an input, for a card's sentence: its number, or … for a wire or an expression. */
export function typedWords(c: SentenceContext, port: string): string {
  const v = c.typed(port);
  return typeof v === 'number' && !c.connected(port) ? String(v) : '…';
}

/** A typed count of a noun, for sentences: 3 points, 1 point, … points. */
export function typedCount(c: SentenceContext, port: string, noun: string): string {
  const v = c.typed(port);
  return typeof v === 'number' && !c.connected(port) ? counted(v, noun) : `… ${several(noun)}`;
}

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

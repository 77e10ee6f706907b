import {
  MODULE_FILE_VERSION,
  MODULE_FORMAT,
  type InputValue,
  type ModuleFile,
  type NodeRecord,
  type Proof,
  type Way,
} from '@umberfish/core';
import { graph, node, type ShortWire } from './records.ts';
import { idOf, PROOFS } from './starter-proofs.ts';
import { SHIPPED } from './starter-use.ts';

/*
 * What the modules that come along are written with: ways in short, and walls round some nodes.
 */

/** A way in short; the id is its name, plain. */
export interface ShortWay {
  readonly name: string;
  readonly kind: Way['kind'];
  readonly default?: InputValue;
  readonly unit?: string;
  readonly range?: readonly [number, number];
  readonly help: string;
  readonly control?: Way['control'];
  readonly start?: Way['start'];
  readonly group?: string;
  readonly sets?: readonly (readonly [string, string])[];
  readonly optional?: boolean;
}

export const way = (w: ShortWay): Way => ({
  id: idOf(w.name),
  name: w.name,
  kind: w.kind,
  unit: w.unit ?? '',
  help: w.help,
  default: w.default ?? null,
  range: w.range ? { min: w.range[0], max: w.range[1], hard: false } : null,
  optional: w.optional ?? false,
  group: w.group ?? '',
  control: w.control ?? (w.kind === 'number' || w.kind === 'integer' || w.kind === 'weight' ? 'slider' : 'wire'),
  shown: null,
  start: w.start ?? 'middle',
  sets: (w.sets ?? []).map(([id, setting]) => ({ node: id, setting })),
});

export const MESH: ShortWay = { name: 'mesh', kind: 'mesh', help: 'What is shaped.' };
export const SHAPED: ShortWay = { name: 'shaped', kind: 'mesh', help: 'The mesh as the module shapes it.' };
export const WEIGHT: ShortWay = {
  name: 'weight',
  kind: 'weight',
  default: 1,
  range: [0, 1],
  help: 'How much of it each point gets: one value, one per point, or a falloff.',
};
export const place = (help: string, start: Way['start'] = 'top'): ShortWay => ({
  name: 'place',
  kind: 'vector',
  unit: 'm',
  default: [0, 0, 0],
  control: 'place',
  start,
  help,
});
export const metres = (name: string, value: number, range: readonly [number, number], help: string): ShortWay => ({
  name,
  kind: 'number',
  unit: 'm',
  default: value,
  range,
  help,
});
export const number = (name: string, value: InputValue, range: readonly [number, number], help: string, unit = ''): ShortWay => ({
  name,
  kind: 'number',
  unit,
  default: value,
  range,
  help,
});
export const SECONDS = number(
  'time',
  { expression: 'seconds' },
  [0, 10],
  'Moves it on; by default the seconds of the project.',
  's',
);

/** What is long is shown on a block; what is carried, too. */
const BLOCKS = 'twist bend taper squash lay wave lean late two four between aim upright limb foot spine neck tail'.split(' ');

/** Wires from `in.NAME` and to `out.NAME` go through the walls. */
export function starter(
  id: string,
  name: string,
  summary: string,
  tags: readonly string[],
  ins: readonly ShortWay[],
  nodes: readonly NodeRecord[],
  wires: readonly (readonly [string, string])[],
  outs: readonly ShortWay[] = [SHAPED],
): ModuleFile {
  const right = Math.max(...nodes.map((n) => n.position[0])) + 200;
  const walls = [
    node('in', 'way-in', [-200, 0], { settings: { ways: { ways: ins.map(way) } } }),
    node('out', 'way-out', [right, 0], { settings: { ways: { ways: outs.map(way) } } }),
  ];
  const end = (text: string) =>
    /^(in|out)\./.test(text) ? text.replace(/^(in|out)\.(.*)$/, (_, w: string, n: string) => `${w}.${idOf(n)}`) : text;
  const inside = graph(
    `inside-${id}`,
    name,
    [walls[0], ...nodes, walls[1]],
    wires.map(([a, b]): ShortWire => [end(a), end(b)]),
  );
  const proofs = (PROOFS[id] ?? []).map((proof) => ({ dials: {}, known: '', ...proof }) as Proof);
  const example = id === 'ripples' || id === 'tide' ? 'sheet' : BLOCKS.includes(id) ? 'block' : 'ball';
  const module: ModuleFile['module'] = {
    id: `starter-${id}`,
    version: SHIPPED,
    edited: false,
    name,
    summary,
    tags,
    example,
    proofs,
    graph: inside,
  };
  return { format: MODULE_FORMAT, version: MODULE_FILE_VERSION, note: 'As shipped.', date: '2026-11-28', module, inside: [] };
}

export const through = (id: string, ins: readonly ShortWay[], ports: Readonly<Record<string, string>> = {}): [string, string][] =>
  ins.filter((w) => !w.sets).map((w) => [`in.${w.name}`, `${id}.${ports[w.name] ?? w.name}`]);

export const axis = (id: string, help: string): ShortWay => ({
  name: 'axis',
  kind: 'setting',
  control: 'choice',
  help,
  sets: [[id, 'axis']],
});
export const responseOf = (id: string, help: string): ShortWay => ({
  name: 'response',
  kind: 'setting',
  control: 'response',
  help,
  sets: [[id, 'response']],
});

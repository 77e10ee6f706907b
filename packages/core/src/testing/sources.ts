import { makeMesh } from '../geometry/mesh.ts';
import { makeBox } from '../geometry/solids.ts';
import type { InputPort, NodeDefinition, PortKind } from '../graph/node/definition.ts';
import { settingsOf } from '../graph/node/typed.ts';
import { Evaluator } from '../graph/evaluate/evaluator.ts';
import { CATALOGUE } from '../nodes/index.ts';
import { type InputValue, type SettingValue } from '../project/fields.ts';
import { makeObject, type ObjectRecord } from '../project/kinds/index.ts';
import type { NodeRecord, Project } from '../project/schema.ts';
import { graph, node, project } from './build.ts';
import { at } from './quay.ts';

/*
 * Things to connect to any node: for each kind of port what is usual, and what nobody would give it.
 */

/** What comes out of a chain of nodes: their records and wires, and the port that gives it. */
export interface Source {
  readonly nodes: readonly NodeRecord[];
  readonly wires: readonly string[];
  readonly from: string;
}

const source = (from: string, nodes: NodeRecord[], wires: string[] = []): Source => ({ nodes, wires, from });
const formula = (id: string, text: string) =>
  node(id, 'formula', {
    settings: { formula: text, outputs: { names: [{ name: 'position', type: 'vector' }] }, inputs: { names: [] }, on: 'point' },
  });
const grid = node('s-grid', 'make-grid', { inputs: { cellsX: 3, cellsZ: 3 } });
const shaped = (text: string) => source('s-f.mesh', [grid, formula('s-f', text)], ['s-grid.mesh > s-f.mesh']);
const locator = (object: string) => source('s-at.matrix', [node('s-at', 'scene-locator', { settings: { object } })]);
const number = (value: InputValue) => source('s-n.number', [node('s-n', 'number', { inputs: { value } })]);
const vector = (value: InputValue) => source('s-v.vector', [node('s-v', 'vector', { inputs: { value } })]);
const object = (id: string) => source('s-m.mesh', [node('s-m', 'scene-mesh', { settings: { object: id } })]);
const chain = (id: string) => source('s-j.chain', [node('s-j', 'scene-chain', { settings: { object: id } })]);
const line = (to: InputValue, points = 3) => source('s-l.curves', [node('s-l', 'make-line', { inputs: { to, points } })]);

const box = source('s-b.mesh', [node('s-b', 'make-box')]);
const MESHES: Record<string, Source> = {
  box,
  open: source('s-grid.mesh', [grid]),
  empty: object('nothing'),
  'a point': object('speck'),
  'all in one place': source('s-b.mesh', [node('s-b', 'make-sphere', { inputs: { radius: 0, rings: 4, segments: 5 } })]),
  flat: source('s-b.mesh', [node('s-b', 'make-box', { inputs: { size: [1, 0, 1] } })]),
  'no numbers': shaped('position = vector(0, 0, 0) / 0'),
  'one no number': shaped('position = position + vector(0, if(index == 3, 0 / 0, 0), 0)'),
  endless: shaped('position = position + vector(if(index == 2, 1 / 0, 0), 0, 0)'),
  huge: shaped('position = position * 1e30'),
};
const copies = (on: Source): Source =>
  source(
    's-c.copies',
    [...on.nodes, ...box.nodes, node('s-c', 'place-copies')],
    [...on.wires, `${on.from} > s-c.points`, 's-b.mesh > s-c.a'],
  );
const NAN: InputValue = { expression: '0 / 0' };
const SOURCES: Partial<Record<PortKind, Record<string, Source>>> = {
  mesh: { ...MESHES, copies: copies(source('s-grid.mesh', [grid])) },
  curves: {
    line: line([1, 0, 0]),
    'no length': line([0, 0, 0]),
    'no numbers': line(NAN),
    'straight up': line([0, 2, 0]),
    'of a point': source('s-l.curves', [...object('speck').nodes, node('s-l', 'curve-from-points')], ['s-m.mesh > s-l.mesh']),
    'of nothing': source('s-l.curves', [...object('nothing').nodes, node('s-l', 'curve-from-points')], ['s-m.mesh > s-l.mesh']),
    ring: source('s-l.curves', [node('s-l', 'make-ring', { inputs: { points: 5 } })]),
  },
  copies: { some: copies(source('s-grid.mesh', [grid])), none: copies(MESHES.empty), nowhere: copies(MESHES['no numbers']) },
  falloff: {
    some: source('s-w.falloff', [node('s-w', 'shape-falloff')]),
    'no number': source('s-w.falloff', [node('s-w', 'flat-falloff', { inputs: { weight: NAN } })]),
    flat: source('s-w.falloff', [...locator('flat').nodes, node('s-w', 'shape-falloff')], ['s-at.matrix > s-w.matrix']),
    'of nothing': source('s-w.falloff', [...MESHES.empty.nodes, node('s-w', 'surface-falloff')], ['s-m.mesh > s-w.target']),
  },
  matrix: { plain: locator('here'), flat: locator('flat'), mirrored: locator('mirrored'), 'no numbers': locator('lost') },
  number: {
    '0': number(0),
    '−1': number(-1),
    'no number': number(NAN),
    huge: number(1e9),
    endless: number({ expression: '1 / 0' }),
  },
  chain: {
    limb: chain('limb'),
    'at one place': chain('heap'),
    'of one joint': chain('stump'),
    none: chain('none'),
    flat: chain('flatLimb'),
    mirrored: chain('mirroredLimb'),
    'no numbers': chain('lostLimb'),
    'straight, of one name': chain('twins'),
  },
  vector: { zero: vector([0, 0, 0]), 'no numbers': vector(NAN), huge: vector([1e20, -1e20, 3]) },
};
const ALIKE: Partial<Record<PortKind, readonly PortKind[]>> = {
  geometry: ['mesh', 'curves', 'copies'],
  weight: ['number', 'falloff'],
  value: ['number', 'vector'],
  integer: ['number'],
  toggle: ['number'],
  vector: ['vector', 'number'],
  place: ['vector', 'matrix'],
};
const kindsOf = (kind: PortKind): readonly PortKind[] => ALIKE[kind] ?? [kind];
export const sourcesFor = (kind: PortKind) =>
  kindsOf(kind).flatMap((k) => Object.entries(SOURCES[k] ?? {}).map(([name, s]) => [`${k} ${name}`, s] as const));

/** Sources renamed, so that several of them can be in one graph. */
function under(prefix: string, s: Source): Source {
  const named = (id: string) => `${prefix}${id}`;
  return {
    nodes: s.nodes.map((n) => ({ ...n, id: named(n.id) })),
    wires: s.wires.map((w) => w.split(' > ').map(named).join(' > ')),
    from: named(s.from),
  };
}

/** A chain whose joints are called A, B and C, each so far from the one before. */
const limb = (
  id: string,
  extras: Partial<ObjectRecord>,
  moves: readonly [number, number, number][],
  nameOf = (i: number) => 'ABC'[i],
): ObjectRecord[] => [
  makeObject(id, `Chain ${id}`, 'chain', extras as object),
  ...moves.map((move, i) =>
    makeObject(`${id}-${i}`, nameOf(i), 'joint', {
      parent: i === 0 ? id : `${id}-${i - 1}`,
      channels: at(move),
      limit: i === 1 ? { kind: 'hinge', axis: 0, from: 5, to: 100 } : null,
    }),
  ),
];

const empty = makeMesh(new Float32Array(0), Int32Array.of(0), new Int32Array(0));
const speck = makeMesh(Float32Array.of(1, 2, 3), Int32Array.of(0), new Int32Array(0));
const NOWHERE = at([0, 0, 0]);
const OBJECTS = [
  makeObject('nothing', 'Nothing', 'mesh', { mesh: 'empty' }),
  makeObject('speck', 'Speck', 'mesh', { mesh: 'speck' }),
  makeObject('flat', 'Flat', 'locator', { channels: at([1, 0, 0], [0, 0, 0], [1, 0, 1]) }),
  makeObject('mirrored', 'Mirrored', 'locator', { channels: at([1, 0, 0], [10, 20, 30], [-1, 1, 2]) }),
  makeObject('lost', 'Lost', 'locator', { channels: { ...NOWHERE, translate: [NaN, 0, 0] } }),
  makeObject('crew', 'Crew', 'group'),
  makeObject('hand', 'Hand', 'prop', { parent: 'crew' }),
  makeObject('blank', 'Blank', 'curve'),
  ...limb('limb', {}, [
    [0, 2, 0],
    [0, -1, 0.2],
    [0, -1, -0.1],
  ]),
  ...limb('heap', {}, [
    [0, 0, 0],
    [0, 0, 0],
    [0, 0, 0],
  ]),
  ...limb('stump', {}, [[0, 1, 0]]),
  ...limb('none', {}, []),
  ...limb('flatLimb', { channels: at([0, 0, 0], [0, 0, 0], [1, 0, 1]) }, [
    [0, 2, 0],
    [0, -1, 0.2],
    [0, -1, 0],
  ]),
  ...limb('mirroredLimb', { channels: at([0, 1, 0], [5, 0, 0], [-1, 2, 1]) }, [
    [0, 2, 0],
    [0, -1, 0.2],
    [0, -1, 0],
  ]),
  ...limb('lostLimb', {}, [
    [0, 2, 0],
    [0, NaN, 0.2],
    [0, -1, 0],
  ]),
  ...limb(
    'twins',
    {},
    [
      [0, 2, 0],
      [0, -1, 0],
      [0, -1, 0],
    ],
    () => 'Joint',
  ),
];
const OBJECT_FOR: Record<string, readonly string[]> = {
  mesh: ['fish', 'nothing'],
  curve: ['blank'],
  group: ['crew'],
  locator: ['here', 'flat', 'lost'],
  chain: ['limb', 'heap', 'none', 'flatLimb', 'mirroredLimb', 'lostLimb', 'twins'],
  any: ['hand'],
};

/** Joints that settings name. */
const JOINT_FOR: Record<string, string> = {
  tip: 'C',
  to: 'C',
  joint: 'B',
  foot: 'B',
  contacts: 'B, C',
  joint1: 'C',
  joint2: 'B',
};

/** What is usually connected to the inputs that cannot do without, by port. */
export function usualSources(type: NodeDefinition, settings: Record<string, SettingValue>): Map<string, Source> {
  const ports = type.inputs(settingsOf(type, node('it', type.id, { settings })));
  const usual = (port: InputPort) => (port.default === undefined ? sourcesFor(port.kind)[0]?.[1] : undefined);
  return new Map(ports.flatMap((p) => [[p.id, usual(p)] as const]).filter((e): e is [string, Source] => e[1] !== undefined));
}

/** Settings to try: the defaults, and each other option of each choice and switch. */
export function variants(type: NodeDefinition): Record<string, SettingValue>[] {
  const base: Record<string, SettingValue> = {};
  for (const s of type.settings) {
    if (s.type === 'object') base[s.id] = OBJECT_FOR[s.takes][0];
    if (s.type === 'text' && s.id === 'name') base[s.id] = 'something';
    if (s.type === 'text' && s.jointOf && s.id !== 'locked') base[s.id] = JOINT_FOR[s.id] ?? '';
  }
  const others = type.settings.flatMap((s): Record<string, SettingValue>[] => {
    if (s.type === 'choice') return s.options.filter((o) => o.value !== s.default).map((o) => ({ ...base, [s.id]: o.value }));
    if (s.type === 'toggle') return [{ ...base, [s.id]: !s.default }];
    return s.type === 'object' ? OBJECT_FOR[s.takes].slice(1).map((id) => ({ ...base, [s.id]: id })) : [];
  });
  return [base, ...others];
}

/** A project with a node called `it` of a type, and what is connected to it. */
export function projectAround(
  type: NodeDefinition,
  settings: Record<string, SettingValue>,
  wired: ReadonlyMap<string, Source>,
): Project {
  const all = [...wired].map(([port, s], i) => [port, under(`p${i}-`, s)] as const);
  const record = node('it', type.id, { settings, version: type.version });
  const nodes = [...all.flatMap(([, s]) => s.nodes), record];
  const wires = all.flatMap(([port, s]) => [...s.wires, `${s.from} > it.${port}`]);
  return project([graph(nodes, wires)], [0, 0, 0], OBJECTS);
}

/** An evaluator that knows the meshes of such a project. */
export function evaluatorAround(): Evaluator {
  const evaluator = new Evaluator(CATALOGUE, { arrays: { spoils: true } });
  evaluator.setAsset('mesh', makeBox([1, 1, 1], [2, 2, 2]));
  evaluator.setAsset('empty', empty);
  evaluator.setAsset('speck', speck);
  return evaluator;
}

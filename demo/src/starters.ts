import {
  MODULE_FILE_VERSION,
  MODULE_FORMAT,
  RESPONSE_PRESETS,
  type InputValue,
  type ModuleFile,
  type NodeRecord,
  type Proof,
  type Way,
} from '@umberfish/core';
import { graph, node, type ShortWire } from './records.ts';

/** A way in short; the id is its name, plain. */
interface ShortWay {
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

const idOf = (name: string): string => `way-${name.replaceAll(' ', '-')}`;

const way = (w: ShortWay): Way => ({
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

const MESH: ShortWay = { name: 'mesh', kind: 'mesh', help: 'What is shaped.' };
const SHAPED: ShortWay = { name: 'shaped', kind: 'mesh', help: 'The mesh as the module shapes it.' };
const WEIGHT: ShortWay = {
  name: 'weight',
  kind: 'weight',
  default: 1,
  range: [0, 1],
  help: 'How much of it each point gets: one value, one per point, or a falloff.',
};
const place = (help: string, start: Way['start'] = 'top'): ShortWay => ({
  name: 'place',
  kind: 'vector',
  unit: 'm',
  default: [0, 0, 0],
  control: 'place',
  start,
  help,
});
const metres = (name: string, value: number, range: readonly [number, number], help: string): ShortWay => ({
  name,
  kind: 'number',
  unit: 'm',
  default: value,
  range,
  help,
});
const number = (name: string, value: InputValue, range: readonly [number, number], help: string, unit = ''): ShortWay => ({
  name,
  kind: 'number',
  unit,
  default: value,
  range,
  help,
});
const SECONDS = number('time', { expression: 'seconds' }, [0, 10], 'Moves it on; by default the seconds of the project.', 's');

/** Wires from `in.NAME` and to `out.NAME` go through the walls. */
function starter(
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
  const example =
    id === 'ripples' || id === 'tide' ? 'sheet' : ['twist', 'bend', 'taper', 'squash'].includes(id) ? 'block' : 'ball';
  const module: ModuleFile['module'] = {
    id: `starter-${id}`,
    version: 1000,
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

type ShortProof = Partial<Proof> & Pick<Proof, 'kind'>;

/** What keeps a deformer honest: nothing lost, and nothing moved at the dial that means nothing. */
const honest = (dial: string, nothing: number, cost: number): ShortProof[] => [
  { kind: 'finite' },
  { kind: 'same-order' },
  { kind: 'keeps-rest', dials: { [idOf(dial)]: nothing }, within: 1e-6 },
  { kind: 'keeps-rest', dials: { [idOf('weight')]: 0 }, within: 1e-6 },
  { kind: 'cost', most: cost },
];
const noPop = (dial: string, from: number, to: number): ShortProof => ({ kind: 'no-pop', dial: idOf(dial), from, to });
const overFrames: ShortProof = { kind: 'no-pop', dial: null, from: 1, to: 25 };

/** What each module promises. */
const PROOFS: Readonly<Record<string, readonly ShortProof[]>> = {
  swell: [...honest('height', 0, 120), noPop('height', -0.5, 0.5), noPop('radius', 0.2, 2), { kind: 'stays-closed' }],
  dent: [...honest('depth', 0, 120), noPop('depth', 0, 0.5), { kind: 'stays-closed' }],
  twist: [...honest('angle', 0, 60), noPop('angle', -180, 180), { kind: 'stretch', least: 0.5, most: 3 }],
  bend: [...honest('angle', 0, 60), noPop('angle', -90, 90)],
  taper: [
    { kind: 'finite' },
    { kind: 'same-order' },
    { kind: 'keeps-rest', dials: { [idOf('end')]: 1 }, within: 1e-6 },
    noPop('end', 0.1, 2),
    { kind: 'cost', most: 60 },
  ],
  squash: [...honest('stretch', 1, 60), noPop('stretch', 0.5, 2), { kind: 'volume', within: 1e-4 }, { kind: 'stays-closed' }],
  ripples: [...honest('height', 0, 120), noPop('height', -0.2, 0.2), overFrames],
  tide: [...honest('amount', 0, 400), overFrames],
  shingles: [{ kind: 'finite' }, overFrames],
  calm: [{ kind: 'finite' }, { kind: 'same-order' }, { kind: 'stays-closed' }, { kind: 'cost', most: 200 }],
};

const through = (id: string, ins: readonly ShortWay[], ports: Readonly<Record<string, string>> = {}): [string, string][] =>
  ins.filter((w) => !w.sets).map((w) => [`in.${w.name}`, `${id}.${ports[w.name] ?? w.name}`]);

const axis = (id: string, help: string): ShortWay => ({
  name: 'axis',
  kind: 'setting',
  control: 'choice',
  help,
  sets: [[id, 'axis']],
});
const responseOf = (id: string, help: string): ShortWay => ({
  name: 'response',
  kind: 'setting',
  control: 'response',
  help,
  sets: [[id, 'response']],
});

/** The modules that come with the application, their lids open: made from nodes like any other. */
export function makeStarters(): ModuleFile[] {
  const swellIns = [
    MESH,
    place('Where it swells.'),
    metres('radius', 0.6, [0.05, 3], 'How far from the place it reaches.'),
    metres('height', 0.2, [-1, 1], 'How far points go out along their normals at the place.'),
    WEIGHT,
    responseOf('by-distance', 'From the place to the radius.'),
  ];
  const dentIns = [
    MESH,
    place('Where it is dented.'),
    metres('radius', 0.5, [0.05, 3], 'Where the dent ends.'),
    metres('depth', 0.15, [0, 1], 'How deep it is in the middle.'),
    WEIGHT,
    responseOf('bump', 'From the middle to the rim.'),
  ];
  const bounded = [
    number('from', 0, [0, 1], 'Fraction of the height where it begins.'),
    number('to', 1, [0, 1], 'Fraction where it ends; beyond, it is carried along.'),
  ];
  const twistIns = [
    MESH,
    number('angle', 90, [-720, 720], 'How far the end is turned.', '°'),
    ...bounded,
    WEIGHT,
    axis('twist', 'The direction that is twisted about.'),
  ];
  const bendIns = [
    MESH,
    number('angle', 60, [-360, 360], 'How far the end is bent.', '°'),
    ...bounded,
    WEIGHT,
    axis('bend', 'The direction that is bent.'),
  ];
  const taperIns = [
    MESH,
    number('start', 1, [0, 3], 'Thickness where it begins.', '×'),
    number('end', 0.5, [0, 3], 'Thickness where it ends.', '×'),
    WEIGHT,
    axis('taper', 'The direction along which it gets thinner.'),
    responseOf('taper', 'From one end to the other.'),
  ];
  const rippleIns = [
    MESH,
    place('Where the ripples come from.'),
    metres('height', 0.05, [-0.5, 0.5], 'Of the waves at the place.'),
    metres('wavelength', 0.4, [0.05, 3], 'From crest to crest.'),
    number('speed', 0.5, [-3, 3], 'How fast they go out.', 'm/s'),
    metres('reach', 2, [0.1, 10], 'Where they have died out.'),
    SECONDS,
    WEIGHT,
  ];
  const noiseIns = [
    MESH,
    metres('amount', 0.05, [-0.5, 0.5], 'How far points go at most.'),
    number('frequency', 1.5, [0, 10], 'How fine it is.', '/m'),
    number('speed', 0.5, [0, 4], 'How fast it changes.', '/s'),
    WEIGHT,
  ];
  const shingleIns = [
    MESH,
    {
      name: 'here',
      kind: 'setting',
      control: 'place',
      start: 'top',
      help: 'Where faces come loose: a locator.',
      sets: [['round', 'object']],
    } as ShortWay,
    metres('inner', 0.2, [0, 3], 'Within this, faces are wholly loose.'),
    metres('outer', 0.8, [0, 5], 'Beyond this, none is.'),
    metres('drift', 0.2, [0, 2], 'How far loose faces go out.'),
    number('spin', 120, [0, 720], 'How far they turn at most.', '°'),
    SECONDS,
  ];
  const calmIns = [
    MESH,
    {
      name: 'here',
      kind: 'setting',
      control: 'place',
      start: 'top',
      help: 'Where it is evened out: a locator.',
      sets: [['round', 'object']],
    } as ShortWay,
    metres('inner', 0.3, [0, 3], 'Within this, wholly.'),
    metres('outer', 1, [0, 5], 'Beyond this, not at all.'),
    { name: 'rounds', kind: 'integer', default: 6, range: [0, 50], help: 'How often it is evened out.' } as ShortWay,
  ];
  const squashIns = [MESH, number('stretch', 1.3, [0.2, 3], 'Height against what it was; its volume stays.', '×'), WEIGHT];
  const ropeIns = [
    {
      name: 'path',
      kind: 'setting',
      control: 'object',
      help: 'The curve it is swept along.',
      sets: [['path', 'object']],
    } as ShortWay,
    metres('radius', 0.04, [0.005, 0.5], 'Of the rope.'),
    { name: 'sides', kind: 'integer', default: 6, range: [3, 32], help: 'Faces round each strand.' } as ShortWay,
    { name: 'strands', kind: 'integer', default: 3, range: [1, 8], help: 'Twisted about each other.' } as ShortWay,
    number('turns', 8, [-40, 40], 'How often they go round each other from end to end.'),
  ];
  const layIns = [
    MESH,
    {
      name: 'path',
      kind: 'setting',
      control: 'object',
      help: 'The curve it is laid along; remember its rest to apply only the change.',
      sets: [['path', 'object']],
    } as ShortWay,
    number('start', 0, [-1, 1], 'Where on the curve it begins.'),
    number('roll', 0, [-360, 360], 'Turned about the curve.', '°'),
    WEIGHT,
    axis('lay', 'The direction of the mesh that follows the curve.'),
  ];
  const stickIns = [
    MESH,
    { name: 'driver', kind: 'mesh', help: 'The mesh that carries it, as it is now.' } as ShortWay,
    { name: 'driver at rest', kind: 'mesh', help: 'The same mesh before it was shaped.' } as ShortWay,
    { name: 'faces', kind: 'integer', default: 4, range: [1, 16], help: 'How many nearest faces carry each point.' } as ShortWay,
    WEIGHT,
  ];
  return [
    starter(
      'swell',
      'Swell',
      'Swells a mesh out along its normals near a place.',
      ['place', 'puff', 'bulge'],
      swellIns,
      [
        node('values', 'point-values', [0, 0]),
        node('distance', 'measure', [0, 170], { title: 'Distance' }),
        node('ratio', 'arithmetic', [196, 170], { title: 'By radius', settings: { operation: 'divide' } }),
        node('by-distance', 'response', [392, 170], { settings: { response: RESPONSE_PRESETS['Ease down'] } }),
        node('out-by', 'arithmetic', [588, 90], { title: 'Along normals', settings: { operation: 'multiply', operands: '3' } }),
        node('move', 'move-points', [784, 0]),
      ],
      [
        ['in.mesh', 'values.mesh'],
        ['values.positions', 'distance.a'],
        ['in.place', 'distance.b'],
        ['distance.result', 'ratio.a'],
        ['in.radius', 'ratio.b'],
        ['ratio.result', 'by-distance.value'],
        ['values.normals', 'out-by.a'],
        ['by-distance.result', 'out-by.b'],
        ['in.height', 'out-by.c'],
        ['in.mesh', 'move.mesh'],
        ['out-by.result', 'move.offset'],
        ['in.weight', 'move.weight'],
        ['move.mesh', 'out.shaped'],
      ],
    ),
    starter(
      'dent',
      'Dent',
      'Presses a round dent into a mesh at a place.',
      ['place', 'press', 'hollow'],
      dentIns,
      [
        node('inwards', 'arithmetic', [0, 120], { title: 'Inwards', settings: { operation: 'negate' } }),
        node('bump', 'bulge', [240, 0], { settings: { response: RESPONSE_PRESETS['Ease down'] } }),
      ],
      [
        ['in.mesh', 'bump.mesh'],
        ['in.place', 'bump.centre'],
        ['in.radius', 'bump.radius'],
        ['in.depth', 'inwards.a'],
        ['inwards.result', 'bump.height'],
        ['in.weight', 'bump.weight'],
        ['bump.mesh', 'out.shaped'],
      ],
    ),
    starter(
      'twist',
      'Twist',
      'Wrings a mesh about an axis, between two heights.',
      ['wring', 'spiral'],
      twistIns,
      [node('twist', 'twist', [0, 0], { settings: { axis: 'y' } })],
      [...through('twist', twistIns), ['twist.mesh', 'out.shaped']],
    ),
    starter(
      'bend',
      'Bend',
      'Bends a mesh along an axis, between two heights.',
      ['curl', 'arc'],
      bendIns,
      [node('bend', 'bend', [0, 0], { settings: { axis: 'y' } })],
      [...through('bend', bendIns), ['bend.mesh', 'out.shaped']],
    ),
    starter(
      'taper',
      'Taper',
      'Makes one end thinner or thicker than the other.',
      ['thin', 'cone'],
      taperIns,
      [node('taper', 'taper', [0, 0], { settings: { axis: 'y', response: RESPONSE_PRESETS.Straight } })],
      [...through('taper', taperIns), ['taper.mesh', 'out.shaped']],
    ),
    starter(
      'squash',
      'Squash And Stretch',
      'Makes a mesh taller or flatter from its base, and keeps its volume.',
      ['volume', 'bounce'],
      squashIns,
      [
        node('thinner', 'arithmetic', [0, 120], { title: 'Thinner', settings: { operation: 'power' }, inputs: { b: -0.5 } }),
        node('size', 'build-vector', [240, 120]),
        node('stretch', 'transform', [480, 0], { settings: { pivot: 'base' } }),
      ],
      [
        ['in.stretch', 'thinner.a'],
        ['thinner.result', 'size.x'],
        ['in.stretch', 'size.y'],
        ['thinner.result', 'size.z'],
        ['in.mesh', 'stretch.mesh'],
        ['size.vector', 'stretch.scale'],
        ['in.weight', 'stretch.weight'],
        ['stretch.mesh', 'out.shaped'],
      ],
    ),
    starter(
      'ripples',
      'Ripples',
      'Sends rings of waves out from a place.',
      ['water', 'waves', 'rings'],
      rippleIns,
      [node('waves', 'ring-waves', [0, 0])],
      [...through('waves', rippleIns, { place: 'centre' }), ['waves.mesh', 'out.shaped']],
    ),
    starter(
      'tide',
      'Tidal Noise',
      'Lets a mesh breathe by noise that drifts in time; bumps stay where the points were at rest.',
      ['noise', 'water', 'breathe'],
      noiseIns,
      [
        node('clock', 'number', [0, 160], { title: 'Seconds', inputs: { value: { expression: 'seconds' } } }),
        node('drift', 'arithmetic', [240, 160], { title: 'Drift', settings: { operation: 'multiply' } }),
        node('bumps', 'swell-by-noise', [480, 0]),
      ],
      [
        ['in.mesh', 'bumps.mesh'],
        ['in.amount', 'bumps.amount'],
        ['in.frequency', 'bumps.frequency'],
        ['clock.number', 'drift.a'],
        ['in.speed', 'drift.b'],
        ['drift.result', 'bumps.time'],
        ['in.weight', 'bumps.weight'],
        ['bumps.mesh', 'out.shaped'],
      ],
    ),
    starter(
      'shingles',
      'Shingles',
      'Loosens the faces of a mesh near a locator: they drift off and spin.',
      ['moult', 'scales', 'flake'],
      shingleIns,
      [node('round', 'shape-falloff', [0, 160]), node('loose', 'loosen-faces', [240, 0])],
      [
        ['in.mesh', 'loose.mesh'],
        ['in.inner', 'round.inner'],
        ['in.outer', 'round.outer'],
        ['round.falloff', 'loose.weight'],
        ['in.drift', 'loose.drift'],
        ['in.spin', 'loose.spin'],
        ['in.time', 'loose.time'],
        ['loose.mesh', 'out.shaped'],
      ],
    ),
    starter(
      'calm',
      'Even Out Here',
      'Evens a mesh out near a locator, and nowhere else.',
      ['smooth', 'relax'],
      calmIns,
      [node('round', 'shape-falloff', [0, 160]), node('even', 'smooth', [240, 0])],
      [
        ['in.mesh', 'even.mesh'],
        ['in.inner', 'round.inner'],
        ['in.outer', 'round.outer'],
        ['in.rounds', 'even.rounds'],
        ['round.falloff', 'even.weight'],
        ['even.mesh', 'out.shaped'],
      ],
    ),
    starter(
      'rope',
      'Rope',
      'Sweeps a rope of strands along a curve.',
      ['cable', 'tube', 'line'],
      ropeIns,
      [node('path', 'scene-curve', [0, 0]), node('rope', 'sweep-profile', [240, 0])],
      [['path.curves', 'rope.curves'], ...through('rope', ropeIns), ['rope.mesh', 'out.shaped']],
      [{ ...SHAPED, name: 'shaped', help: 'The rope.' }],
    ),
    starter(
      'lay',
      'Lay Along',
      'Lays a mesh along a curve, from where the curve was at rest.',
      ['swim', 'spine', 'curve'],
      layIns,
      [node('path', 'scene-curve', [0, 200]), node('lay', 'lay-along-curve', [240, 0])],
      [
        ['in.mesh', 'lay.mesh'],
        ['path.curves', 'lay.curves'],
        ['path.restCurves', 'lay.rest'],
        ['in.start', 'lay.start'],
        ['in.roll', 'lay.rollStart'],
        ['in.roll', 'lay.rollEnd'],
        ['in.weight', 'lay.weight'],
        ['lay.mesh', 'out.shaped'],
      ],
    ),
    starter(
      'stick',
      'Stick To Surface',
      'Lets a mesh be carried by another that is shaped.',
      ['barnacle', 'follow', 'attach'],
      stickIns,
      [node('bind', 'surface-bind', [0, 0])],
      [...through('bind', stickIns, { 'driver at rest': 'rest' }), ['bind.mesh', 'out.shaped']],
    ),
  ];
}

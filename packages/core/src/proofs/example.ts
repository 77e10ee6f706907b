import { makeGrid, makeSphere } from '../geometry/primitives.ts';
import { makeBox } from '../geometry/solids.ts';
import { subdivide } from '../geometry/subdivide.ts';
import type { Mesh } from '../geometry/mesh.ts';
import { Evaluator } from '../graph/evaluate/evaluator.ts';
import { moduleFile, type ModuleFile } from '../modules/file.ts';
import { wallsOf } from '../modules/walls.ts';
import { memoize } from '../memo.ts';
import { sceneChainNode } from '../nodes/bring-in/scene-chain.ts';
import { bindSkinNode } from '../nodes/chains/bind-skin.ts';
import { sceneMesh } from '../nodes/bring-in/scene-mesh.ts';
import { ringWaves } from '../nodes/deformers/ring-waves.ts';
import { CATALOGUE } from '../nodes/index.ts';
import { controlPoint } from '../curves/edit-record.ts';
import { type CurveRecord, type Way } from '../project/fields.ts';
import { makeObject, type ObjectRecord, type ObjectTakes } from '../project/kinds/index.ts';
import { REST_CHANNELS } from '../project/rest-channels.ts';
import { makeProject, type GraphRecord, type ModuleRecord, type NodeRecord, type Project } from '../project/schema.ts';
import type { Vec3 } from '../maths/vector.ts';
import { objectsAt } from '../scene/channels.ts';
import { worldMatrix } from '../scene/world.ts';
import type { ConstrainServices } from '../edits/constrain.ts';
import { inGraph, newId, nodeOf } from '../edits/document.ts';
import { takeIn } from '../edits/module-versions.ts';
import { driversAskedBy, isConstraintModule, putConstraintOn, type PutOn } from '../edits/put-constraint-on.ts';
import { meshWays, namedBy, putOn, wrongToPutOn } from '../edits/put-on.ts';
import { chainWays } from '../edits/put-on-chain.ts';
import { skinGraph } from '../edits/skin-graph.ts';
import { takeSnapshot } from '../edits/take-snapshot.ts';

const made = memoize((_: typeof SHAPES): Record<ModuleRecord['example'], Mesh> => ({
  ball: makeSphere(1, 48, 64),
  block: subdivide(makeBox([1, 2, 1], [6, 12, 6]), 1),
  sheet: makeGrid([4, 4], [64, 64]),
}));
const SHAPES = {};

/** What the proofs of a module are tried on: a ball of radius 1 m, a block of 1 × 2 × 1 m, a sheet of 4 × 4 m. */
export const exampleMesh = (example: ModuleRecord['example']): Mesh => made(SHAPES)[example];

/** The same with a hundred thousand points, for what depends on their number. */
export const fineMesh = (example: ModuleRecord['example']): Mesh =>
  example === 'sheet'
    ? makeGrid([4, 4], [316, 316])
    : example === 'ball'
      ? makeSphere(1, 250, 400)
      : subdivide(makeBox([1, 2, 1], [45, 90, 45]), 1);

/** The object that a module is put on, and its mesh. */
export const BODY = 'example';
const WATER = 'example-sheet';

/** A small scene in which a module was put on its example: what its ways ask for stands there too, and moves. */
export interface Example {
  readonly project: Project;
  readonly assets: ReadonlyMap<string, Mesh>;
  /** The graph and the use in it. */
  readonly graph: string;
  readonly use: string;
  readonly example: ModuleRecord['example'];
  /** Whether it moves the body as it is, instead of giving another mesh. */
  readonly carries: boolean;
  /** A dial that is a number, and its default. */
  readonly dial: { readonly way: string; readonly value: number } | undefined;
}

/** The example of a module; or, in a sentence, why it has none. */
export async function exampleOf(file: ModuleFile): Promise<Example | string> {
  const { example } = file.module;
  const assets = new Map([
    [BODY, exampleMesh(example)],
    [WATER, exampleMesh('sheet')],
  ]);
  const empty: Project = { ...makeProject(BODY, 'Example'), range: { first: 1, last: 48 } };
  const start: Project = {
    ...empty,
    assets: [...assets].map(([id, { topology }]) => ({
      id,
      name: id === BODY ? 'Example' : 'Water',
      points: topology.pointCount,
      faces: topology.faceCount,
      origin: '',
    })),
  };
  const { project, module } = takeIn(start, file);
  const carries = isConstraintModule(CATALOGUE, module);
  const poses = chainWays(CATALOGUE, module) !== undefined;
  const put = carries ? await carried(project, module, assets) : poses ? posed(project, module) : shaped(project, module);
  if (typeof put === 'string') return put;
  const numbers = wallsOf(CATALOGUE, module.graph).ins.flatMap((w) =>
    w.kind === 'number' && typeof w.default === 'number' ? [{ way: w.id, value: w.default }] : [],
  );
  return { project: put.project, assets, graph: put.graph, use: put.use, example, carries, dial: numbers.at(0) };
}

/** The body, carried by the module after locators that go round. */
async function carried(project: Project, module: ModuleRecord, assets: ReadonlyMap<string, Mesh>): Promise<PutOn | string> {
  const channels = { ...REST_CHANNELS, translate: [0.4, 0, 0.3] as const, rotate: [0, 20, 0] as const };
  const body = makeObject(BODY, 'Example', 'mesh', { mesh: BODY, channels });
  const drivers = driversAskedBy(CATALOGUE, module).map((takes, i) => companion(takes, i));
  const scene = { ...project, objects: [body, ...drivers] };
  const wrong = wrongToPutOn(CATALOGUE, scene, module, scene.objects);
  if (wrong) return wrong;
  const evaluator = new Evaluator(CATALOGUE);
  for (const [id, mesh] of assets) evaluator.setAsset(id, mesh);
  const objects = objectsAt(scene, 1);
  const pose = {
    project: scene,
    frame: 1,
    objects,
    driven: () => undefined,
    world: (id: string) => worldMatrix(objects, id),
  };
  const services: Pick<ConstrainServices, 'snapshot'> = { snapshot: (...of) => Promise.resolve(takeSnapshot(evaluator, ...of)) };
  return putConstraintOn(CATALOGUE, pose, module, scene.objects, services, () => exampleMesh(module.example));
}

/** The body as the module shapes it, or what it makes from a curve. */
function shaped(project: Project, module: ModuleRecord): PutOn | string {
  const meshes = meshWays(CATALOGUE, module);
  const body = meshes.length > 0 ? [makeObject(BODY, 'Example', 'mesh', { mesh: BODY })] : [];
  const others = namedBy(CATALOGUE, module).flatMap(({ takes }, i) => (takes === 'curve' ? [companion(takes, i)] : []));
  const picked = [...body, ...others];
  const scene = { ...project, objects: picked };
  const wrong = wrongToPutOn(CATALOGUE, scene, module, picked);
  if (wrong) return wrong;
  const put = putOn(CATALOGUE, scene, module, picked, () => exampleMesh(module.example));
  const moving = put.locators.map((l) => l.id);
  const objects = put.project.objects.map((o) => (moving.includes(o.id) ? wandering(o) : o));
  const there = { ...put, project: { ...put.project, objects } };
  const more = meshes.slice(1).filter((w) => !w.optional);
  return more.length > 0 ? { ...there, project: withWater(there, more) } : there;
}

/** The body as a skin on joints that the module poses, from its top down: a hip, a knee that stands out, an ankle. */
function posed(project: Project, module: ModuleRecord): PutOn | string {
  const swing = (amount: number) => ({ 'rotate.x': { expression: `${amount} * sin((frame - 1) / 7)` } });
  const chain = makeObject('example-chain', 'Example', 'chain', { channels: at(0, 0.95, 0) });
  const joints = JOINTS.map(([name, ...place], i) =>
    makeObject(`joint-${i}`, name, 'joint', {
      ...{ parent: i === 0 ? chain.id : `joint-${i - 1}`, channels: at(...place), rest: at(...place) },
      ...(i === 0 && { animated: swing(12) }),
    }),
  );
  const body = makeObject(BODY, 'Example skin', 'mesh', { mesh: BODY });
  const needed = wallsOf(CATALOGUE, module.graph).ins.filter((w) => !w.optional);
  const ground = needed.some((w) => w.kind === 'mesh')
    ? [makeObject(WATER, 'Ground', 'mesh', { mesh: WATER, channels: at(0, -0.97, 0) })]
    : [];
  const curves = needed.some((w) => w.kind === 'curves')
    ? [makeObject('companion-0', 'Example 1', 'curve', { curve: { splines: [BESIDE] }, restCurve: { splines: [BESIDE] } })]
    : [];
  const scene: Project = { ...project, objects: [body, chain, ...joints, ...ground, ...curves] };
  const picked = [chain, ...ground, ...curves];
  const wrong = wrongToPutOn(CATALOGUE, scene, module, picked);
  if (wrong) return wrong;
  const put = putOn(CATALOGUE, scene, module, picked, () => undefined);
  const moving = put.locators.map((l) => l.id);
  const objects = put.project.objects.map((o) => (moving.includes(o.id) ? wandering(o) : o));
  return { ...put, project: { ...put.project, objects, graphs: [...put.project.graphs, skinOf(body, chain)] } };
}

/** The joints of an example: each under the one before, and where it is from there. */
const JOINTS: readonly (readonly [string, number, number, number])[] = [
  ['Hip', 0, 0, 0],
  ['Knee', 0, -0.9, 0.12],
  ['Ankle', 0, -0.9, -0.12],
  ['Toe', 0, -0.08, 0.3],
];
const at = (x: number, y: number, z: number) => ({ ...REST_CHANNELS, translate: [x, y, z] as const });

/** A curve from the top of the body down, that bends to a side. */
const BESIDE: CurveRecord['splines'][number] = {
  type: 'b-spline',
  closed: false,
  points: [0.95, 0.4, -0.2, -0.9, -1.6].map((y) => controlPoint([0.3 * (y - 0.95) * (y - 0.95), y, 0])),
};

/** The graph that binds the body to the joints at rest, and moves it with them. */
function skinOf(body: ObjectRecord, chain: ObjectRecord): GraphRecord {
  const graph = skinGraph(body, chain);
  const [source] = graph.nodes;
  const unbound = graph.wires.filter((w) => w.from.node === source.id);
  const rest = nodeOf(sceneChainNode, [0, 300], { object: chain.id, pose: 'rest' });
  const bind = nodeOf(bindSkinNode, [115, 150]);
  const wire = (from: NodeRecord, port: string, to: GraphRecord['wires'][number]['to']) => ({
    ...{ id: newId('wire'), from: { node: from.id, port }, to, pins: [] },
  });
  return {
    ...graph,
    nodes: [...graph.nodes, rest, bind],
    wires: [
      ...graph.wires.filter((w) => !unbound.includes(w)),
      wire(source, 'mesh', { node: bind.id, port: 'mesh' }),
      wire(rest, 'chain', { node: bind.id, port: 'chain' }),
      ...unbound.map((w) => wire(bind, 'mesh', w.to)),
    ],
  };
}

/** Ways that take further meshes get a sheet: the first in waves, any other as it was before. */
function withWater({ project, graph, use }: PutOn, ways: readonly Way[]): Project {
  const water = makeObject(WATER, 'Water', 'mesh', { mesh: WATER });
  const source = nodeOf(sceneMesh, [-400, 300], { object: WATER });
  const waves: NodeRecord = {
    ...nodeOf(ringWaves, [-200, 300]),
    inputs: { height: 0.3, wavelength: 2, reach: 6, time: { expression: 'seconds' } },
  };
  const wire = (node: NodeRecord, to: GraphRecord['wires'][number]['to']) => ({
    id: newId('wire'),
    from: { node: node.id, port: 'mesh' },
    to,
    pins: [],
  });
  return inGraph({ ...project, objects: [...project.objects, water] }, graph, (g) => ({
    ...g,
    nodes: [...g.nodes, source, waves],
    wires: [
      ...g.wires,
      wire(source, { node: waves.id, port: 'mesh' }),
      ...ways.map((w, i) => wire(i === 0 ? waves : source, { node: use, port: w.id })),
    ],
  }));
}

/** Something beside the body that a way asks for: a curve that was straight and is bent, or a locator that goes round. */
function companion(takes: ObjectTakes, index: number): ObjectRecord {
  const name = `Example ${index + 1}`;
  const id = `companion-${index}`;
  if (takes === 'curve') return makeObject(id, name, 'curve', { curve: along(0.7), restCurve: along(0) });
  if (takes === 'mesh') return makeObject(id, name, 'mesh', { mesh: WATER, channels: REST_CHANNELS });
  const angle = (index * 2 * Math.PI) / 3;
  const places: Vec3 = [1.6 * Math.cos(angle), 0.8 + 0.2 * index, 1.6 * Math.sin(angle)];
  return makeObject(id, name, 'locator', {
    channels: { ...REST_CHANNELS, translate: places },
    animated: {
      'translate.x': { expression: `${places[0]} + 0.5 * sin(3 * (frame - 1) / 24)` },
      'translate.y': { expression: `${places[1]} + 0.3 * sin(2 * (frame - 1) / 24)` },
      'rotate.z': { expression: `30 * sin(4 * (frame - 1) / 24)` },
    },
  });
}

/** A place that a module asked for, which goes round from where it was put: over frames, nothing may jump. */
function wandering(o: ObjectRecord): ObjectRecord {
  const [x, y, z] = o.channels.translate;
  const round = (frames: number) => `(frame - 1) / ${frames}`;
  return {
    ...o,
    animated: {
      'translate.x': { expression: `${x} + 0.6 * sin(${round(9)})` },
      'translate.y': { expression: `${y} - 0.25 * (1 - cos(${round(9)}))` },
      'translate.z': { expression: `${z} + 0.4 * (1 - cos(${round(7)}))` },
    },
  };
}

/** A curve up through the body, bent to a side by so much (metres). */
const along = (bend: number): CurveRecord => ({
  splines: [
    {
      type: 'b-spline',
      closed: false,
      points: [-1.2, -0.6, 0, 0.6, 1.2].map((y) => controlPoint([bend * (y + 1.2) * (y + 1.2) * 0.4, y, bend * 0.3 * y])),
    },
  ],
});

/** A module of a project by itself, as its file would be. */
export const fileOf = (project: Pick<Project, 'modules'>, module: ModuleRecord): ModuleFile =>
  moduleFile(project, module, '', '');

import { expect, test } from 'vitest';
import { boundsOf } from '../geometry/bounds.ts';
import { withPositions } from '../geometry/mesh.ts';
import { makeSphere } from '../geometry/primitives.ts';
import { Evaluator } from '../graph/evaluate/evaluator.ts';
import { SHOWN_PORT } from '../graph/node/definition.ts';
import { shownResults } from '../graph/network/shown.ts';
import { inverseOf } from '../constraints/index.ts';
import { weigh, type Falloff } from '../falloffs/index.ts';
import { transformMesh } from '../geometry/transform.ts';
import { compose } from '../maths/factors.ts';
import { translation } from '../maths/matrix.ts';
import { CATALOGUE } from '../nodes/index.ts';
import { readProjectFile, writeProjectFile } from '../project/file.ts';
import type { ObjectOf } from '../project/kinds/index.ts';
import type { Project } from '../project/schema.ts';
import { graph, node, project } from '../testing/build.ts';
import { isClosed } from '../nearest/signed.ts';
import { volumeOf } from '../testing/surface.ts';
import { constraintOf } from './constrain.ts';
import { beginOn } from './begin-on.ts';
import { nodeOf } from './document.ts';
import { feedByLocator } from './feed-by-locator.ts';
import { feedInto, objectAbout } from './flow-edits.ts';
import { putNodeOn, throughPorts } from './go-through.ts';
import { primitiveObject, PRIMITIVES, type Primitive } from './primitives.ts';
import { forgetView, keepView, renameView } from './view-edits.ts';

const type = (id: string) => CATALOGUE.get(id)!;

test('a deformer put on an object begins its graph, the next goes on behind it, and both act in that order', () => {
  const start = project([]);
  const fish = start.objects[0];
  const first = putNodeOn(CATALOGUE, start, type('transform'), fish)!;
  const second = putNodeOn(CATALOGUE, first.project, type('twist'), fish)!;
  expect(second.project.graphs).toHaveLength(1);
  expect(second.graph).toBe(first.graph);
  const [made] = second.project.graphs;
  expect(made.nodes.map((n) => n.type).sort()).toEqual(['scene-mesh', 'show-mesh', 'transform', 'twist']);
  const kind = (id: string) => made.nodes.find((n) => n.id === id)?.type;
  expect(made.wires.map((w) => `${kind(w.from.node)} > ${kind(w.to.node)}`).sort()).toEqual([
    'scene-mesh > transform',
    'transform > twist',
    'twist > show-mesh',
  ]);
  const places = made.nodes.map((n) => n.position.join());
  expect(new Set(places).size).toBe(places.length);
  const moved: Project = {
    ...second.project,
    graphs: [
      { ...made, nodes: made.nodes.map((n) => (n.type === 'transform' ? { ...n, inputs: { translate: [0, 5, 0] } } : n)) },
    ],
  };
  const evaluator = new Evaluator(CATALOGUE);
  evaluator.setAsset('mesh', makeSphere(1, 8, 12));
  const [{ node: id, object }] = shownResults(CATALOGUE, moved);
  expect(object).toBe('fish');
  const value = evaluator
    .evaluate({ project: moved, frame: 1, wanted: [{ node: id, port: SHOWN_PORT }] })
    .value({ node: id, port: SHOWN_PORT });
  if (value?.form !== 'geometry') throw new Error('Nothing came out.');
  const y = value.mesh.positions.filter((_, i) => i % 3 === 1);
  expect(Math.min(...y)).toBeCloseTo(4, 5);
  expect(Math.max(...y)).toBeCloseTo(6, 5);
  expect(putNodeOn(CATALOGUE, start, type('scene-locator'), fish)).toBeUndefined();
});

test('every deformer says where a mesh goes through it; what shows one, or makes one, does not', () => {
  for (const d of CATALOGUE.values()) {
    const ports = throughPorts(d);
    if (d.group === 'Deformers') expect(ports, d.id).toBeDefined();
    if (d.shows || d.id.startsWith('make-')) expect(ports, d.id).toBeUndefined();
  }
  expect(constraintOf('hand-over')).toBe('handOver');
  expect(constraintOf('twist')).toBeUndefined();
});

test('what a new card gives goes into the first free input that is for just that; plain numbers are not guessed', () => {
  const g = graph(
    [node('bulge', 'bulge'), node('swell', 'swell-out'), node('here', 'scene-locator')],
    ['here.position > bulge.centre'],
  );
  const fed = (to: string, from: string) => {
    const w = feedInto(CATALOGUE, g, to, node('new', from));
    return w && `${w.from.port} > ${w.to.port}`;
  };
  expect(fed('swell', 'shape-falloff')).toBe('falloff > weight');
  expect(fed('swell', 'make-box')).toBe('mesh > mesh');
  expect(fed('swell', 'number')).toBeUndefined();
  const open = { ...g, wires: [] };
  expect(feedInto(CATALOGUE, open, 'bulge', node('new', 'scene-locator'))?.to.port).toBe('centre');
  // The centre is taken already.
  expect(fed('bulge', 'scene-locator')).not.toContain('centre');
});

test('plain shapes are closed where they can be, stand on the ground, and come back from a file', () => {
  const volumes: Record<Primitive, number> = { box: 1, sphere: (4 / 3) * Math.PI * 0.125, tube: Math.PI * 0.09 * 1.5, grid: 0 };
  let p = project([]);
  for (const shape of Object.keys(PRIMITIVES) as Primitive[]) {
    const { mesh, asset, object } = primitiveObject(p, shape);
    if (shape !== 'grid') {
      expect(isClosed(mesh), shape).toBe(true);
      expect(volumeOf(mesh) / volumes[shape], shape).toBeGreaterThan(0.97);
      expect(volumeOf(mesh) / volumes[shape], shape).toBeLessThan(1.001);
    }
    const lowest = boundsOf(mesh.positions).low[1] + object.channels.translate[1];
    expect(lowest, shape).toBeCloseTo(0, 6);
    expect(object.rest).toEqual(object.channels);
    p = { ...p, assets: [...p.assets, asset], objects: [...p.objects, object] };
    const back = readProjectFile(writeProjectFile(p, new Map([[asset.id, mesh]])));
    expect(back.assets.get(asset.id)?.positions).toEqual(mesh.positions);
  }
  expect(primitiveObject(p, 'box').object.name).toBe('Box 2');
});

test('views are kept under names of their own, and forgotten', () => {
  let p = keepView([1, 2, 3], [0, 1, 0])(keepView([3, 2, 1], [0, 0, 0])(project([])));
  expect(p.views.map((v) => v.name)).toEqual(['View 1', 'View 2']);
  p = renameView(p.views[1].id, 'Crane')(forgetView(p.views[0].id)(p));
  expect(p.views.map((v) => [v.name, v.eye, v.target])).toEqual([['Crane', [1, 2, 3], [0, 1, 0]]]);
  expect(keepView([0, 0, 1], [0, 0, 0])(p).views[1].name).toBe('View 1');
  expect(readProjectFile(writeProjectFile(p, new Map())).project.views).toEqual(p.views);
});

test('a bump put on an object that stands away from the origin begins on top of it', () => {
  const start = project([]);
  const world = translation([2.9, 0.5, -1]);
  const put = putNodeOn(CATALOGUE, start, type('bulge'), start.objects[0], { world, mesh: makeSphere(1, 8, 12) })!;
  const made = put.project.graphs[0].nodes.find((n) => n.id === put.node);
  expect(made?.inputs.centre).toEqual([2.9, 1.5, -1]);
});

test('a falloff made for a mesh gets a locator on it, as large as it stands; a place on a wire is no place to make', () => {
  const p = project([]);
  // Twice as wide along x, and mirrored along z.
  const world = Float64Array.of(2, 0, 0, 0, 0, 1, 0, 0, 0, 0, -1, 0, 5, 6, 7, 1);
  const body = { world, mesh: makeSphere(1, 8, 12) };
  const made = beginOn(p, type('shape-falloff'), nodeOf(type('shape-falloff'), [0, 0]), body);
  const [locator] = made.locators;
  expect(made.node.settings.object).toBe(locator.id);
  expect(locator).toMatchObject({ type: 'locator', channels: { translate: [5, 7, 7], scale: [2, 2, 2] } });
  // It weighs something of the mesh, and not all of it alike.
  const falloff: Falloff = {
    type: 'shape',
    shape: 'sphere',
    rounding: 0,
    world: compose([5, 7, 7], [0, 0, 0], 'xyz', [2, 2, 2]),
    inverse: inverseOf(compose([5, 7, 7], [0, 0, 0], 'xyz', [2, 2, 2]))!,
    fade: { inner: 0.25, outer: 1, invert: false },
  };
  const weights = weigh(
    falloff,
    transformMesh(body.mesh, world, (n) => new Float32Array(n)).positions,
    new Float32Array(body.mesh.topology.pointCount),
  );
  expect(Math.max(...weights)).toBe(1);
  expect(Math.min(...weights)).toBe(0);
  // What was chosen or typed before stays.
  const chosen = nodeOf(type('shape-falloff'), [0, 0], { object: 'here' });
  expect(beginOn(p, type('shape-falloff'), chosen, body)).toEqual({ node: chosen, locators: [] });
  const typed = { ...nodeOf(type('bulge'), [0, 0]), inputs: { centre: 0.5 } };
  expect(beginOn(p, type('bulge'), typed, body).node.inputs.centre).toBe(0.5);
  // An object without a mesh, or of no size, still has a place.
  const bare = beginOn(p, type('shape-falloff'), nodeOf(type('shape-falloff'), [0, 0]), { world, mesh: undefined });
  expect(bare.locators[0]).toMatchObject({ channels: { translate: [5, 6, 7], scale: [1, 1, 1] } });
  const broken = {
    world,
    mesh: withPositions(
      body.mesh,
      body.mesh.positions.map(() => NaN),
    ),
  };
  const top = beginOn(p, type('bulge'), nodeOf(type('bulge'), [0, 0]), broken);
  expect(top.node.inputs.centre).toEqual([5, 6, 7]);
  // What is nowhere has no place to begin at, and no number that is none is typed.
  const nowhere = { ...body, world: world.map((v, i) => (i === 12 ? NaN : v)) };
  for (const id of ['bulge', 'shape-falloff']) {
    const bareNode = nodeOf(type(id), [0, 0]);
    expect(beginOn(p, type(id), bareNode, nowhere)).toEqual({ node: bareNode, locators: [] });
  }
  // The longest side may come to lie along any axis of the world: here along z, three times as long.
  const turned = Float64Array.of(0, 0, 3, 0, 0, 1, 0, 0, 1, 0, 0, 0, 0, 0, 0, 1);
  const along = beginOn(p, type('shape-falloff'), nodeOf(type('shape-falloff'), [0, 0]), { ...body, world: turned });
  expect(along.locators[0]).toMatchObject({ channels: { scale: [3, 3, 3] } });
  // Flat, sheared and turned to nothing: finite all the same.
  for (const m of [
    [0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 2, 3, 1],
    [1, 0, 0, 0, 2, 0, 0, 0, 0, 0, 1, 0, 1, 2, 3, 1],
  ]) {
    const { locators } = beginOn(p, type('shape-falloff'), nodeOf(type('shape-falloff'), [0, 0]), {
      ...body,
      world: Float64Array.from(m),
    });
    expect(locators[0]).toMatchObject({ channels: { translate: [1, 2, 3].map((v, i) => v + m[4 + i]) } });
    expect((locators[0] as ObjectOf<'locator'>).channels.scale[0]).toBeGreaterThan(0);
  }
});

test('a locator that a place shall follow begins on the mesh where nothing is typed, else where the numbers are', () => {
  const bulge = node('bump', 'bulge');
  const from = node('in', 'scene-mesh', { settings: { object: 'fish' } });
  const body = { world: translation([2.9, 0.5, -1]), mesh: makeSphere(1, 8, 12) };
  const fed = (n: typeof bulge, with_?: typeof body) => {
    const g = graph([from, n], ['in.mesh > bump.mesh']);
    expect(objectAbout(CATALOGUE, g, 'bump')).toBe('fish');
    return feedByLocator(CATALOGUE, project([g]), g, { node: 'bump', port: 'centre' }, with_)!.locator.channels.translate;
  };
  expect(fed(bulge, body)).toEqual([2.9, 1.5, -1]);
  expect(fed({ ...bulge, inputs: { centre: [1, 2, 3] } }, body)).toEqual([1, 2, 3]);
  expect(fed(bulge)).toEqual([0, 0, 0]);
});

test('what a falloff is about is the object of the card that it weighs', () => {
  const nodes = [
    node('in', 'scene-mesh', { settings: { object: 'fish' } }),
    node('twist', 'twist'),
    node('mix', 'mix-falloffs'),
    node('area', 'shape-falloff'),
    node('alone', 'number'),
  ];
  const g = graph(nodes, ['in.mesh > twist.mesh', 'area.falloff > mix.base', 'mix.falloff > twist.weight']);
  expect(objectAbout(CATALOGUE, g, 'area')).toBe('fish');
  expect(objectAbout(CATALOGUE, g, 'alone')).toBeUndefined();
});

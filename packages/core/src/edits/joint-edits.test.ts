import { expect, test } from 'vitest';
import { makeObject, type ObjectRecord } from '../project/kinds/index.ts';
import { USUAL_SIDES } from '../project/animation.ts';
import { makeProject, type Project } from '../project/schema.ts';
import { objectsById } from '../scene/objects.ts';
import { worldMatrix } from '../scene/world.ts';
import { at, near } from '../testing/quay.ts';
import { CATALOGUE } from '../nodes/index.ts';
import { graph, node } from '../testing/build.ts';
import { packWeights, withWeights } from '../chains/skin-weights.ts';
import { makeTube } from '../geometry/solids.ts';
import { NO_PAINT, withPaint } from '../paint/painted.ts';
import { sceneChain } from '../scene/joints.ts';
import { addObject, removeObjects } from './document.ts';
import { renameObject } from './rename.ts';
import { nameAcross } from '../animate/mirror-pose.ts';
import { insertJoint, mirrorJoints, newJoint, orientJoints } from './joint-edits.ts';

const project = {
  ...makeProject('p', 'P'),
  objects: [
    makeObject('heron', 'Heron', 'chain', { channels: at([1, 2, 0], [0, 30, 0]) }),
    makeObject('body', 'Body', 'joint', { parent: 'heron', channels: at([0, 1, 0], [10, 0, 0]) }),
    makeObject('wing', 'Left wing', 'joint', {
      parent: 'body',
      channels: at([0.4, 0.1, 0], [0, 20, 40]),
      rest: at([0.4, 0.1, 0]),
    }),
    makeObject('tip', 'Left wing tip', 'joint', { parent: 'wing', channels: at([0.5, 0, 0.2], [5, 0, 0]) }),
    makeObject('ring', 'Ring', 'prop', { parent: 'wing', channels: at([0.1, 0, 0]) }),
  ] as ObjectRecord[],
};
const world = (p: typeof project, id: string, which: 'channels' | 'rest' = 'channels') =>
  worldMatrix(objectsById(p.objects), id, which);

test('a joint is added where it is asked for, in the space of what it hangs under, and named on', () => {
  const made = newJoint(project, 'tip', [3, 2.5, 1]);
  expect(made.name).toBe('Left wing tip 2');
  near(world(addObject(made)(project) as typeof project, made.id).slice(12, 15), [3, 2.5, 1], 5);
});

test('a joint put between moves nothing, at rest and now', () => {
  const { edit, made } = insertJoint(project, 'tip') ?? { edit: undefined, made: undefined };
  const after = edit?.(project) as typeof project;
  for (const id of ['tip', 'ring', 'wing'])
    for (const which of ['channels', 'rest'] as const) near(world(after, id, which), world(project, id, which), 9);
  const middle = world(after, made?.id ?? '');
  near(
    middle.slice(12, 15),
    [0, 1, 2].map((k) => (world(project, 'tip')[12 + k] + world(project, 'wing')[12 + k]) / 2),
    9,
  );
  expect(insertJoint(project, 'heron')).toBeUndefined();
});

test('mirrored joints stand across the plane of their chain, turned as mirror images; twice gives nothing more', () => {
  const { edit, made } = mirrorJoints(project, ['wing'], 'heron', 0, (n) => nameAcross(n, USUAL_SIDES));
  expect(made.map((m) => m.name)).toEqual(['Right wing', 'Right wing tip']);
  const after = edit(project) as typeof project;
  const inChain = (id: string) => {
    const c = world(project, 'heron');
    const w = world(after, id);
    return [0, 1, 2].map((k) => [0, 1, 2].reduce((s, i) => s + c[k * 4 + i] * (w[12 + i] - c[12 + i]), 0));
  };
  for (const [id, of] of [
    [made[0].id, 'wing'],
    [made[1].id, 'tip'],
  ]) {
    const [a, b] = [inChain(id), inChain(of)];
    near([-a[0], a[1], a[2]], b, 6);
  }
  expect(mirrorJoints(after, ['wing'], 'heron', 0, (n) => nameAcross(n, USUAL_SIDES)).made).toEqual([]);
});

test('joints are oriented along their bones without moving anything, at rest and now', () => {
  const after = orientJoints(project, ['body', 'wing', 'tip'], 'x', 'y', [0, 1, 0])(project) as typeof project;
  for (const id of ['body', 'wing', 'tip', 'ring'])
    for (const which of ['channels', 'rest'] as const)
      near(world(after, id, which).slice(12, 15), world(project, id, which).slice(12, 15), 6);
  near(world(after, 'ring'), world(project, 'ring'), 6);
  const [wing, tip] = [world(after, 'wing', 'rest'), world(after, 'tip', 'rest')];
  const bone = [0, 1, 2].map((k) => tip[12 + k] - wing[12 + k]);
  const l = Math.hypot(...bone);
  near(
    wing.slice(0, 3),
    bone.map((v) => v / l),
    6,
  );
});

test('nodes that name a joint are told its new name, in lists too; those of other chains are not', () => {
  const one = (id: string, type: string, settings: Record<string, string>) => node(id, type, { settings });
  const graphs = [
    graph(
      [
        one('a', 'scene-chain', { object: 'heron' }),
        one('b', 'bend-chain', { tip: 'Left wing tip', middle: 'Left wing' }),
        one('c', 'drive-chain', { object: 'heron', joints: 'Body, Left wing , Left *' }),
      ],
      [],
      'mine',
    ),
    graph([one('d', 'scene-chain', { object: 'other' }), one('e', 'bend-chain', { tip: 'Left wing' })], [], 'others'),
  ];
  const after = renameObject(CATALOGUE, 'wing', 'Port wing')({ ...project, graphs });
  const settings = (id: string) => after.graphs.flatMap((g) => g.nodes).find((n) => n.id === id)?.settings;
  expect(settings('b')).toEqual({ tip: 'Left wing tip', middle: 'Port wing' });
  expect(settings('c')?.joints).toBe('Body, Port wing , Left *');
  expect(settings('e')).toEqual({ tip: 'Left wing' });
  expect(after.objects.find((o) => o.id === 'wing')?.name).toBe('Port wing');
  expect(after.graphs[1]).toBe(graphs[1]);
  expect(renameObject(CATALOGUE, 'heron', 'Egret')({ ...project, graphs }).graphs).toBe(graphs);
});

test('who moved a point goes on to move it: a joint takes the weights of its old name, and of joints that are removed below it', () => {
  const tube = makeTube(0.1, 1.5, 8, 12, false);
  const n = tube.topology.pointCount;
  const names = ['Body', 'Left wing', 'Left wing tip'];
  const columns = [0.5, 0.3, 0.2].map((w) => new Float32Array(n).fill(w));
  const mesh = withWeights(tube, { names, traits: [] }, columns);
  const chainOf = (p: Project) => {
    const byId = objectsById(p.objects);
    return sceneChain(p.objects, byId, 'heron', 'posed', () => undefined);
  };
  const weights = (p: Project) => {
    const chain = chainOf(p);
    const packed = packWeights(mesh, chain);
    const sums: Record<string, number> = {};
    for (let k = packed.starts[5]; k < packed.starts[6]; k++) {
      const name = chain.names[packed.joints[k]];
      sums[name] = Number(((sums[name] ?? 0) + packed.weights[k]).toFixed(5));
    }
    return { sums, unknown: packed.unknown };
  };
  expect(weights(project).sums).toEqual({ Body: 0.5, 'Left wing': 0.3, 'Left wing tip': 0.2 });
  const renamed = renameObject(CATALOGUE, 'wing', 'Port wing')(project);
  expect(weights(renamed)).toEqual({ sums: { Body: 0.5, 'Port wing': 0.3, 'Left wing tip': 0.2 }, unknown: [] });
  // Back to its old name it needs no other.
  expect(renameObject(CATALOGUE, 'wing', 'Left wing')(renamed).objects.find((o) => o.id === 'wing')).toMatchObject({
    also: ['Port wing'],
  });
  const without = removeObjects(['tip'])(renamed);
  expect(weights(without)).toEqual({ sums: { Body: 0.5, 'Port wing': 0.5 }, unknown: [] });
  // Two at once, the lower with the names of others too: the one that stays takes all.
  expect(weights(removeObjects(['wing', 'tip'])(without))).toEqual({ sums: { Body: 1 }, unknown: [] });
  // Where a joint is called so, that one has them.
  const called = addObject(makeObject('other', 'Left wing', 'joint', { parent: 'body' }))(renamed);
  expect(weights(called).sums).toMatchObject({ 'Left wing': 0.3 });
});

test('what is painted for a joint, and the name that is painted, follow its new name', () => {
  const painted = withPaint(NO_PAINT, 10, new Map([['weight_Left_wing', { points: [3], values: [0.5] }]]));
  const graphs = [
    graph(
      [
        node('chain', 'scene-chain', { settings: { object: 'heron' } }),
        node('paint', 'paint-values', { settings: { name: 'weight_Left_wing', painted } }),
        node('read', 'read-attribute', { settings: { name: 'Left wing' } }),
      ],
      [],
    ),
  ];
  const [, paint, read] = renameObject(CATALOGUE, 'wing', 'Port wing')({ ...project, graphs }).graphs[0].nodes;
  expect(paint.settings.name).toBe('weight_Port_wing');
  expect(paint.settings.painted).toEqual({ points: 10, columns: { weight_Port_wing: painted.columns.weight_Left_wing } });
  expect(read).toBe(graphs[0].nodes[2]);
});

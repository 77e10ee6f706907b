import { CATALOGUE } from '../nodes/index.ts';
import { describe, expect, test } from 'vitest';
import { compose } from '../maths/factors.ts';
import { checkProject } from '../graph/readouts/check.ts';
import { readProjectDocument, readProjectFile, writeProjectFile } from '../project/file.ts';
import { makeObject, type ObjectRecord } from '../project/kinds/index.ts';
import { type Project } from '../project/schema.ts';
import { makeKey, trackOf } from '../scene/keys.ts';
import { withRemoved } from '../scene/removed.ts';
import { graph, node, project } from '../testing/build.ts';
import { at, CREW, HOOK, LANTERN, MAST, near, run, single } from '../testing/quay.ts';
import { Evaluator } from '../graph/evaluate/evaluator.ts';
import { upstreamObjects } from '../graph/network/facets.ts';
import { keepRemoved } from './keep-removed.ts';
import { worldsAt } from '../graph/evaluate/sample-objects.ts';
import { takeSnapshot } from './take-snapshot.ts';

/** Removes objects as the page does: kept for the nodes that read them, then gone. */
async function without(p: Project, ...ids: string[]) {
  const evaluator = new Evaluator(CATALOGUE);
  const { project: kept, residual } = await keepRemoved(CATALOGUE, p, ids, (of, id, frames) =>
    Promise.resolve(Float64Array.from(frames.flatMap((f) => [...worldsAt(evaluator, of, [id], f)[0]]))),
  );
  const objects = kept.objects
    .filter((o) => !ids.includes(o.id))
    .map((o) => (o.parent !== null && ids.includes(o.parent) ? { ...o, parent: null } : o));
  return { p: { ...kept, objects }, residual };
}
const keyed = (o: ObjectRecord, channel: string, ...keys: [number, number][]): ObjectRecord => ({
  ...o,
  animated: { ...o.animated, [channel]: { keys: trackOf(keys.map(([f, v]) => makeKey(f, v))) } },
});
const FRAMES = [1, 7, 12.5, 40, 77, 120];
const PORTS = ['see.position', 'see.matrix', 'see.rest', 'see.size'];
const seen = (p: Project, frame: number, ports = PORTS) => run(p, ports, frame).values.flatMap(single);

describe('a removed object goes on for the nodes that read it', () => {
  const see = graph([node('see', 'scene-locator', { settings: { object: 'lantern' } })], []);

  test('with its own keys and expressions, between frames and beyond the range too, where its carrier stands', async () => {
    const lantern = { ...keyed(LANTERN, 'rotate.y', [1, 0], [60, 270]), rest: at([0, 1, 0], [0, 0, 20]) };
    const moving = { ...lantern, animated: { ...lantern.animated, 'translate.x': { expression: 'sin(seconds)' } } };
    const p = project([see], [0, 0, 0], [CREW, moving]);
    const { p: after } = await without(p, 'lantern');
    expect(after.objects.some((o) => o.id === 'lantern')).toBe(false);
    expect(after.removed.map((r) => [r.object.name, r.frames])).toEqual([['Lantern', null]]);
    for (const f of [...FRAMES, -30, 400]) near(seen(after, f), seen(p, f), 12);
    expect(run(after, PORTS).words.join(' ')).toContain('Its object was removed from the scene; this keeps it as it was.');
    // It comes back from a file.
    const { project: read } = readProjectDocument(JSON.parse(JSON.stringify(after)));
    near(seen(read, 40), seen(p, 40), 12);
    // Rests go on where what it hung under does not rest as it stands.
    const swung = project([see], [0, 0, 0], [{ ...CREW, rest: at([0, 2, 0], [0, 90, 0]) }, moving]);
    near(seen((await without(swung, 'lantern', 'crew')).p, 40), seen(swung, 40), 8);
  });

  test('with its motion over the range, where something moves it: what it hangs under, or a graph', async () => {
    const crew = keyed(keyed(CREW, 'rotate.y', [1, 0], [120, 340]), 'translate.z', [1, 0], [30, 2], [90, -1]);
    const p = project([see], [0, 0, 0], [crew, { ...LANTERN, channels: at([0.5, 4, 0], [15, 0, 0]) }]);
    const { p: after, residual } = await without(p, 'lantern');
    expect(residual).toBe(0);
    expect(after.removed[0].frames).toEqual({ first: 1, last: 120 });
    for (let f = 1; f <= 120; f++) near(seen(after, f), seen(p, f), 7);
    expect(run(after, PORTS).words.join(' ')).toContain('its motion over frames 1 to 120');
    // Driven by a graph, whose other objects are still there.
    const drive = graph(
      [
        node('m', 'build-matrix', { inputs: { translate: [0, { expression: 'frame / 10' }, 0] as never } }),
        node('drive', 'drive-object', { settings: { object: 'lantern', is: 'carrier' } }),
      ],
      ['m.matrix > drive.matrix'],
      'drive',
    );
    const driven = project([see, drive], [0, 0, 0], [CREW, LANTERN]);
    const gone = (await without(driven, 'lantern')).p;
    for (const f of [1, 60, 120]) near(seen(gone, f), seen(driven, f), 8);
    expect(gone.graphs[1].nodes[1].settings.object).toBe('lantern');
  });

  test('mirrored, flat and not finite: what cannot be a size stays as it stands', async () => {
    const flat = { ...LANTERN, channels: at([1, 2, 3], [0, 40, 0], [1, 0, -2]) };
    const p = project([see], [0, 0, 0], [{ ...CREW, channels: at([1, 0, 0], [0, 45, 0], [-1, 1, 1]) }, flat]);
    const after = (await without(p, 'lantern', 'crew')).p;
    near(seen(after, 5, ['see.matrix', 'see.rest']), seen(p, 5, ['see.matrix', 'see.rest']), 12);
    const lost = project(
      [see],
      [0, 0, 0],
      [CREW, { ...LANTERN, animated: { 'translate.x': { expression: '1 / (frame - 7)' } } }],
    );
    const kept = (await without(lost, 'lantern')).p;
    near(seen(kept, 9), seen(lost, 9), 12);
  });
});

test('every kind of node that reads an object keeps it: falloffs, pivots, channels, curves and meshes', async () => {
  const curve = {
    splines: [
      {
        type: 'poly' as const,
        closed: false,
        points: [
          [0, 0, 0],
          [0, 0, 3],
        ].map((a) => ({
          at: a as [number, number, number],
          in: [0, 0, 0] as const,
          out: [0, 0, 0] as const,
          radius: 1,
          roll: 0,
        })),
      },
    ],
  };
  const path = makeObject('path', 'Path', 'curve', { channels: at([0, 2, 0]), curve: curve as never });
  const hook = keyed(
    { ...HOOK, custom: [{ id: 'own-1', name: 'pull', default: 0.5, min: 0, max: 1, unit: '' }] as never },
    'translate.x',
    [1, 0],
    [50, 4],
  );
  const p = project(
    [
      graph(
        [
          node('box', 'make-box'),
          node('falloff', 'shape-falloff', { settings: { object: 'hook' } }),
          node('values', 'point-values'),
          node('weight', 'weigh-by-falloff'),
          node('turn', 'transform', { settings: { pivot: 'locator', pivotObject: 'mast' }, inputs: { rotate: [0, 90, 0] } }),
          node('read', 'read-channel', { settings: { object: 'hook', channel: 'translate.x' } }),
          node('mesh', 'scene-mesh', { settings: { object: 'fish' } }),
        ],
        ['box.mesh > turn.mesh'],
      ),
    ],
    [0, 0, 0],
    [hook, MAST, path],
  );
  const wanted = ['falloff.falloff', 'turn.mesh', 'read.value', 'mesh.mesh'];
  const before = FRAMES.map((f) => run(p, wanted, f).values);
  const after = (await without(p, 'hook', 'mast', 'fish')).p;
  expect(after.removed.map((r) => r.object.name).sort()).toEqual(['Crane hook', 'Fish', 'Mast']);
  FRAMES.forEach((f, i) => {
    const now = run(after, wanted, f);
    const [falloff, turned, read, mesh] = now.values as never as [
      { falloff: { world: Float64Array } },
      { mesh: { positions: Float32Array } },
      { data: number[] },
      { mesh: { positions: Float32Array } },
    ];
    const [falloff0, turned0, read0, mesh0] = before[i] as never as [typeof falloff, typeof turned, typeof read, typeof mesh];
    near(falloff.falloff.world, falloff0.falloff.world, 12);
    expect(turned.mesh.positions).toEqual(turned0.mesh.positions);
    expect([...read.data]).toEqual([...read0.data]);
    expect(mesh.mesh.positions).toEqual(mesh0.mesh.positions);
    expect(now.words.filter((w) => w.startsWith('Its object was removed'))).toHaveLength(4);
  });
  // Removing what nobody reads any more lets it go; another of the same id is kept under a name of its own.
  const unread = { ...after, graphs: [], objects: [...after.objects, HOOK] };
  expect((await without(unread, 'hook')).p.removed).toEqual([]);
  const again = {
    ...after,
    objects: [...after.objects, HOOK],
    graphs: [...after.graphs, graph([node('see', 'scene-locator', { settings: { object: 'hook' } })], [], 'more')],
  };
  const ids = (await without(again, 'hook')).p.removed.map((r) => r.object.id);
  expect(new Set(ids).size).toBe(4);
  expect(withRemoved(after).objects).toHaveLength(after.objects.length + 3);
});

test('older projects kept matrices in their Scene Locators; they stand where they stood', () => {
  const world = compose([1, 2, 3], [0.2, 0.4, 0], 'xyz', [1, -2, 1]);
  const rest = compose([0, 1, 0], [0, 0, 0.3], 'xyz', [1, -2, 1]);
  const unit = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];
  const frozen = { drivers: [[...world], [...rest]], parent: unit, carrier: unit, child: unit, pivot: [0, 0, 0] };
  const old = project([
    graph(
      [{ ...node('see', 'scene-locator', { settings: { object: null, frozen: frozen as never } }), title: 'Hook (removed)' }],
      [],
    ),
  ]);
  const { removed: _removed, ...document } = old;
  const { project: read } = readProjectDocument(JSON.parse(JSON.stringify({ ...document, version: 5 })));
  expect(read.removed[0].object.name).toBe('Hook');
  const [matrix, resting] = run(read, ['see.matrix', 'see.rest']).values;
  near(single(matrix), world, 12);
  near(single(resting), rest, 9);
});

describe('edges of removing', () => {
  const see = graph([node('see', 'scene-locator', { settings: { object: 'lantern' } })], []);

  test('what cannot be kept is told: a rest under something flat, a shear that moves', async () => {
    const flat = { ...CREW, channels: at([1, 0, 0], [0, 45, 0], [1, 0, 1]) };
    const lantern = { ...LANTERN, rest: at([0, 1, 0]) };
    const under = project([see], [0, 0, 0], [flat, lantern]);
    const gone = await without(under, 'lantern');
    near(seen(gone.p, 5, ['see.matrix']), seen(under, 5, ['see.matrix']), 12);
    expect(gone.residual).toBe(1);
    const uneven = keyed({ ...CREW, channels: at([1, 0, 0], [0, 0, 0], [1, 3, 1]) }, 'translate.x', [1, 0], [120, 5]);
    const sheared = project([see], [0, 0, 0], [uneven, { ...LANTERN, channels: at([0, 1, 0], [0, 0, 40]) }]);
    expect((await without(sheared, 'lantern')).residual).toBeGreaterThan(0.1);
    // The same, standing still, is kept whole.
    const still = project(
      [see],
      [0, 0, 0],
      [
        { ...uneven, animated: {} },
        { ...LANTERN, channels: at([0, 1, 0], [0, 0, 40]) },
      ],
    );
    const whole = await without(still, 'lantern');
    expect(whole.residual).toBe(0);
    near(seen(whole.p, 5), seen(still, 5), 12);
  });

  test('twice, and all together with what they hang under: each read object once', async () => {
    const p = project(
      [see, graph([node('hook-see', 'scene-locator', { settings: { object: 'hook' } })], [], 'two')],
      [0, 0, 0],
      [CREW, LANTERN, HOOK],
    );
    const first = (await without(p, 'lantern')).p;
    const second = (await without(first, 'hook', 'crew')).p;
    expect(second.removed.map((r) => r.object.name)).toEqual(['Lantern', 'Crane hook']);
    const both = ['see.matrix', 'hook-see.matrix'];
    for (const f of FRAMES) near(seen(second, f, both), seen(p, f, both), 12);
    // Nobody reads the crew itself, so nothing of it is kept; removing nothing changes nothing.
    expect(second.objects.some((o) => o.id === 'crew')).toBe(false);
    expect((await without(second)).p).toEqual(second);
  });

  test('a channel of a removed object that is wrong is found by a check; what is unread is not written', async () => {
    const broken = { ...LANTERN, animated: { 'translate.x': { expression: '1 / (frame - 30)' } } };
    const shown = graph(
      [
        node('see', 'scene-locator', { settings: { object: 'lantern' } }),
        node('line', 'make-line'),
        node('move', 'transform'),
        node('show', 'show-mesh'),
      ],
      [],
    );
    const { p } = await without(project([shown], [0, 0, 0], [CREW, broken]), 'lantern');
    const found = (frame: number) =>
      checkProject(CATALOGUE, { project: p, assets: new Map(), repairs: [] }, frame).map((f) => `${f.where}: ${f.message}`);
    expect(found(30).join(' ')).toContain('Lantern: move x is not a finite number at frame 30');
    expect(found(31).join(' ')).not.toContain('Lantern');
    const unread = { ...p, graphs: [] };
    expect(readProjectFile(writeProjectFile(p, new Map())).project.removed).toHaveLength(1);
    expect(readProjectFile(writeProjectFile(unread, new Map())).project.removed).toEqual([]);
  });

  test('a constraint goes on with a driver that is gone, and a snapshot taken again leaves the object there', async () => {
    const hook = keyed(keyed(HOOK, 'translate.x', [1, 0], [60, 3]), 'rotate.y', [1, 30], [120, 200]);
    const drive = (id: string) =>
      graph(
        [
          node('a', 'scene-locator', { settings: { object: 'hook' } }),
          node('b', 'scene-locator', { settings: { object: 'mast' } }),
          node('c', 'hand-over', { settings: { object: id }, inputs: { dial: 0.4 } }),
          node('d', 'drive-object', { settings: { object: id, is: 'carrier' } }),
        ],
        ['a.matrix > c.a', 'b.matrix > c.b', 'c.carrier > d.matrix'],
      );
    const plain = project([drive('lantern')], [0, 0, 0], [CREW, LANTERN, hook, MAST]);
    const take = (p: Project, frame: number): Project => ({
      ...p,
      graphs: p.graphs.map((g) => ({
        ...g,
        nodes: g.nodes.map((n) =>
          n.id === 'c'
            ? { ...n, settings: { ...n.settings, snapshot: takeSnapshot(new Evaluator(CATALOGUE), p, frame, 'c') as never } }
            : n,
        ),
      })),
    });
    const made = take(plain, 1);
    const { p: after } = await without(made, 'hook', 'mast');
    expect(after.removed).toHaveLength(2);
    const stands = (p: Project, frame: number) => run(p, [], frame).world('lantern');
    expect(stands(made, 60)).not.toEqual(stands(made, 1));
    for (const f of FRAMES) near(stands(after, f), stands(made, f), 9);
    const again = take(after, 40);
    near(stands(again, 40), stands(after, 40), 9);
  });

  test('names in loops, and what is behind a node, are known whatever ids hold', () => {
    const ids = ['a world', 'a', 'a channel translate.x'];
    const p = project(
      [
        graph(
          ids.flatMap((id, i) => [
            node(`see${i}`, 'scene-locator', { settings: { object: id } }),
            node(`drive${i}`, 'drive-object', { settings: { object: ids[(i + 1) % 3], is: 'carrier' } }),
          ]),
          [0, 1, 2].map((i) => `see${i}.matrix > drive${i}.matrix`),
        ),
      ],
      [0, 0, 0],
      ids.map((id, i) => makeObject(id, `Buoy ${i}`, 'locator')),
    );
    expect(upstreamObjects(CATALOGUE, p, ['drive0'])).toEqual(new Set(ids));
    const words = run(p, []).words.join(' ');
    for (const name of ['Buoy 0 (world)', 'Buoy 1 (carrier)', 'Buoy 2 (world)']) expect(words).toContain(name);
  });
});

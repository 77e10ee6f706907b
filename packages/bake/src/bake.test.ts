import { Cancelled, CATALOGUE, Evaluator, makeMesh, makeObject, makeProject, type Project } from '@umberfish/core';
import { readChannelsCsv, readGltf, readObj } from '@umberfish/formats';
import { describe, expect, test } from 'vitest';
import { graph, node } from '../../core/src/testing/build.ts';
import { bakeObjects, bakeResult, type Baked } from './index.ts';

const fish = makeMesh(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0), Int32Array.of(0, 3), Int32Array.of(0, 1, 2), {
  materials: [{ name: 'scales', baseColour: [0.2, 0.4, 0.6] }],
});

/** A fish that rises by its frame; at frame 3 a number cannot be worked out. */
const rising = (formula = 'position + vector(0, frame, 0)'): Project => ({
  ...makeProject('p', 'P'),
  range: { first: 1, last: 4 },
  objects: [makeObject('fish', 'Fish', 'mesh', { mesh: 'fish', animated: { 'translate.x': { expression: 'frame * 2' } } })],
  assets: [{ id: 'fish', name: 'Fish', points: 3, faces: 1, origin: '' }],
  graphs: [
    graph(
      [
        node('in', 'scene-mesh', { settings: { object: 'fish', space: 'own' } }),
        node('rise', 'formula', { settings: { formula, outputs: { names: [{ name: 'position', type: 'vector' }] } } }),
        node('out', 'show-mesh', { settings: { name: 'fish' } }),
      ],
      ['in.mesh > rise.mesh', 'rise.mesh > out.mesh'],
    ),
  ],
});

function bakeOf(project: Project, frames: readonly number[], more = {}) {
  const evaluator = new Evaluator(CATALOGUE);
  evaluator.setAsset('fish', fish);
  return { project, evaluator, frames, stem: 'fish', result: { name: 'fish', node: 'out' }, format: 'obj' as const, ...more };
}

async function all(bake: AsyncGenerator<Baked, void>): Promise<Baked[]> {
  const out: Baked[] = [];
  for await (const made of bake) out.push(made);
  return out;
}
const files = (baked: readonly Baked[]) => baked.filter((b) => b.kind === 'file');

describe('a result', () => {
  test('a file for each frame, the materials once, and how far it is', async () => {
    const baked = await all(bakeResult(bakeOf(rising(), [1, 2, 12])));
    expect(files(baked).map((f) => f.name)).toEqual(['fish.0001.obj', 'fish.mtl', 'fish.0002.obj', 'fish.0012.obj']);
    expect(baked.filter((b) => b.kind === 'progress').map((b) => [b.done, b.all])).toEqual([
      [1, 3],
      [2, 3],
      [3, 3],
    ]);
    for (const [name, frame] of [
      ['fish.0002.obj', 2],
      ['fish.0012.obj', 12],
    ] as const) {
      const text = String(files(baked).find((f) => f.name === name)?.content);
      expect([...readObj(text).meshes[0].mesh.positions]).toEqual([0, frame, 0, 1, frame, 0, 0, 1 + frame, 0]);
    }
  });

  test('one that hangs under an object is written as that sees it; one without size is told, and nothing is written', async () => {
    const under = (change: object = {}): Project => {
      const p = rising();
      const [g] = p.graphs;
      return {
        ...p,
        objects: p.objects.map((o) => ({ ...o, channels: { ...o.channels, ...change } })),
        graphs: [
          { ...g, nodes: g.nodes.map((n) => (n.id === 'out' ? { ...n, settings: { ...n.settings, under: 'fish' } } : n)) },
        ],
      };
    };
    const [file] = files(await all(bakeResult(bakeOf(under({ rotate: [0, 0, 90], scale: [2, 2, 2] }), [3]))));
    // From the world (0, 3), (1, 3), (0, 4): less the fish at x = 6, turned back by a right angle, at half the size.
    const places = [
      [0, 3],
      [1, 3],
      [0, 4],
    ].flatMap(([x, y]) => [y / 2, -(x - 6) / 2, 0]);
    readObj(String(file.content)).meshes[0].mesh.positions.forEach((v, i) => expect(v).toBeCloseTo(places[i], 6));
    const flat = await all(bakeResult(bakeOf(under({ scale: [0, 1, 1] }), [3])));
    expect(flat.filter((b) => b.kind === 'problem').map((b) => b.message)).toEqual([
      expect.stringContaining('"Fish" has no size'),
    ]);
    expect(files(flat)).toEqual([]);
  });

  test('one frame has no number in its name unless it is asked for; GLB holds the same triangle', async () => {
    expect(files(await all(bakeResult(bakeOf(rising(), [2], { format: 'glb' })))).map((f) => f.name)).toEqual(['fish.glb']);
    const [glb] = files(await all(bakeResult(bakeOf(rising(), [2], { format: 'glb', numbered: true }))));
    expect(glb.name).toBe('fish.0002.glb');
    expect([...(await readGltf(glb.content as Uint8Array)).meshes[0].mesh.positions]).toEqual([0, 2, 0, 1, 2, 0, 0, 3, 0]);
  });

  test('a frame with something wrong ends it, unless it is to go on', async () => {
    const broken = rising('if(frame == 2, position / 0, position)');
    const stopped = await all(bakeResult(bakeOf(broken, [1, 2, 3])));
    expect(stopped.at(-1)).toMatchObject({ kind: 'problem', frame: 2 });
    expect(files(stopped).map((f) => f.name)).toEqual(['fish.0001.obj', 'fish.mtl']);
    const going = await all(bakeResult(bakeOf(broken, [1, 2, 3], { keepGoing: true })));
    expect(files(going).map((f) => f.name)).toEqual(['fish.0001.obj', 'fish.mtl', 'fish.0003.obj']);
    expect(going.filter((b) => b.kind === 'problem')).toHaveLength(1);
  });

  test('it is stopped by leaving off, and within a frame', async () => {
    let evaluated = 0;
    const bake = bakeOf(rising(), [1, 2, 3, 4], { checkpoint: () => void evaluated++ });
    for await (const made of bakeResult(bake)) if (made.kind === 'progress') break;
    const once = evaluated;
    expect(once).toBeGreaterThan(0);
    await all(bakeResult({ ...bake, frames: [7] }));
    expect(evaluated).toBeLessThan(once * 3);
    const stopping = bakeOf(rising(), [1, 2], {
      checkpoint: () => {
        throw new Cancelled();
      },
    });
    await expect(all(bakeResult(stopping))).rejects.toBeInstanceOf(Cancelled);
  });
});

describe('the motion of objects', () => {
  test('as CSV and as GLB, frame by frame', async () => {
    const bake = { ...bakeOf(rising(), [1, 2, 3]), objects: ['fish'] };
    const [csv] = files(await all(bakeObjects({ ...bake, format: 'csv' })));
    expect(csv.name).toBe('fish.csv');
    const [read] = readChannelsCsv(String(csv.content));
    expect(read.channels.get('translate.x')).toEqual([
      [1, 2],
      [2, 4],
      [3, 6],
    ]);
    const [glb] = files(await all(bakeObjects({ ...bake, format: 'glb' })));
    const { objects, meshes } = await readGltf(glb.content as Uint8Array);
    expect([objects?.length, meshes.length]).toEqual([1, 1]);
  });

  test('a channel that cannot be worked out is a problem of its frame', async () => {
    const project = rising();
    const [object] = project.objects;
    const broken = { ...project, objects: [{ ...object, animated: { 'translate.x': { expression: '1 / (frame - 2)' } } }] };
    const baked = await all(bakeObjects({ ...bakeOf(broken, [1, 2, 3]), objects: ['fish'], format: 'csv' }));
    expect(baked.at(-1)).toMatchObject({ kind: 'problem', frame: 2 });
    expect(files(baked)).toEqual([]);
  });
});

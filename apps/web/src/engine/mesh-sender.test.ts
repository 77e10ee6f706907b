import { describe, expect, test } from 'vitest';
import {
  ArrayRoom,
  CATALOGUE,
  Evaluator,
  makeBox,
  makeGrid,
  makeObject,
  makeProject,
  normalsOf,
  SHADE_NORMAL,
  withAttribute,
  withPositions,
  type GraphRecord,
  type Mesh,
  type NodeRecord,
} from '@umberfish/core';
import { MeshSender } from './mesh-sender.ts';
import { pictureVertices, vertexNormals, vertexPositions } from './picture-vertices.ts';
import type { PictureMesh, PictureRequest } from './protocol.ts';

const request = { paint: null } as unknown as PictureRequest;
const idle = () => {};
const fresh = (count: number) => new Float32Array(count);
const room = () => new ArrayRoom(1e9, { spoils: true });

/** What a picture of a mesh should have. */
function expected(mesh: Mesh) {
  const vertices = pictureVertices(mesh, false);
  return { positions: [...vertexPositions(mesh, vertices, fresh)], normals: [...vertexNormals(mesh, vertices, fresh, idle)] };
}
const contents = ({ positions, normals }: PictureMesh) => ({ positions: [...(positions ?? [])], normals: [...(normals ?? [])] });
const moved = (mesh: Mesh, by: number) =>
  withPositions(
    mesh,
    mesh.positions.map((v, i) => v * (1 + by) + Math.sin(i) * by),
  );

/** Sends one mesh as a picture of its own. */
function send(sender: MeshSender, mesh: Mesh, key = 'fish'): PictureMesh {
  sender.begin();
  const sent = sender.meshFor(request, key, mesh, idle);
  sender.commit();
  return sent;
}

describe.each([true, false])('meshes for the page, shared: %s', (shares) => {
  const box = makeBox([1, 1, 1], [3, 3, 3]);

  test('the topology goes once, positions when they moved, nothing when they did not', () => {
    const sender = new MeshSender(room(), shares);
    const first = send(sender, box);
    expect(first.topology?.pointCount).toBe(box.topology.pointCount);
    expect(contents(first)).toEqual(expected(box));
    expect(send(sender, box)).toEqual({ key: 'fish', topologyId: first.topologyId });
    const next = send(sender, moved(box, 0.1));
    expect(next.topology).toBeUndefined();
    expect(contents(next)).toEqual(expected(moved(box, 0.1)));
    // Another key has not got them, though the topology is known.
    const other = send(sender, box, 'second');
    expect(other.topology).toBeUndefined();
    expect(contents(other)).toEqual(expected(box));
  });

  test('a picture that is stopped half way does not count as sent', () => {
    const sender = new MeshSender(room(), shares);
    sender.begin();
    sender.meshFor(request, 'fish', box, idle);
    const stop = () => {
      throw new Error('stopped');
    };
    expect(() => sender.meshFor(request, 'other', moved(box, 0.2), stop)).toThrow('stopped');
    const again = send(sender, box);
    expect(again.topology).toBeDefined();
    expect(contents(again)).toEqual(expected(box));
  });

  test('hard edges have a vertex for each side; normals that a mesh brings along are taken, and sent when they alone change', () => {
    const sender = new MeshSender(room(), shares);
    const sent = send(sender, box);
    expect(sent.positions?.length).toBe(pictureVertices(box, false).count * 3);
    const grid = makeGrid([1, 1], [4, 4]);
    const shaded = (x: number): Mesh => {
      const data = new Float32Array(grid.positions.length).map((_, i) => (i % 3 === 0 ? x : 0));
      return withAttribute(grid, { name: SHADE_NORMAL, on: 'point', type: 'vector', role: 'normal', data });
    };
    expect(send(sender, shaded(1), 'grid').normals?.[0]).toBe(1);
    expect(send(sender, shaded(-1), 'grid').normals?.[0]).toBe(-1);
  });

  test('what is given away is never what is kept', () => {
    const sender = new MeshSender(room(), shares);
    const grid = makeGrid([1, 1], [4, 4]);
    const { positions, normals } = send(sender, grid);
    expect(positions === grid.positions).toBe(shares);
    expect(normals?.length).toBe(grid.positions.length);
  });
});

test('what the page shows of a result is worked out once, counts with it, and is shared with nodes that ask for the same', () => {
  const box = makeBox([1, 1, 1], [3, 3, 3]);
  const sender = new MeshSender(room(), true);
  const whole = { ...box, attributes: [] };
  const first = send(sender, whole);
  expect(first.normals).toBe(normalsOf(whole, 'area'));
  expect(first.positions).toBe(box.positions);
  // Shown again under another key, or by another sender: the same arrays.
  const uv = new Float32Array(box.topology.cornerCount * 2).map((_, i) => i);
  const torn = withAttribute(whole, { name: 'uv', on: 'corner', type: 'pair', role: 'plain', data: uv });
  const byUv = { paint: { name: 'uv', as: 'checker' } } as unknown as PictureRequest;
  const sent = [sender, new MeshSender(room(), true)].map((s) => {
    s.begin();
    return s.meshFor(byUv, 'torn', torn, idle);
  });
  expect(sent[0].positions?.length).toBe(box.topology.cornerCount * 3);
  expect(sent[1].positions).toBe(sent[0].positions);
  expect(sent[1].normals).toBe(sent[0].normals);
  // Given away instead, each time another copy of the same.
  const given = [0, 1].map(() => send(new MeshSender(room(), false), whole));
  expect(given[0].normals).not.toBe(given[1].normals);
  expect(given.map(contents)).toEqual([contents(first), contents(first)]);
});

test('a drag as the page sees it: what is shown stays until the next is, and no more memory is taken', () => {
  const source = makeGrid([2, 2], [60, 60]);
  const node = (id: string, type: string, inputs: NodeRecord['inputs'], settings: NodeRecord['settings'] = {}): NodeRecord => {
    return { id, type, version: 1, title: '', position: [0, 0], inputs, settings, skip: false, probes: [] };
  };
  const wires = ['in.mesh bent.mesh', 'bent.mesh up.mesh'].map((w, i) => {
    const [from, to] = w.split(' ').map((t) => ({ node: t.split('.')[0], port: t.split('.')[1] }));
    return { id: `w${i}`, from, to, pins: [] };
  });
  const document = (angle: number) => {
    const nodes = [
      node('in', 'scene-mesh', {}, { object: 'fish', space: 'own' }),
      node('bent', 'bend', { angle }, { axis: 'x' }),
      node('up', 'swell-out', { amount: 0.1 }),
    ];
    const made: GraphRecord = { id: 'g', name: 'g', nodes, wires, sections: [], preview: null };
    const assets = [{ id: 'mesh', name: 'Mesh', points: 0, faces: 0, origin: 'test' }];
    return { ...makeProject('p', 'P'), assets, objects: [makeObject('fish', 'Fish', 'mesh', { mesh: 'mesh' })], graphs: [made] };
  };
  const evaluator = new Evaluator(CATALOGUE, { arrays: { spoils: true } });
  evaluator.setAsset('mesh', source);
  const sender = new MeshSender(evaluator.arrays, true);
  const wanted = [
    { node: 'bent', port: 'mesh' },
    { node: 'up', port: 'mesh' },
  ];
  let shown: { pictures: PictureMesh[]; right: ReturnType<typeof expected>[] } | undefined;
  const taken: number[] = [];
  for (let k = 0; k < 9; k++) {
    const evaluation = evaluator.evaluate({ project: document(20 + k), frame: 1, wanted, gesture: 'drag' });
    sender.begin();
    const meshes = wanted.map((ref) => {
      const value = evaluation.value(ref);
      if (value?.form !== 'geometry') throw new Error('No mesh came.');
      return value.mesh;
    });
    // A picture now and then is stopped before it leaves: the page goes on showing the one before.
    const isStopped = k === 5;
    const pictures = meshes.map((mesh, i) => sender.meshFor(request, `m${i}`, mesh, idle));
    expect(shown?.pictures.map(contents)).toEqual(shown?.right);
    if (isStopped) continue;
    sender.commit();
    evaluator.settle();
    expect(shown?.pictures.map(contents)).toEqual(shown?.right);
    shown = { pictures, right: meshes.map(expected) };
    expect(pictures.map(contents)).toEqual(shown.right);
    taken.push(evaluator.arrays.takenBytes);
  }
  // The step that was stopped has room of its own once, as it was not shown.
  expect(new Set(taken.slice(3, 5)).size).toBe(1);
  expect(new Set(taken.slice(5)).size).toBe(1);
  expect(taken[5]).toBeLessThanOrEqual((taken[3] * 4) / 3);
});

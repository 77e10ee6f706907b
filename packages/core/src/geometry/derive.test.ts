import { expect, test } from 'vitest';
import { dropCharged, keepCharged } from '../charges.ts';
import { evaluatorOf, graph, node, project } from '../testing/build.ts';
import { derivedFrom, isDerived, letDerivedGo } from './derive.ts';
import { knownBounds, normalsOf } from './derived.ts';
import { edgesOf, neighboursOf } from './edges.ts';
import { withAttribute, withPositions, type Mesh } from './mesh.ts';
import { pointNormals } from './normals.ts';
import { makeGrid, makeSphere } from './primitives.ts';
import { makeBox } from './solids.ts';
import { shadingVertices } from './shading.ts';
import { trianglesOf } from './triangles.ts';
import { turnedCorners, turnTopology } from './turn.ts';
import { indexOf } from '../nearest/shared.ts';

const forget = () => {};
const PLACES = { names: [{ name: 'position', type: 'vector' }] } as const;

/** Bytes charged to memory by now. */
function bytesOf(memory: ArrayBufferLike): number {
  const keeper = { grew: forget };
  keepCharged(memory, keeper);
  return dropCharged(memory, keeper);
}

test('normals are worked out once for positions, topology, weighting and what corners add to', () => {
  const box = makeBox([1, 2, 3], [2, 2, 2]);
  const byAngle = normalsOf(box);
  expect(normalsOf(box)).toBe(byAngle);
  expect(normalsOf({ ...box, attributes: [] })).toBe(byAngle);
  expect([...byAngle]).toEqual([...pointNormals(box)]);
  const byArea = normalsOf(box, 'area');
  expect(byArea).not.toBe(byAngle);
  expect([...byArea]).toEqual([...pointNormals(box, 'area')]);
  const hard = new Int32Array(edgesOf(box.topology).count).fill(1);
  const { cornerVertices: of, count } = shadingVertices(
    withAttribute(box, { name: 'hard', on: 'edge', type: 'integer', role: 'plain', data: hard }),
  );
  const split = normalsOf(box, 'area', undefined, undefined, { of, count });
  expect(split.length).toBe(count * 3);
  expect(count).toBeGreaterThan(box.topology.pointCount);
  expect(normalsOf(box, 'area', undefined, undefined, { of, count })).toBe(split);
  const turned = { ...box, topology: makeBox([1, 2, 3], [2, 2, 2]).topology };
  expect(normalsOf(turned)).not.toBe(byAngle);
  expect(normalsOf(withPositions(box, box.positions.slice()))).not.toBe(byAngle);
});

test('what is worked out counts with the memory it is worked out from, once, and no more when that is let go', () => {
  const ball = makeSphere(1, 8, 12);
  const { topology, positions } = ball;
  let heard = 0;
  const keeper = { grew: (bytes: number) => void (heard += bytes) };
  expect(keepCharged(positions.buffer, keeper)).toBe(0);
  normalsOf(ball);
  normalsOf(ball);
  expect(heard).toBe(positions.byteLength);
  normalsOf(ball, 'area');
  expect(heard).toBe(2 * positions.byteLength);
  // A tree: its boxes and corners by positions; its shape, and the triangles, by topology.
  const before = bytesOf(topology.cornerPoints.buffer);
  const { packed, records, tree } = indexOf(ball, 'faces');
  expect(heard).toBe(2 * positions.byteLength + packed.byteLength + records.byteLength);
  const { corners, points, faces } = trianglesOf(topology);
  const ofTriangles = corners.byteLength + points.byteLength + faces.byteLength;
  expect(bytesOf(topology.cornerPoints.buffer) - before).toBe(ofTriangles + tree.links.byteLength + tree.order.byteLength);
  const moved = withPositions(ball, positions.slice());
  indexOf(moved, 'faces');
  expect(bytesOf(topology.cornerPoints.buffer) - before).toBe(ofTriangles + tree.links.byteLength + tree.order.byteLength);
  const withEdges = bytesOf(topology.cornerPoints.buffer);
  const { starts, points: next } = neighboursOf(topology);
  const edges = edgesOf(topology);
  expect(bytesOf(topology.cornerPoints.buffer) - withEdges).toBe(
    starts.byteLength + next.byteLength + edges.points.byteLength + edges.cornerEdges.byteLength,
  );
  // Faces turned round share all but their corners with what they were.
  const withNeighbours = bytesOf(topology.cornerPoints.buffer);
  const turned = turnTopology(topology);
  const added = turned.cornerPoints.byteLength + turnedCorners(topology).byteLength;
  expect(bytesOf(topology.cornerPoints.buffer) - withNeighbours).toBe(added);
  expect(dropCharged(positions.buffer, keeper)).toBe(heard);
  knownBounds(positions);
  expect(bytesOf(positions.buffer)).toBe(heard);
});

test('arrays of positions that are let go are forgotten, and their memory is handed back', () => {
  const positions = makeGrid([1, 1], [3, 3]).positions.slice();
  const made: Float32Array[] = [];
  const make = () => {
    made.push(new Float32Array(4));
    return made[made.length - 1];
  };
  const by = {};
  const first = derivedFrom(positions, [by, 'a'], make);
  expect(derivedFrom(positions, [by, 'a'], make)).toBe(first);
  expect(derivedFrom(positions, [by, 'b'], make)).not.toBe(first);
  expect(derivedFrom(positions, [{}, 'a'], make)).not.toBe(first);
  expect(derivedFrom(positions, [by], make)).not.toBe(first);
  expect(made.map((m) => isDerived(m.buffer))).toEqual([true, true, true, true]);
  expect(letDerivedGo(positions)).toEqual(made.map((m) => m.buffer));
  expect(made.map((m) => isDerived(m.buffer))).toEqual([false, false, false, false]);
  expect(letDerivedGo(positions)).toEqual([]);
  expect(derivedFrom(positions, [by, 'a'], make)).not.toBe(first);
});

test('a failure half way is not remembered', () => {
  const grid = makeGrid([1, 1], [3, 3]);
  const stop = () => {
    throw new Error('stopped');
  };
  expect(() => normalsOf(grid, 'angle', stop)).toThrow('stopped');
  expect(bytesOf(grid.positions.buffer)).toBe(0);
  expect([...normalsOf(grid)]).toEqual([...pointNormals(grid)]);
});

test('what is worked out from results keeps to the memory budget with them', () => {
  const mesh = makeGrid([2, 2], [60, 60]);
  const size = mesh.positions.byteLength;
  const evaluator = evaluatorOf(mesh, { cacheInBytes: 20 * size });
  const nodes = [
    node('in', 'scene-mesh', { settings: { object: 'fish', space: 'own' } }),
    node('wave', 'formula', { settings: { formula: 'position.y = sin(frame + position.x)', outputs: PLACES } }),
  ];
  const document = project([graph(nodes, ['in.mesh > wave.mesh'])]);
  const wanted = [{ node: 'wave', port: 'mesh' }];
  /** A frame as it is shown, with its normals. */
  const show = (frame: number): Mesh => {
    const value = evaluator.evaluate({ project: document, frame, wanted }).value(wanted[0]);
    if (value?.form !== 'geometry') throw new Error('No mesh came.');
    normalsOf(value.mesh, 'area');
    return value.mesh;
  };
  const held: Mesh[] = [];
  for (let frame = 0; frame < 60; frame++) {
    held.push(show(frame));
    expect(evaluator.keptBytes).toBeLessThanOrEqual(21 * size);
  }
  const kept = held.filter((_, frame) => evaluator.isKept({ project: document, frame, wanted }));
  expect(kept.length).toBeGreaterThan(4);
  expect(kept.length).toBeLessThanOrEqual(10);
  // Normals of a frame that is kept come at once; more of it counts at once.
  const before = evaluator.keptBytes;
  for (const one of kept) normalsOf(one, 'area');
  expect(evaluator.keptBytes).toBe(before);
  normalsOf(kept[0], 'angle');
  expect(evaluator.keptBytes).toBe(before + size);
  // What was dropped no longer counts.
  normalsOf(held[0], 'angle');
  expect(evaluator.keptBytes).toBe(before + size);
  evaluator.setBudget(0);
  expect(evaluator.keptBytes).toBeLessThanOrEqual(before);
});

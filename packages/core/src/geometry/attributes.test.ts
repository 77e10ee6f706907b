import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { ATTRIBUTE_PLACES, type AttributePlace } from './attributes.ts';
import { edgesOf } from './edges.ts';
import { elementCount, findAttribute, makeMesh, withAttribute, type Mesh } from './mesh.ts';
import { mergeMeshes } from './merge.ts';
import { makeDisc, makeGrid, makeSphere } from './primitives.ts';
import { borderPoints, smoothValues } from './smooth.ts';
import { moveValues } from './spread.ts';

/** Which elements of `to` touch an element of `from`, straight from the definition. */
function touching(mesh: Mesh, from: AttributePlace, to: AttributePlace): number[][] {
  const t = mesh.topology;
  const { points, cornerEdges } = edgesOf(t);
  const faceOf = (c: number) => t.faceStarts.findIndex((s, f) => c >= s && c < t.faceStarts[f + 1]);
  const corners = Array.from({ length: t.cornerCount }, (_, c) => c);
  const previous = (c: number) => (c > t.faceStarts[faceOf(c)] ? c - 1 : t.faceStarts[faceOf(c) + 1] - 1);
  const list: [number, number][] = [];
  const key = `${from}-${to}`;
  for (const c of corners) {
    const at = { point: t.cornerPoints[c], corner: c, face: faceOf(c) };
    if (from !== 'edge' && to !== 'edge') list.push([at[from], at[to]]);
    else if (key === 'corner-edge') list.push([c, cornerEdges[c]], [c, cornerEdges[previous(c)]]);
    else if (key === 'edge-corner') list.push([cornerEdges[c], c], [cornerEdges[previous(c)], c]);
    else if (key === 'face-edge') list.push([at.face, cornerEdges[c]]);
    else if (key === 'edge-face') list.push([cornerEdges[c], at.face]);
  }
  for (let e = 0; e < points.length / 2; e++) {
    for (const p of [points[e * 2], points[e * 2 + 1]]) {
      if (key === 'point-edge') list.push([p, e]);
      if (key === 'edge-point') list.push([e, p]);
    }
  }
  const out: number[][] = Array.from({ length: elementCount(t, to) }, () => []);
  for (const [a, b] of list) out[b].push(a);
  return out;
}

describe('values moved between points, corners, faces and edges', () => {
  const mesh = makeMesh(
    Float32Array.from({ length: 24 }, (_, i) => Math.sin(i)),
    Int32Array.of(0, 4, 7, 12),
    Int32Array.of(0, 1, 2, 3, 2, 1, 4, 3, 2, 4, 5, 6),
  );

  test('are the mean of what touches, as brute force finds it; what nothing touches gets 0', () => {
    for (const from of ATTRIBUTE_PLACES) {
      for (const to of ATTRIBUTE_PLACES) {
        if (from === to) continue;
        const data = Float32Array.from({ length: elementCount(mesh.topology, from) * 2 }, (_, i) => i * i + 1);
        const moved = moveValues(mesh.topology, data, 2, from, to);
        touching(mesh, from, to).forEach((list, e) => {
          for (const k of [0, 1]) {
            const mean = list.length > 0 ? list.reduce((s, a) => s + data[a * 2 + k], 0) / list.length : 0;
            expect(moved[e * 2 + k], `${from} to ${to}, ${e}`).toBeCloseTo(mean, 3);
          }
        });
      }
    }
    expect(
      moveValues(
        mesh.topology,
        Float32Array.from({ length: 8 }, () => 3),
        1,
        'point',
        'point',
      ),
    ).toEqual(new Float32Array(8).fill(3));
  });

  test('a constant stays that constant wherever it goes', () => {
    const ball = makeSphere(1, 5, 7);
    fc.assert(
      fc.property(
        fc.constantFrom(...ATTRIBUTE_PLACES),
        fc.constantFrom(...ATTRIBUTE_PLACES),
        fc.integer({ min: -9, max: 9 }),
        (from, to, v) => {
          const moved = moveValues(ball.topology, new Int32Array(elementCount(ball.topology, from)).fill(v), 1, from, to);
          expect(moved.every((x) => x === v)).toBe(true);
        },
      ),
    );
  });
});

test('smoothing evens out, keeps means of closed meshes roughly, and pins borders', () => {
  const disc = makeDisc(1, 4, 12);
  expect(borderPoints(disc.topology).reduce((a, b) => a + b, 0)).toBe(12);
  const spike = new Float32Array(disc.topology.pointCount);
  spike[0] = 1;
  const once = smoothValues(disc.topology, spike, 1, 1, false);
  expect(once[0]).toBeCloseTo(0.5, 6);
  // A point of the first ring has neighbours: the middle, two beside it, one outwards.
  expect(once[1]).toBeCloseTo(1 / 8, 6);
  const pinned = smoothValues(disc.topology, disc.positions, 3, 30, true);
  for (let i = disc.positions.length - 36; i < disc.positions.length; i++) expect(pinned[i]).toBe(disc.positions[i]);
  expect(smoothValues(disc.topology, spike, 1, 0, false)).toEqual(spike);
  const lone = makeMesh(Float32Array.of(1, 2, 3), Int32Array.of(0), new Int32Array(0));
  expect(Array.from(smoothValues(lone.topology, lone.positions, 3, 5, true))).toEqual([1, 2, 3]);
});

test('merged meshes keep points, faces and attributes in order; equal materials are one', () => {
  const named = (m: Mesh, materials: string[], index: number): Mesh =>
    withAttribute(
      { ...m, materials: materials.map((name) => ({ name, baseColour: [1, 1, 1] as const })) },
      {
        name: 'material',
        on: 'face',
        type: 'integer',
        role: 'plain',
        data: new Int32Array(m.topology.faceCount).fill(index),
      },
    );
  const a = named(makeGrid([1, 1], [2, 1]), ['Tar', 'Oak'], 1);
  const b = named(makeSphere(1, 3, 4), ['Oak'], 0);
  const w = withAttribute(b, {
    name: 'w',
    on: 'edge',
    type: 'number',
    role: 'plain',
    data: new Float32Array(elementCount(b.topology, 'edge')).fill(7),
  });
  const both = mergeMeshes([a, w]);
  expect(both.topology.pointCount).toBe(a.topology.pointCount + b.topology.pointCount);
  expect(Array.from(both.topology.cornerPoints.slice(-3))).toEqual(
    Array.from(b.topology.cornerPoints.slice(-3), (p) => p + a.topology.pointCount),
  );
  expect(Array.from(findAttribute(both, 'material', 'face')!.data)).toEqual([
    1,
    1,
    ...new Array<number>(b.topology.faceCount).fill(1),
  ]);
  const edges = findAttribute(both, 'w', 'edge')!.data;
  expect(edges.length).toBe(elementCount(both.topology, 'edge'));
  expect([edges[0], edges[edges.length - 1]]).toEqual([0, 7]);
  expect(mergeMeshes([]).topology.pointCount).toBe(0);
  // Another material of the same name stays another one.
  const other: Mesh = { ...b, materials: [{ name: 'Oak', baseColour: [0, 0, 1] }] };
  const three = mergeMeshes([a, b, other]);
  expect(three.materials.map((m) => m.name)).toEqual(['Tar', 'Oak', 'Oak 2']);
  expect(findAttribute(three, 'material', 'face')!.data.at(-1)).toBe(2);
});

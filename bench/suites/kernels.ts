import { mat4 } from 'gl-matrix';
import { computeNormals, identity, makeGrid, multiply, randomFrom } from '@umberfish/core';
import { compare, sink, type Trial } from '../measure.ts';

/** Kernels that everything leans on. */
export function kernelSuite(): Trial[] {
  const random = randomFrom(3);
  const count = 2000;
  const mine = Array.from({ length: count }, () => Float64Array.from({ length: 16 }, random));
  const theirs = mine.map((m) => mat4.clone(m as unknown as mat4));
  const out = identity();
  const other = mat4.create();
  const rounds = (work: (i: number) => void) => () => {
    for (let r = 0; r < 50; r++) for (let i = 0; i + 1 < count; i++) work(i);
  };
  const grid = makeGrid([4, 4], [499, 499]);
  const normals = new Float32Array(grid.positions.length);
  const { positions: p, topology } = grid;
  const byHand = () => {
    normals.fill(0);
    const { cornerPoints } = topology;
    for (let c = 0; c < cornerPoints.length; c += 4) {
      const a = cornerPoints[c] * 3,
        b = cornerPoints[c + 1] * 3,
        d = cornerPoints[c + 2] * 3,
        e = cornerPoints[c + 3] * 3;
      const ux = p[d] - p[a],
        uy = p[d + 1] - p[a + 1],
        uz = p[d + 2] - p[a + 2];
      const vx = p[e] - p[b],
        vy = p[e + 1] - p[b + 1],
        vz = p[e + 2] - p[b + 2];
      const nx = uy * vz - uz * vy,
        ny = uz * vx - ux * vz,
        nz = ux * vy - uy * vx;
      for (let k = 0; k < 4; k++) {
        const o = cornerPoints[c + k] * 3;
        normals[o] += nx;
        normals[o + 1] += ny;
        normals[o + 2] += nz;
      }
    }
    for (let i = 0; i < normals.length; i += 3) {
      const l = Math.hypot(normals[i], normals[i + 1], normals[i + 2]) || 1;
      normals[i] /= l;
      normals[i + 1] /= l;
      normals[i + 2] /= l;
    }
    sink.value += normals[1];
  };
  const ours = () => {
    computeNormals(normals, p, topology, topology.cornerPoints, 'area');
    sink.value += normals[1];
  };
  return [
    compare(
      '4×4 multiply ÷ gl-matrix',
      rounds((i) => (sink.value += multiply(out, mine[i], mine[i + 1])[0])),
      rounds((i) => (sink.value += mat4.multiply(other, theirs[i], theirs[i + 1])[0])),
      'lower',
      1.1,
    ),
    compare('normals by area of any polygons, 250,000 points ÷ a hand-written loop for quads', ours, byHand, 'lower', 1.5),
  ];
}

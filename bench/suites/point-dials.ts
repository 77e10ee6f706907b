import { makeSphere, readGradient, trianglesOf } from '@umberfish/core';
import { indexOf } from '../../packages/core/src/nearest/index.ts';
import { compileGradient, UMBER_GRADIENT } from '../../packages/core/src/maths/gradient.ts';
import { normalsOf } from '../../packages/core/src/geometry/derived.ts';
import { node } from '../../packages/core/src/testing/build.ts';
import type { Trial } from '../measure.ts';
import { lineOf, wavy, type DialLine } from './dial-line.ts';

/** Every tenth point moved by hand, a little. */
function moved(points: number) {
  const index = Array.from({ length: Math.floor(points / 10) }, (_, i) => i * 10);
  return { points, index, moves: index.flatMap((i) => [0, Math.sin(i) / 10, 0]) };
}

export function pointDialTrials(): Trial[] {
  const mesh = wavy(999);
  const small = wavy(349);
  const turn = Math.PI / 180;
  const { positions: q } = mesh;
  const offsets = moved(mesh.topology.pointCount);
  // As in a document whose dial is dragged: settings that did not change are the same object.
  const byHand = { offsets };
  const [index, moves] = [Int32Array.from(offsets.index), Float64Array.from(offsets.moves)];
  const ball = makeSphere(3, 40, 60);
  const near = indexOf(ball, 'faces');
  const { points } = trianglesOf(ball.topology);
  const normals = normalsOf(ball);
  const gradient = compileGradient(UMBER_GRADIENT);
  const heights = new Float64Array(1025).map((_, i) => 0.5 + i / 1024);
  const one = (of: Omit<DialLine, 'mesh' | 'wires'> & Partial<DialLine>) => lineOf({ mesh, wires: [], ...of });
  return [
    one({
      name: 'Transform, turn moved',
      nodes: (k) => [node('it', 'transform', { inputs: { rotate: [0, k, 0], translate: [1, 2, 3] } })],
      dial: (k) => 10 + k,
      byHand: (out, p, degrees) => {
        const c = Math.cos(degrees * turn);
        const s = Math.sin(degrees * turn);
        const [m0, m1, m2, m4, m5, m6, m8, m9, m10, m12, m13, m14] = [c, 0, -s, 0, 1, 0, s, 0, c, 1, 2, 3];
        for (let o = 0; o < p.length; o += 3) {
          const x = p[o],
            y = p[o + 1],
            z = p[o + 2];
          out[o] = m0 * x + m4 * y + m8 * z + m12;
          out[o + 1] = m1 * x + m5 * y + m9 * z + m13;
          out[o + 2] = m2 * x + m6 * y + m10 * z + m14;
        }
      },
    }),
    one({
      name: 'Transform, straight, weight moved',
      nodes: (k) => [node('it', 'transform', { inputs: { translate: [1, 2, 3], weight: k }, settings: { mix: 'straight' } })],
      dial: (k) => 0.2 + k / 200,
      byHand: (out, p, w) => {
        const [m0, m1, m2, m4, m5, m6, m8, m9, m10, m12, m13, m14] = [1, 0, 0, 0, 1, 0, 0, 0, 1, 1, 2, 3];
        for (let o = 0; o < p.length; o += 3) {
          const x = p[o],
            y = p[o + 1],
            z = p[o + 2];
          out[o] = x + w * (m0 * x + m4 * y + m8 * z + m12 - x);
          out[o + 1] = y + w * (m1 * x + m5 * y + m9 * z + m13 - y);
          out[o + 2] = z + w * (m2 * x + m6 * y + m10 * z + m14 - z);
        }
      },
    }),
    one({
      name: 'Move Points, offset moved',
      nodes: (k) => [node('it', 'move-points', { inputs: { offset: [k, 0.1, 0] } })],
      dial: (k) => 0.2 + k / 200,
      byHand: (out, p, x) => {
        for (let o = 0; o < p.length; o += 3) {
          out[o] = p[o] + x;
          out[o + 1] = p[o + 1] + 0.1;
          out[o + 2] = p[o + 2];
        }
      },
    }),
    one({
      name: 'Ease To Rest, weight moved',
      nodes: (k) => [
        node('rest', 'remember-rest'),
        node('up', 'move-points', { inputs: { offset: [0, 1, 0] } }),
        node('it', 'ease-to-rest', { inputs: { weight: k } }),
      ],
      wires: ['in.mesh > rest.mesh', 'rest.mesh > up.mesh', 'up.mesh > it.mesh'],
      dial: (k) => 0.2 + k / 200,
      byHand: (() => {
        const up = new Float32Array(q.length).map((_, i) => q[i] + (i % 3 === 1 ? 1 : 0));
        return (out, p, w) => {
          for (let o = 0; o < p.length; o += 3) {
            out[o] = up[o] + (p[o] - up[o]) * w;
            out[o + 1] = up[o + 1] + (p[o + 1] - up[o + 1]) * w;
            out[o + 2] = up[o + 2] + (p[o + 2] - up[o + 2]) * w;
          }
        };
      })(),
    }),
    one({
      name: 'Hand Offsets, 100,000 of them, weight moved',
      nodes: (k) => [node('it', 'hand-offsets', { inputs: { weight: k }, settings: byHand })],
      dial: (k) => 0.2 + k / 200,
      byHand: (out, p, w) => {
        out.set(p);
        for (let i = 0; i < index.length; i++) {
          const o = index[i] * 3;
          out[o] += moves[i * 3] * w;
          out[o + 1] += moves[i * 3 + 1] * w;
          out[o + 2] += moves[i * 3 + 2] * w;
        }
      },
    }),
    one({
      name: 'Profile Shape, size moved',
      nodes: (k) => [
        node('line', 'make-line', { inputs: { from: [-2, 0.5, 0], to: [2, 1.5, 0] } }),
        node('it', 'profile-shape', { inputs: { size: k }, settings: { axis: 'x', how: 'factor' } }),
      ],
      wires: ['line.curves > it.curves'],
      dial: (k) => 0.5 + k / 200,
      byHand: (out, p, size) => {
        for (let o = 0; o < p.length; o += 3) {
          const at = ((p[o] + 2) / 4) * 1024;
          const k = at >= 1024 ? 1023 : at > 0 ? Math.floor(at) : 0;
          const factor = (heights[k] + (heights[k + 1] - heights[k]) * (at - k)) * size;
          out[o] = p[o];
          out[o + 1] = p[o + 1] * factor;
          out[o + 2] = p[o + 2] * factor;
        }
      },
    }),
    one({
      name: 'Colour By, to moved',
      attribute: 'colour',
      nodes: (k) => [
        node('values', 'point-values'),
        node('split', 'split-vector'),
        node('it', 'colour-by', { inputs: { from: -2, to: k }, settings: { gradient: UMBER_GRADIENT } }),
      ],
      wires: ['in.mesh > values.mesh', 'values.positions > split.vector', 'split.x > it.value'],
      dial: (k) => 1 + k / 200,
      byHand: (out, p, to) => {
        for (let o = 0; o < p.length; o += 3) readGradient(out, o, gradient, (p[o] + 2) / (to + 2));
      },
    }),
    one({
      name: 'Settle On Surface',
      port: 'geometry',
      rounds: 3,
      mesh: small,
      nodes: (k) => [
        node('ball', 'make-sphere', { inputs: { radius: 3, rings: 40, segments: 60 } }),
        node('it', 'settle-on-surface', { inputs: { clearance: k } }),
      ],
      wires: ['in.mesh > it.geometry', 'ball.mesh > it.target'],
      dial: (k) => 0.1 + k / 1000,
      byHand: (out, p, clearance) => {
        const b = ball.positions;
        let last = -1;
        for (let o = 0; o < p.length; o += 3) {
          const t = (last = near.nearest(p[o], p[o + 1], p[o + 2], Infinity, last)) * 3;
          const [i, j, k] = [points[t] * 3, points[t + 1] * 3, points[t + 2] * 3];
          const { weightB: v, weightC: w } = near;
          const u = 1 - v - w;
          const x = normals[i] * u + normals[j] * v + normals[k] * w;
          const y = normals[i + 1] * u + normals[j + 1] * v + normals[k + 1] * w;
          const z = normals[i + 2] * u + normals[j + 2] * v + normals[k + 2] * w;
          const by = clearance / Math.sqrt(x * x + y * y + z * z);
          out[o] = b[i] * u + b[j] * v + b[k] * w + x * by;
          out[o + 1] = b[i + 1] * u + b[j + 1] * v + b[k + 1] * w + y * by;
          out[o + 2] = b[i + 2] * u + b[j + 2] * v + b[k + 2] * w + z * by;
        }
      },
    }),
  ];
}

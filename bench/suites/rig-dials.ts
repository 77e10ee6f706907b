import { framesOf, normalsOf, packWeights, skinPose, tracksOf, withWeights, type Mesh } from '@umberfish/core';
import { evaluatorOf, graph, node, project } from '../../packages/core/src/testing/build.ts';
import type { Value } from '../../packages/core/src/graph/node/values.ts';
import type { Trial } from '../measure.ts';
import { lineOf, wavy } from './dial-line.ts';

/** What lies along x, and what it is bent to. */
const CURVES = [
  node('line', 'make-line', { inputs: { from: [-2, 0, 0], to: [2, 0, 0], points: 9 } }),
  node('spiral', 'make-spiral', { inputs: { radius: 2, radiusEnd: 1, height: 1.5, turns: 2 } }),
];
const JOINTS = 8;
const CHAIN = node('chain', 'make-chain', { inputs: { count: JOINTS } });
const TO_CHAIN = ['spiral.curves > chain.curves', 'line.curves > chain.rest'];

/** A value of a graph of curves and joints alone. */
function valueOf<F extends Value['form']>(mesh: Mesh, from: string, port: string, form: F): Extract<Value, { form: F }> {
  const ref = { node: from, port };
  const document = project([graph([...CURVES, CHAIN], TO_CHAIN)]);
  const value = evaluatorOf(mesh)
    .evaluate({ project: document, frame: 1, wanted: [ref] })
    .value(ref);
  if (value?.form !== form) throw new Error(`${from}.${port} is no ${form}.`);
  return value as Extract<Value, { form: F }>;
}

/** Nodes of rigs whose dial is moved, beside loops of the same mathematics. */
export const rigDialTrials = (): Trial[] => [layLine(), correctLine()];

/** Along a curve: the sample before by a table of the length, a cubic between two, frames brought to length 1 by one step. */
function layLine(): Trial {
  const mesh = wavy(999);
  const track = tracksOf(valueOf(mesh, 'spiral', 'curves', 'curves').curves)[0];
  const { positions: c, tangents: t, lengths, length, guide, count } = track;
  const { normals: n, binormals: b } = framesOf(track, { by: 'least', up: [0, 1, 0] });
  const { positions: q } = mesh;
  let [low, high] = [Infinity, -Infinity];
  for (let o = 1; o < q.length; o += 3) [low, high] = [Math.min(low, q[o]), Math.max(high, q[o])];
  const middle = (low + high) / 2;
  return lineOf({
    name: 'Lay Along Curve, start moved',
    mesh,
    nodes: (k) => [...CURVES, node('it', 'lay-along-curve', { inputs: { start: k }, settings: { axis: 'x' } })],
    wires: ['spiral.curves > it.curves'],
    dial: (k) => 0.1 + k / 500,
    byHand: (out, p, start) => {
      const parts = guide.length;
      for (let o = 0; o < p.length; o += 3) {
        const s = p[o] + 2 + start * length;
        let i = guide[Math.floor((s / length) * parts)];
        while (lengths[i + 1] <= s) i++;
        const step = lengths[i + 1] - lengths[i];
        const f = (s - lengths[i]) / step;
        const e = 1 - f;
        const k = i * 3;
        const h1 = f * f * (3 - 2 * f),
          h2 = f * e * e * step,
          h3 = f * f * e * step;
        const nx = n[k] * e + n[k + 3] * f,
          ny = n[k + 1] * e + n[k + 4] * f,
          nz = n[k + 2] * e + n[k + 5] * f;
        const bx = b[k] * e + b[k + 3] * f,
          by = b[k + 1] * e + b[k + 4] * f,
          bz = b[k + 2] * e + b[k + 5] * f;
        const y = (p[o + 1] - middle) * (1.5 - 0.5 * (nx * nx + ny * ny + nz * nz));
        const z = p[o + 2] * (1.5 - 0.5 * (bx * bx + by * by + bz * bz));
        out[o] = c[k] + (c[k + 3] - c[k]) * h1 + t[k] * h2 - t[k + 3] * h3 + nx * y + bx * z;
        out[o + 1] = c[k + 1] + (c[k + 4] - c[k + 1]) * h1 + t[k + 1] * h2 - t[k + 4] * h3 + ny * y + by * z;
        out[o + 2] = c[k + 2] + (c[k + 5] - c[k + 2]) * h1 + t[k + 2] * h2 - t[k + 5] * h3 + nz * y + bz * z;
      }
      if (count < 2) throw new Error('The curve is too short.');
    },
  });
}

/** Offsets that turn with a skin of four joints a point. */
function correctLine(): Trial {
  const plain = wavy(446);
  const { chain } = valueOf(plain, 'chain', 'chain', 'chain');
  const points = plain.topology.pointCount;
  const columns = Array.from({ length: JOINTS }, () => new Float32Array(points));
  for (let p = 0; p < points; p++) {
    const first = Math.min(JOINTS - 4, Math.max(0, Math.floor((plain.positions[p * 3] + 2) * 2) - 1));
    for (let k = 0; k < 4; k++) columns[first + k][p] = [0.4, 0.3, 0.2, 0.1][k];
  }
  const mesh = withWeights(plain, chain, columns);
  const packed = packWeights(mesh, chain);
  const [four, weights] = [Int32Array.from(packed.joints), Float32Array.from(packed.weights)];
  const { matrices: m } = skinPose(chain);
  const offset = normalsOf(mesh);
  return lineOf({
    name: 'Correct By Pose, weight moved',
    mesh,
    nodes: (k) => [
      ...CURVES,
      CHAIN,
      node('values', 'point-values'),
      node('it', 'correct-by-pose', { inputs: { weight: k, from: 0, to: 0 }, settings: { joint: 'Joint 3' } }),
    ],
    wires: [...TO_CHAIN, 'in.mesh > values.mesh', 'values.normals > it.offset', 'chain.chain > it.chain'],
    dial: (k) => 0.2 + k / 200,
    rounds: 30,
    byHand: (out, p, weight) => {
      for (let o = 0, at = 0; o < p.length; o += 3, at += 4) {
        const x = offset[o],
          y = offset[o + 1],
          z = offset[o + 2];
        let a = 0,
          b = 0,
          c = 0;
        for (let k = at; k < at + 4; k++) {
          const w = weights[k];
          const j = four[k] * 16;
          a += w * (m[j] * x + m[j + 4] * y + m[j + 8] * z);
          b += w * (m[j + 1] * x + m[j + 5] * y + m[j + 9] * z);
          c += w * (m[j + 2] * x + m[j + 6] * y + m[j + 10] * z);
        }
        out[o] = p[o] + weight * a;
        out[o + 1] = p[o + 1] + weight * b;
        out[o + 2] = p[o + 2] + weight * c;
      }
    },
  });
}

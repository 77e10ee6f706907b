import { compileResponse, fractalNoise4, makeGrid, makeNoise, normalsOf, respond, RESPONSE_PRESETS } from '@umberfish/core';
import { evaluatorOf, graph, node, project } from '../../packages/core/src/testing/build.ts';
import { compare, sink, type Trial } from '../measure.ts';

/** One loop that does what a node does: the new positions of all points, for a dial. */
type ByHand = (out: Float32Array, p: Readonly<Float32Array>, dial: number) => void;

/**
 * Nodes that take a mesh: one dial moved at each turn on a grid of a million points, beside a hand-written loop of the same
 * mathematics into fresh memory. Normals of the grid are known in both: it does not change.
 */
export function nodesSuite(): Trial[] {
  return dialTrials();
}

function dialTrials(): Trial[] {
  const mesh = makeGrid([4, 4], [999, 999]);
  for (let i = 0, p = mesh.positions as Float32Array; i < p.length; i += 3) p[i + 1] = 0.3 * Math.sin(3 * p[i] + p[i + 2]);
  const p = mesh.positions;
  const n = normalsOf(mesh);
  const evaluator = evaluatorOf(mesh, { arrays: {} });
  const one = (type: string, dial: string, typed: (k: number) => number, byHand: ByHand, inputs = {}, settings = {}): Trial => {
    let step = 0;
    const wanted = [{ node: 'it', port: 'mesh' }];
    const gesture = `${type} ${dial}`;
    const run = () => {
      const k = typed(step++ % 97);
      const it = node('it', type, { inputs: { ...inputs, [dial]: k }, settings });
      const source = node('in', 'scene-mesh', { settings: { object: 'fish', space: 'own' } });
      const value = evaluator
        .evaluate({ project: project([graph([source, it], ['in.mesh > it.mesh'])]), frame: 1, wanted, gesture })
        .value(wanted[0]);
      evaluator.settle();
      if (value?.form !== 'geometry') throw new Error(`${type} gave no mesh.`);
      sink.value += value.mesh.positions[1];
      return value.mesh.positions;
    };
    const loop = () => {
      const out = new Float32Array(p.length);
      byHand(out, p, typed(step % 97));
      sink.value += out[1];
      return out;
    };
    // The loop is the same mathematics, or the line says nothing.
    const mine = run();
    step = 0;
    loop().forEach((v, i) => {
      if (Math.abs(v - mine[i]) > 1e-5) throw new Error(`${type}: number ${i} is ${mine[i]}, by hand ${v}.`);
    });
    // What is kept would come at once.
    step = 1;
    return compare(`${type}, ${dial} moved, 1,000,000 points ÷ a hand-written loop`, run, loop, 'lower', 1.3, 15);
  };
  const turn = Math.PI / 180;
  const ease = compileResponse(RESPONSE_PRESETS['Ease down']);
  const straight = compileResponse(RESPONSE_PRESETS.Straight);
  const field = makeNoise(1);
  const bend: ByHand = (out, q, degrees) => {
    const angle = degrees * turn;
    const radius = 4 / angle;
    for (let o = 0; o < q.length; o += 3) {
      const h = q[o] + 2;
      out[o + 2] = q[o + 2];
      if (h <= 0) {
        out[o] = q[o];
        out[o + 1] = q[o + 1];
        continue;
      }
      const within = h < 4 ? h : 4;
      const a = (angle * within) / 4;
      const c = Math.cos(a);
      const s = Math.sin(a);
      out[o] = (radius - q[o + 1]) * s - 2 + (h - within) * c;
      out[o + 1] = radius - (radius - q[o + 1]) * c + (h - within) * s;
    }
  };
  const twist: ByHand = (out, q, degrees) => {
    const whole = degrees * turn;
    for (let o = 0; o < q.length; o += 3) {
      const t = (q[o] + 2) / 4;
      const angle = whole * (t > 0 ? (t < 1 ? t : 1) : 0);
      const c = Math.cos(angle);
      const s = Math.sin(angle);
      out[o] = q[o];
      out[o + 1] = q[o + 1] * c - q[o + 2] * s;
      out[o + 2] = q[o + 1] * s + q[o + 2] * c;
    }
  };
  const taper: ByHand = (out, q, end) => {
    for (let o = 0; o < q.length; o += 3) {
      const size = 1 + (end - 1) * respond(straight, (q[o] + 2) / 4);
      out[o] = q[o];
      out[o + 1] = q[o + 1] * size;
      out[o + 2] = q[o + 2] * size;
    }
  };
  const swell: ByHand = (out, q, amount) => {
    for (let o = 0; o < q.length; o += 3) {
      const by = amount;
      out[o] = q[o] + n[o] * by;
      out[o + 1] = q[o + 1] + n[o + 1] * by;
      out[o + 2] = q[o + 2] + n[o + 2] * by;
    }
  };
  const bulge: ByHand = (out, q, height) => {
    for (let o = 0; o < q.length; o += 3) {
      const d = Math.sqrt(q[o] * q[o] + q[o + 1] * q[o + 1] + q[o + 2] * q[o + 2]) / 1.5;
      const by = d < 1 ? height * respond(ease, d) : 0;
      out[o] = q[o] + n[o] * by;
      out[o + 1] = q[o + 1] + n[o + 1] * by;
      out[o + 2] = q[o + 2] + n[o + 2] * by;
    }
  };
  const waves: ByHand = (out, q, height) => {
    for (let o = 0; o < q.length; o += 3) {
      const d = Math.sqrt(q[o] * q[o] + q[o + 1] * q[o + 1] + q[o + 2] * q[o + 2]);
      const left = d < 2 ? 1 - d / 2 : 0;
      const by = height * left * left * Math.cos(4 * Math.PI * d);
      out[o] = q[o] + n[o] * by;
      out[o + 1] = q[o + 1] + n[o + 1] * by;
      out[o + 2] = q[o + 2] + n[o + 2] * by;
    }
  };
  const noise: ByHand = (out, q, amount) => {
    for (let o = 0; o < q.length; o += 3) {
      const by = amount * fractalNoise4(field, q[o] * 2, q[o + 1] * 2, q[o + 2] * 2, 0, 3, 2, 0.5);
      out[o] = q[o] + n[o] * by;
      out[o + 1] = q[o + 1] + n[o + 1] * by;
      out[o + 2] = q[o + 2] + n[o + 2] * by;
    }
  };
  const tenth = (k: number) => 0.1 + k * 1e-3;
  return [
    one('bend', 'angle', (k) => 60 + k, bend, {}, { axis: 'x' }),
    one('twist', 'angle', (k) => 90 + k, twist, {}, { axis: 'x' }),
    one('taper', 'end', (k) => 0.5 + k * 1e-3, taper, {}, { axis: 'x' }),
    one('swell-out', 'amount', tenth, swell),
    one('bulge', 'height', tenth, bulge, { radius: 1.5 }),
    one('ring-waves', 'height', tenth, waves, { time: 0 }),
    one('swell-by-noise', 'amount', tenth, noise, {}, { rest: false }),
  ];
}

import {
  makeChain,
  packWeights,
  skinDual,
  skinLinear,
  skinPose,
  translation,
  withPosed,
  withWeights,
  makeGrid,
  type Chain,
} from '@umberfish/core';
import { forwardPass, localsOf } from '../../packages/core/src/chains/chain.ts';
import { solve, type ReachTarget } from '../../packages/core/src/chains/solve.ts';
import { turnAboutAxis } from '../../packages/core/src/chains/turns.ts';
import { multiply } from '../../packages/core/src/maths/matrix.ts';
import { compare, sink, type Trial } from '../measure.ts';

const LINEAR = 1.3;
const DUAL = 1.5;
/** Forward passes that a solve may cost, in hundreds: one by itself is over too soon to be measured. */
const HUNDREDS = 1.5;

/** Skins of 200,000 points at four weights beside hand-written loops; a body's solve beside forward passes of its joints. */
export function chainsSuite(): Trial[] {
  return [...skins(), whole()];
}

function skins(): Trial[] {
  const mesh = makeGrid([4, 4], [446, 446]);
  const n = mesh.topology.pointCount;
  const joints = 40;
  const { chain } = makeChain(
    Array.from({ length: joints }, (_, i) => ({
      name: `J${i}`,
      parent: i - 1,
      rest: translation([i * 0.1 - 2, 0, 0]),
      posed: translation([i * 0.1 - 2, 0, 0]),
    })),
  );
  const columns = Array.from({ length: joints }, () => new Float32Array(n));
  for (let p = 0; p < n; p++) {
    const first = Math.min(joints - 4, Math.max(0, Math.floor((mesh.positions[p * 3] + 2) * 10) - 1));
    for (let k = 0; k < 4; k++) columns[first + k][p] = [0.4, 0.3, 0.2, 0.1][k];
  }
  const bound = withWeights(mesh, chain, columns);
  const packed = packWeights(bound, chain);
  const posed = chain.posed.slice();
  for (let j = 0; j < joints; j++) {
    const turn = turnAboutAxis([j * 0.1 - 2, 0, 0], [1, 0, 0], j * 0.02);
    posed.set(multiply(turn, turn, posed.subarray(j * 16, j * 16 + 16)), j * 16);
  }
  const pose = skinPose(withPosed(chain, posed));
  const { matrices } = pose;
  // By hand: indices and weights four by four, as a program written for four would have them.
  const four = Int32Array.from(packed.joints);
  const weights = Float32Array.from(packed.weights);
  const [out, hand] = [new Float32Array(n * 3), new Float32Array(n * 3)];
  const rows = new Float64Array(joints * 12);
  for (let j = 0; j < joints; j++)
    for (let r = 0; r < 3; r++) for (let c = 0; c < 4; c++) rows[j * 12 + r * 4 + c] = matrices[j * 16 + c * 4 + r];
  const linearByHand = () => {
    const p = mesh.positions;
    for (let i = 0, o = 0, w = 0; i < n; i++, o += 3, w += 4) {
      const x = p[o],
        y = p[o + 1],
        z = p[o + 2];
      let a = 0,
        b = 0,
        c = 0;
      for (let k = w; k < w + 4; k++) {
        const m = four[k] * 12;
        const s = weights[k];
        a += s * (rows[m] * x + rows[m + 1] * y + rows[m + 2] * z + rows[m + 3]);
        b += s * (rows[m + 4] * x + rows[m + 5] * y + rows[m + 6] * z + rows[m + 7]);
        c += s * (rows[m + 8] * x + rows[m + 9] * y + rows[m + 10] * z + rows[m + 11]);
      }
      hand[o] = a;
      hand[o + 1] = b;
      hand[o + 2] = c;
    }
  };
  const duals = dualsOf(matrices);
  const dualByHand = () => {
    const p = mesh.positions;
    for (let i = 0, o = 0, w = 0; i < n; i++, o += 3, w += 4) {
      let a = 0,
        b = 0,
        c = 0,
        d = 0,
        e = 0,
        f = 0,
        g = 0,
        h = 0;
      for (let k = w; k < w + 4; k++) {
        const m = four[k] * 8;
        const s = weights[k];
        a += s * duals[m];
        b += s * duals[m + 1];
        c += s * duals[m + 2];
        d += s * duals[m + 3];
        e += s * duals[m + 4];
        f += s * duals[m + 5];
        g += s * duals[m + 6];
        h += s * duals[m + 7];
      }
      const l = 1 / Math.sqrt(a * a + b * b + c * c + d * d);
      a *= l;
      b *= l;
      c *= l;
      d *= l;
      e *= l;
      f *= l;
      g *= l;
      h *= l;
      const x = p[o],
        y = p[o + 1],
        z = p[o + 2];
      const tx = 2 * (b * z - c * y),
        ty = 2 * (c * x - a * z),
        tz = 2 * (a * y - b * x);
      hand[o] = x + d * tx + b * tz - c * ty + 2 * (d * e - h * a + b * g - c * f);
      hand[o + 1] = y + d * ty + c * tx - a * tz + 2 * (d * f - h * b + c * e - a * g);
      hand[o + 2] = z + d * tz + a * ty - b * tx + 2 * (d * g - h * c + a * f - b * e);
    }
  };
  const same = (name: string) => {
    out.forEach((v, i) => {
      if (Math.abs(v - hand[i]) > 1e-4) throw new Error(`${name}: number ${i} is ${v}, by hand ${hand[i]}.`);
    });
  };
  skinLinear(out, mesh.positions, packed, matrices);
  linearByHand();
  same('Skin, linear');
  skinDual(out, mesh.positions, packed, pose);
  dualByHand();
  same('Skin, dual quaternions');
  return [
    compare(
      'Skin, linear',
      () => void (sink.value += skinLinear(out, mesh.positions, packed, matrices)[1]),
      () => {
        linearByHand();
        sink.value += hand[1];
      },
      'lower',
      LINEAR,
      15,
    ),
    compare(
      'Skin, dual quaternions',
      () => void (sink.value += skinDual(out, mesh.positions, packed, pose)[1]),
      () => {
        dualByHand();
        sink.value += hand[1];
      },
      'lower',
      DUAL,
      15,
    ),
  ];
}

/** Rotation and place of each matrix as a dual quaternion; these are rigid. */
function dualsOf(matrices: Float64Array): Float64Array {
  const out = new Float64Array((matrices.length / 16) * 8);
  for (let j = 0; j < matrices.length / 16; j++) {
    const m = matrices.subarray(j * 16, j * 16 + 16);
    // All turn about x: w and x are enough.
    const w = Math.sqrt(Math.max(0, 1 + m[0] + m[5] + m[10])) / 2;
    const [x, y, z] = [(m[6] - m[9]) / (4 * w), (m[8] - m[2]) / (4 * w), (m[1] - m[4]) / (4 * w)];
    const [tx, ty, tz] = [m[12], m[13], m[14]];
    out.set(
      [
        x,
        y,
        z,
        w,
        (tx * w + ty * z - tz * y) / 2,
        (ty * w + tz * x - tx * z) / 2,
        (tz * w + tx * y - ty * x) / 2,
        -(tx * x + ty * y + tz * z) / 2,
      ],
      j * 8,
    );
  }
  return out;
}

/** A body of 80 joints with six limbs, whose ends go to where they are in another pose. */
function whole(): Trial {
  const joints: Parameters<typeof makeChain>[0][number][] = [];
  const ends: number[] = [];
  const limb = (parent: number, from: [number, number, number], step: [number, number, number], count: number) => {
    let p = parent;
    for (let i = 0; i < count; i++) {
      const m = translation([from[0] + step[0] * i, from[1] + step[1] * i, from[2] + step[2] * i + 0.02 * Math.sin(i)]);
      joints.push({ name: `J${joints.length}`, parent: p, rest: m, posed: m });
      p = joints.length - 1;
    }
    ends.push(p);
    return p;
  };
  const chest = limb(-1, [0, 1, 0], [0, 0.06, 0], 12);
  ends.pop();
  for (const x of [1, -1]) {
    limb(chest, [0.15 * x, 1.6, 0], [0.08 * x, -0.03, 0], 12);
    limb(0, [0.1 * x, 0.95, 0], [0.005 * x, -0.105, 0], 12);
  }
  limb(chest, [0, 1.75, 0], [0, 0.05, 0.02], 10);
  limb(0, [0, 1, -0.1], [0, -0.02, -0.08], 10);
  const made = makeChain(joints);
  const chain: Chain = made.chain;
  const at = ends.map((e) => made.order.indexOf(e));
  const targets = at.map((joint, i): ReachTarget => {
    const [x, y, z] = chain.posed.subarray(joint * 16 + 12, joint * 16 + 15);
    return { joint, place: [x * 0.9, y + (i % 2 ? 0.08 : -0.05), z + 0.07], placeWeight: 1, turn: undefined, turnWeight: 0 };
  });
  const options = {
    joints: chain.names.map((_, i) => i),
    targets,
    centre: undefined,
    rootMoves: 1,
    useLimits: true,
    rounds: 30,
    tolerance: 1e-3 * 1.8,
  };
  const solved = solve(chain, options);
  if (Math.max(...solved.residuals) > 1.8e-3) throw new Error(`The body misses a target by ${Math.max(...solved.residuals)} m.`);
  const locals = localsOf(chain.parents, chain.posed);
  const worlds = new Float64Array(locals.length);
  return compare(
    `Whole-Body Reach, ${chain.count} joints, ${targets.length} targets ÷ 100 forward passes`,
    () => void (sink.value += solve(chain, options).posed[12]),
    () => {
      for (let i = 0; i < 100; i++) sink.value += forwardPass(chain.parents, locals, worlds)[12];
    },
    'lower',
    HUNDREDS,
    100,
  );
}

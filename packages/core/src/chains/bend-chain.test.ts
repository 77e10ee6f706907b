import { expect, test } from 'vitest';
import { compose } from '../maths/factors.ts';
import { identity, matrixAt, multiply, positionOf, translation } from '../maths/matrix.ts';
import { randomFrom } from '../maths/random.ts';
import { cross, dot, length, normalize, subtract, type Vec3 } from '../maths/vector.ts';
import { bones, placeIn, popRatio, row } from '../testing/limbs.ts';
import { bendChain, type BendOptions } from './bend-chain.ts';
import { forwardPass, localsOf, makeChain, withPosed, type Chain } from './chain.ts';
import { turnAboutAxis } from './turns.ts';

const options = (target: Vec3, extra: Partial<BendOptions> = {}): BendOptions => ({
  root: 0,
  middle: 1,
  tip: 2,
  target,
  targetTurn: undefined,
  rollTarget: undefined,
  roll: 0,
  soft: 0,
  stretch: 0,
  longest: 1,
  squash: 0,
  shortest: 1,
  keepRootRoll: false,
  tipTurn: 'carried',
  tipOffset: undefined,
  blend: 1,
  ...extra,
});
const LIMB = row(4, 0.4);
const tipOf = (r: { posed: Float64Array }) => placeIn(r.posed, 2);

test('the tip is at the target wherever it is in reach, bones keep their length, and the middle is where two spheres meet', () => {
  const random = randomFrom(1);
  for (let k = 0; k < 500; k++) {
    const far = 0.05 + random() * 1.9;
    const d = normalize([random() - 0.5, random() - 0.5, random() - 0.5]);
    const target: Vec3 = [d[0] * far, d[1] * far, d[2] * far];
    const r = bendChain(LIMB, options(target));
    expect(r.trouble).toEqual([]);
    expect(r.residual).toBeLessThan(2e-9);
    expect(length(subtract(tipOf(r), target))).toBeLessThan(2e-9);
    bones(LIMB, r.posed).forEach((b, i) => expect(b).toBeCloseTo(bones(LIMB)[i], 9));
  }
});

test('the middle bends towards the roll target, in the plane of root, target and it; a roll turns that plane', () => {
  const rollTarget: Vec3 = [0.3, 2, 1];
  for (const roll of [0, 0.7, -2]) {
    const target: Vec3 = [1.1, 0.2, -0.4];
    const r = bendChain(LIMB, options(target, { rollTarget, roll }));
    const middle = placeIn(r.posed, 1);
    const line = normalize(target);
    const normal = normalize(cross(line, subtract(rollTarget, [0, 0, 0])));
    const across = normalize(cross(line, middle));
    expect(dot(normal, across)).toBeCloseTo(Math.cos(roll), 9);
    if (roll === 0) expect(dot(middle, subtract(rollTarget, middle))).toBeGreaterThan(0);
  }
});

test('at its own pose nothing moves, with a roll target in its plane or none; half of it is half the turn', () => {
  const target = placeIn(LIMB.posed, 2);
  const own = bendChain(LIMB, options(target));
  own.posed.forEach((v, i) => expect(v).toBeCloseTo(LIMB.posed[i], 8));
  const bulge = placeIn(LIMB.posed, 1);
  const rolled = bendChain(LIMB, options(target, { rollTarget: [bulge[0] * 1, bulge[1] - 3, 0] }));
  rolled.posed.forEach((v, i) => expect(v).toBeCloseTo(LIMB.posed[i], 8));
  const away: Vec3 = [0.3, 1.2, 0.2];
  expect(bendChain(LIMB, options(away, { blend: 0 })).posed).toEqual(LIMB.posed);
  const whole = bendChain(LIMB, options(away));
  const half = bendChain(LIMB, options(away, { blend: 0.5 }));
  const angle = (w: Float64Array) => Math.acos(dot(normalize(placeIn(w, 1)), normalize(placeIn(LIMB.posed, 1))));
  expect(angle(half.posed)).toBeCloseTo(angle(whole.posed) / 2, 2);
});

test('soft reach never snaps straight: far targets draw it out ever more slowly, and nothing pops on the way out', () => {
  const at = (share: number, soft: number) => bendChain(LIMB, options([0.4 + share * 3, 0.3, 0], { soft })).posed;
  expect(popRatio((s) => at(s, 0.1))).toBeLessThan(0.25);
  // Without softness it straightens as a root does: infinitely fast at one place.
  expect(popRatio((s) => at(s, 0))).toBeGreaterThan(0.25);
  const reach = (far: number) => length(tipOf(bendChain(LIMB, options([far, 0, 0], { soft: 0.1 }))));
  expect(reach(1.79)).toBeCloseTo(1.79, 9);
  expect(reach(2)).toBeCloseTo(1.8 + 0.2 * (1 - Math.exp(-1)), 9);
  expect(reach(50)).toBeLessThan(2 + 1e-9);
});

test('no pop on a way that folds, turns over and passes beside root and roll target', () => {
  const ways: ((s: number) => Partial<BendOptions> & { target: Vec3 })[] = [
    (s) => ({ target: [Math.cos(6 * s) * 1.2, Math.sin(6 * s) * 1.2, 0.3] }),
    (s) => ({ target: [1.5 - 3 * s, 0.2, 0.1] }),
    (s) => ({ target: [1.2, 0.1, 0.3], rollTarget: [2.4 * s, 1 - 2 * s, 0.4] }),
    (s) => ({ target: [0.3 + 2 * s, 0.4, 0], stretch: 1, longest: 3, soft: 0.05 }),
    (s) => ({ target: [1.9 - 1.5 * s, 0.1, 0], squash: 1, shortest: 0.4, soft: 0.02 }),
  ];
  for (const way of ways) expect(popRatio((s) => bendChain(LIMB, options(way(s).target, way(s))).posed, 120)).toBeLessThan(0.25);
});

test('stretch makes up for what is missing, up to a limit; thickness stays', () => {
  const r = bendChain(LIMB, options([3, 0, 0], { stretch: 1, longest: 2 }));
  expect(r.residual).toBeLessThan(1e-9);
  expect(r.lengthened).toBeCloseTo(1.5, 9);
  // What hangs at the end of a bone keeps its size; across the bone nothing is wider.
  const m = matrixAt(r.posed, 0);
  expect(Math.hypot(m[0], m[1], m[2])).toBeCloseTo(1.5, 9);
  expect(Math.hypot(m[4], m[5], m[6])).toBeCloseTo(1, 9);
  const tip = matrixAt(r.posed, 2);
  expect(Math.hypot(tip[0], tip[1], tip[2])).toBeCloseTo(1, 9);
  const limited = bendChain(LIMB, options([9, 0, 0], { stretch: 1, longest: 2 }));
  expect(limited.lengthened).toBe(2);
  expect(limited.trouble).toEqual(['out-of-reach']);
  expect(length(tipOf(limited))).toBeCloseTo(4, 9);
});

test('the tip keeps its turn, or takes that of the target with an offset', () => {
  const targetTurn = compose([1, 0.5, 0.2], [0.3, -1, 2], 'xyz', [2, 2, 2]);
  const rigid = compose([0, 0, 0], [0.3, -1, 2], 'xyz', [1, 1, 1]);
  const r = bendChain(LIMB, options([1, 0.5, 0.2], { targetTurn, tipTurn: 'target' }));
  for (const i of [0, 1, 2, 4, 5, 6, 8, 9, 10]) expect(r.posed[32 + i]).toBeCloseTo(rigid[i], 9);
  const offset = compose([0, 0, 0], [0, 0.5, 0], 'xyz', [1, 1, 1]);
  const o = bendChain(LIMB, options([1, 0.5, 0.2], { targetTurn, tipTurn: 'target', tipOffset: offset }));
  const wanted = multiply(identity(), rigid, offset);
  for (const i of [0, 1, 2, 4, 5, 6, 8, 9, 10]) expect(o.posed[32 + i]).toBeCloseTo(wanted[i], 9);
  const kept = bendChain(LIMB, options([1, 0.5, 0.2], { tipTurn: 'kept' }));
  for (const i of [0, 1, 2, 4, 5, 6]) expect(kept.posed[32 + i]).toBeCloseTo(LIMB.posed[32 + i], 9);
});

test('under a mirrored, sheared and uneven parent the tip is at the target too, and the limb bends to the mirrored side', () => {
  const mirror = compose([0, 0, 0], [0, 0, 0], 'xyz', [1, 1, -1]);
  const plain = row(4, 0.4, { axis: [0, 1, 0] });
  const mirrored = under(plain, mirror);
  const target: Vec3 = [1.2, 0.3, 0.4];
  const a = bendChain(plain, options(target));
  const b = bendChain(mirrored, options([1.2, 0.3, -0.4]));
  for (let j = 0; j < 4; j++) {
    const [p, q] = [placeIn(a.posed, j), placeIn(b.posed, j)];
    expect(q[0]).toBeCloseTo(p[0], 9);
    expect(q[1]).toBeCloseTo(p[1], 9);
    expect(q[2]).toBeCloseTo(-p[2], 9);
  }
  const sheared = under(plain, compose([0.1, 0, 0], [0.2, 0.1, 0], 'xyz', [2, 0.7, 1], [0.5, 0.1, 0]));
  const r = bendChain(sheared, options([1.1, 0.4, 0.5]));
  expect(r.residual).toBeLessThan(1e-9);
  bones(sheared, r.posed).forEach((x, i) => expect(x).toBeCloseTo(bones(sheared)[i], 9));
});

/** A chain moved as a whole, rest and pose. */
const under = (c: Chain, m: Float64Array): Chain => {
  const move = (w: Readonly<Float64Array>) => forwardPass(c.parents, localsUnder(c, w, m), new Float64Array(w.length));
  return { ...withPosed(c, move(c.posed)), rest: move(c.rest) };
};
const localsUnder = (c: Chain, w: Readonly<Float64Array>, m: Float64Array) => {
  const locals = localsOf(c.parents, w);
  c.parents.forEach((p, i) => {
    if (p < 0) locals.set(multiply(identity(), m, matrixAt(locals, i)), i * 16);
  });
  return locals;
};

test('where mathematics gives no answer it says so and leaves the pose', () => {
  const straight = row(3);
  const cases: [Chain, BendOptions, string][] = [
    [LIMB, options([0, 0, 0]), 'target-at-root'],
    [LIMB, options([NaN, 0, 0]), 'not-finite'],
    [LIMB, options([1, 0, 0], { root: 2, tip: 0 }), 'no-descendant'],
    [straight, options([1, 0.5, 0]), 'straight-rest'],
    [row(3, 0.4, { bone: 0 }), options([1, 0, 0]), 'no-length'],
  ];
  for (const [chain, o, why] of cases) {
    const r = bendChain(chain, o);
    expect(r.trouble).toContain(why);
    expect(r.posed).toEqual(chain.posed);
  }
  // A straight rest with a roll target is bent towards it, the same at every frame.
  const r = bendChain(straight, options([1, 0.5, 0], { rollTarget: [1, 3, 0] }));
  expect(r.residual).toBeLessThan(1e-9);
  expect(popRatio((s) => bendChain(straight, options([1.2, 0.5 - s, 0.3], { rollTarget: [0.2, 3, 0] })).posed)).toBeLessThan(
    0.25,
  );
  expect(bendChain(LIMB, options([1, 0, 0], { rollTarget: [3, 0, 0] })).trouble).toEqual(['roll-on-line']);
  const uneven = makeChain([
    { name: 'a', parent: -1, rest: identity(), posed: identity() },
    { name: 'b', parent: 0, rest: translation([2, 0, 0]), posed: translation([2, 0, 0]) },
    { name: 'c', parent: 1, rest: translation([2.4, 0.3, 0]), posed: translation([2.4, 0.3, 0]) },
  ]).chain;
  const near = bendChain(uneven, options([0.2, 0, 0]));
  expect(near.trouble).toEqual(['too-near']);
  expect(length(positionOf(matrixAt(near.posed, 2)))).toBeCloseTo(1.5, 9);
});

test('joints between and beside the limb go along: nothing is torn off', () => {
  const m = (x: number, y: number) => translation([x, y, 0]);
  const { chain } = makeChain([
    { name: 'hip', parent: -1, rest: m(0, 0), posed: m(0, 0) },
    { name: 'thigh', parent: 0, rest: m(0.5, 0.05), posed: m(0.5, 0.05) },
    { name: 'pouch', parent: 1, rest: m(0.5, 0.3), posed: m(0.5, 0.3) },
    { name: 'knee', parent: 1, rest: m(1, 0.2), posed: m(1, 0.2) },
    { name: 'ankle', parent: 3, rest: m(2, 0), posed: m(2, 0) },
    { name: 'toe', parent: 4, rest: m(2.2, 0), posed: m(2.2, 0) },
  ]);
  const r = bendChain(chain, { ...options([1.1, 0.9, 0.3]), root: 0, middle: 3, tip: 4 });
  expect(r.residual).toBeLessThan(1e-9);
  bones(chain, r.posed).forEach((b, i) => expect(b).toBeCloseTo(bones(chain)[i], 9));
  expect(turnAboutAxis([0, 0, 0], [0, 0, 1], 0)).toEqual(identity());
});

test('a dial without a number leaves the pose as it came in, whichever it is', () => {
  for (const dial of ['roll', 'soft', 'stretch', 'longest', 'squash', 'shortest', 'blend'] as const)
    expect(bendChain(LIMB, options([1, 0.5, 0.2], { stretch: 1, [dial]: NaN })).posed).toEqual(LIMB.posed);
});

test('squash shortens instead of bending: it changes no place of the tip, and nothing jumps where softness begins', () => {
  for (const limb of [row(4, 0), row(4, 0.4), row(4, 1.2)])
    for (const soft of [0, 0.02, 0.05, 0.2, 0.5])
      for (const [squash, shortest] of [
        [1, 0.05],
        [0.6, 0.3],
        [1, 0.7],
      ])
        for (const stretch of [0, 0.5, 1]) {
          const bend = (d: number) =>
            bendChain(limb, options([d, 0, 0], { soft, squash, shortest, stretch, longest: 1.5, rollTarget: [0, 5, 0] }));
          const plain = (d: number) =>
            bendChain(limb, options([d, 0, 0], { soft, stretch, longest: 1.5, rollTarget: [0, 5, 0] }));
          for (let d = 0.1; d < 2.6; d += 0.05) {
            expect(bend(d).residual).toBeLessThanOrEqual(plain(d).residual + 1e-9);
            if (d <= 2 * (1 - soft)) expect(bend(d).residual).toBeLessThan(1e-6);
          }
          // The knee of an ever straighter limb moves with the root of the step, so tips and lengths are held to it.
          for (let d = 0.1; d < 2.6; d += 0.0131) {
            const [a, b] = [bend(d), bend(d + 1e-7)];
            expect(Math.abs(a.lengthened - b.lengthened), `length at ${d}`).toBeLessThan(1e-6);
            expect(length(subtract(placeIn(a.posed, 1), placeIn(b.posed, 1))), `knee at ${d}`).toBeLessThan(1e-3);
          }
        }
});

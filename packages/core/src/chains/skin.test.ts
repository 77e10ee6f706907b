import { expect, test } from 'vitest';
import { mergeMeshes } from '../geometry/merge.ts';
import { makeMesh, withPositions, type Mesh } from '../geometry/mesh.ts';
import { makeBox, makeTube } from '../geometry/solids.ts';
import { compose } from '../maths/factors.ts';
import { identity, invert, matrixAt, multiply, transformPoint, translation } from '../maths/matrix.ts';
import { randomFrom } from '../maths/random.ts';
import { drawIn } from './bone-centres.ts';
import { popRatio } from '../testing/limbs.ts';
import { volumeOf } from '../testing/surface.ts';
import { bindSkin, type BindOptions } from './bind-skin.ts';
import { makeChain, PLAIN_TRAITS, withPosed, type Chain } from './chain.ts';
import { skinDual, skinLinear, skinPose } from './skin.ts';
import { packWeights, weightName, withWeights } from './skin-weights.ts';
import { turnAboutAxis } from './turns.ts';

const column = (f: (p: number) => number, n: number) => Float32Array.from({ length: n }, (_, p) => f(p));
const joint = (name: string, parent: number, at: [number, number, number]) => ({
  name,
  parent,
  rest: translation(at),
  posed: translation(at),
});
const TWO = makeChain([joint('Upper', -1, [0, 0, 0]), joint('Lower', 0, [0, 1, 0])]).chain;

/** A tube along y from 0 to 2 about the two joints. */
function limb(): Mesh {
  return makeTube(0.2, 2, 24, 24, true);
}
/** Weights of a tube about two joints: from one to the other about the middle. */
function bound(mesh: Mesh, low: number): Mesh {
  const n = mesh.topology.pointCount;
  const w = (p: number) => Math.min(1, Math.max(0, (mesh.positions[p * 3 + 1] - low - 0.7) / 0.6));
  return withWeights(mesh, TWO, [column((p) => 1 - w(p), n), column(w, n)]);
}
const lowOf = (mesh: Mesh) => Math.min(...Array.from(mesh.positions).filter((_, i) => i % 3 === 1));
const posedBy = (m: Float64Array): Chain => {
  const posed = TWO.posed.slice();
  posed.set(multiply(identity(), m, matrixAt(posed, 1)), 16);
  return withPosed(TWO, posed);
};

test('linear skin is the weighted sum of where each joint takes a point', () => {
  const random = randomFrom(4);
  const mesh = makeBox([2, 2, 2], [3, 3, 3]);
  const n = mesh.topology.pointCount;
  const bent = posedBy(compose([0.2, 0.1, 0], [0.4, 0.3, 1], 'xyz', [1, 2, 0.5], [0.3, 0, 0.1]));
  const columns = [column(() => random(), n), column(() => random(), n)];
  const skinned = withWeights(mesh, bent, columns);
  const packed = packWeights(skinned, bent);
  expect(packed.off).toBe(n);
  const pose = skinPose(bent);
  const { matrices } = pose;
  const out = skinLinear(new Float32Array(n * 3), mesh.positions, packed, matrices);
  const dual = skinDual(new Float32Array(n * 3), mesh.positions, packed, pose);
  for (let p = 0; p < n; p++) {
    const at = [...mesh.positions.subarray(p * 3, p * 3 + 3)] as [number, number, number];
    const sum = columns[0][p] + columns[1][p];
    const by = [0, 1].map((j) => {
      const back = identity();
      invert(back, matrixAt(bent.rest, j));
      return transformPoint(multiply(identity(), matrixAt(bent.posed, j), back), at);
    });
    for (let k = 0; k < 3; k++)
      expect(out[p * 3 + k]).toBeCloseTo((by[0][k] * columns[0][p] + by[1][k] * columns[1][p]) / sum, 5);
    expect(Number.isFinite(dual[p * 3])).toBe(true);
  }
  // In place, too.
  const same = Float32Array.from(mesh.positions);
  expect(skinLinear(same, same, packed, matrices)).toEqual(out);
  const again = Float32Array.from(mesh.positions);
  expect(skinDual(again, again, packed, pose)).toEqual(dual);
});

test('where one joint has all of a point both ways are that joint, scaled and sheared alike', () => {
  const mesh = makeBox([1, 1, 1], [1, 1, 1]);
  const n = mesh.topology.pointCount;
  const bent = posedBy(compose([0.2, 0.1, -1], [0.4, 0.3, 1], 'xyz', [-1, 2, 0.5], [0.3, 0.2, 0.1]));
  const packed = packWeights(withWeights(mesh, bent, [column(() => 0, n), column(() => 1, n)]), bent);
  const pose = skinPose(bent);
  const { matrices } = pose;
  const linear = skinLinear(new Float32Array(n * 3), mesh.positions, packed, matrices);
  const dual = skinDual(new Float32Array(n * 3), mesh.positions, packed, pose);
  dual.forEach((v, i) => expect(v).toBeCloseTo(linear[i], 5));
});

test('twisted by half a turn a limb keeps its thickness by dual quaternions, and is a point linearly', () => {
  const tube = limb();
  const low = lowOf(tube);
  const mesh = bound(withPositions(tube, Float32Array.from(tube.positions)), low);
  const twist = posedBy(turnAboutAxis([0, 1, 0], [0, 1, 0], Math.PI * 0.999));
  const packed = packWeights(mesh, twist);
  const pose = skinPose(twist);
  const { matrices } = pose;
  const n = mesh.topology.pointCount;
  const thinnest = (positions: Float32Array) => {
    let least = Infinity;
    for (let p = 0; p < n; p++) {
      const r = Math.hypot(mesh.positions[p * 3], mesh.positions[p * 3 + 2]);
      if (r > 0.1) least = Math.min(least, Math.hypot(positions[p * 3], positions[p * 3 + 2]) / r);
    }
    return least;
  };
  expect(thinnest(skinDual(new Float32Array(n * 3), mesh.positions, packed, pose))).toBeGreaterThan(0.999);
  expect(thinnest(skinLinear(new Float32Array(n * 3), mesh.positions, packed, matrices))).toBeLessThan(0.3);
});

const OPTIONS: BindOptions = { detail: 40, most: 4, sharpness: 4, smoothing: 2, least: 0.01, locked: new Map() };

test('weights sum to 1, follow the nearest bone, and do not jump the air between two legs', () => {
  // Two legs under a body: one mesh shaped like a table with two legs close together.
  const legs = mergeMeshes([
    box([0.3, 1.2, 0.3], [-0.2, 0.5, 0]),
    box([0.3, 1.2, 0.3], [0.2, 0.5, 0]),
    box([0.8, 0.4, 0.4], [0, 1.2, 0]),
  ]);
  const { chain } = makeChain([
    joint('Body', -1, [0, 1.2, 0]),
    joint('Left', 0, [0.2, 1, 0]),
    joint('Left tip', 1, [0.2, 0, 0]),
    joint('Right', 0, [-0.2, 1, 0]),
    joint('Right tip', 3, [-0.2, 0, 0]),
  ]);
  const { columns, far } = bindSkin(legs, legs.positions, chain, OPTIONS);
  expect(far.length).toBe(0);
  const n = legs.topology.pointCount;
  for (let p = 0; p < n; p++) {
    expect(columns.reduce((s, c) => s + c[p], 0)).toBeCloseTo(1, 5);
    expect(columns.filter((c) => c[p] > 0).length).toBeLessThanOrEqual(4);
    const [x, y] = [legs.positions[p * 3], legs.positions[p * 3 + 1]];
    // Low down the inner sides of the legs are nearer to each other than to their own bones.
    if (y < 0.3 && x > 0) expect(columns[3][p] + columns[4][p]).toBe(0);
    if (y < 0.3 && x < 0) expect(columns[1][p] + columns[2][p]).toBe(0);
  }
  // Mirrored points have mirrored weights.
  for (let p = 0; p < n; p++) {
    const at = (q: number) => [legs.positions[q * 3], legs.positions[q * 3 + 1], legs.positions[q * 3 + 2]];
    const [x, y, z] = at(p);
    for (let q = 0; q < n; q++) {
      const [a, b, c] = at(q);
      if (Math.abs(a + x) > 1e-6 || Math.abs(b - y) > 1e-6 || Math.abs(c - z) > 1e-6) continue;
      const same = [
        [0, 0],
        [1, 3],
        [2, 4],
      ].every(([i, j]) => Math.abs(columns[i][p] - columns[j][q]) < 2e-3);
      expect(same).toBe(true);
      break;
    }
  }
});

/** A box about a place. */
function box(size: [number, number, number], at: [number, number, number]): Mesh {
  const mesh = makeBox(size, [4, 6, 4]);
  return withPositions(
    mesh,
    Float32Array.from(mesh.positions, (v, i) => v + at[i % 3]),
  );
}

test('locked weights stay, the others share what they leave; lost pieces are told', () => {
  const tube = limb();
  const mesh = mergeMeshes([tube, box([0.1, 0.1, 0.1], [4, 0, 0])]);
  const n = mesh.topology.pointCount;
  const locked = new Map([[0, column(() => 0.3, n)]]);
  const low = lowOf(tube);
  const shifted = makeChain([
    joint('Upper', -1, [0, low, 0]),
    joint('Lower', 0, [0, low + 1, 0]),
    joint('End', 1, [0, low + 1.8, 0]),
  ]).chain;
  const { columns, far } = bindSkin(mesh, mesh.positions, shifted, { ...OPTIONS, locked });
  for (let p = 0; p < n; p++) {
    expect(columns[0][p]).toBeCloseTo(0.3, 6);
    expect(columns.reduce((s, c) => s + c[p], 0)).toBeCloseTo(1, 5);
  }
  expect(far.length).toBe(mesh.topology.pointCount - tube.topology.pointCount);
});

test('names of weights can stand in formulas; points without weights stay, strangers are told', () => {
  expect(weightName('Left wrist (2)')).toMatch(/^[A-Za-z_][A-Za-z0-9_]*$/);
  const mesh = makeBox([1, 1, 1], [1, 1, 1]);
  const n = mesh.topology.pointCount;
  const stranger = withWeights(withWeights(mesh, { names: ['Gone'], traits: [PLAIN_TRAITS] }, [column(() => 1, n)]), TWO, [
    column((p) => (p === 0 ? 0 : 1), n),
    column(() => 0, n),
  ]);
  const packed = packWeights(stranger, TWO);
  expect(packed.unknown).toEqual([weightName('Gone')]);
  expect(packed.without).toBe(1);
  const moved = withPosed(
    TWO,
    TWO.posed.map((v, i) => (i % 16 === 12 ? v + 5 : v)),
  );
  const out = skinLinear(new Float32Array(n * 3), mesh.positions, packed, skinPose(moved).matrices);
  expect(out[0]).toBe(mesh.positions[0]);
  expect(out[3]).toBeCloseTo(mesh.positions[3] + 5, 5);
  expect(makeMesh(new Float32Array(0), Int32Array.of(0), new Int32Array(0)).positions.length).toBe(0);
});

test('a bent limb: dual quaternions keep its volume, and drawn in it stands out less beside the bend', () => {
  const tube = makeTube(0.15, 2, 40, 24, true);
  const n = tube.topology.pointCount;
  const at = (y: number, angle = 0) => compose([0, y, 0], [0, 0, angle], 'xyz', [1, 1, 1], [0, 0, 0]);
  const parts = [-1, 0, 1].map((y, i) => ({ name: `j${i}`, parent: i - 1, rest: at(y), posed: at(y) }));
  const { chain } = makeChain(parts);
  const smooth = (t: number) => t * t * (3 - 2 * t);
  const upper = Float32Array.from({ length: n }, (_, p) =>
    smooth(Math.min(1, Math.max(0, (tube.positions[p * 3 + 1] + 0.3) / 0.6))),
  );
  const mesh = withWeights(tube, chain, [upper.map((w) => 1 - w), upper, new Float32Array(n)]);
  const bend = Math.PI / 2;
  const posed = Float64Array.from([...at(-1), ...at(0, bend), ...multiply(identity(), at(0, bend), at(1))]);
  const bent = withPosed(chain, posed);
  const packed = packWeights(mesh, bent);
  const pose = skinPose(bent);
  const full = skinDual(new Float32Array(n * 3), tube.positions, packed, pose);
  const drawn = (share: number) => {
    const out = full.slice();
    drawIn(out, bent, packed, tube.positions, pose, share);
    return out;
  };
  const volume = (positions: Float32Array) => volumeOf(withPositions(tube, positions)) / volumeOf(tube);
  // Distance to the nearer of the two bones, which run from (0, −1) to the origin and on to (−1, 0).
  const standsOut = (p: Float32Array) => {
    let most = 0;
    for (let o = 0; o < p.length; o += 3) {
      if (Math.abs(tube.positions[o + 1]) > 0.6) continue;
      const [x, y, z] = p.subarray(o, o + 3);
      const down = Math.hypot(x, Math.max(0, y), z);
      const aside = Math.hypot(Math.max(0, x), y, z);
      most = Math.max(most, Math.min(down, aside));
    }
    return most;
  };
  expect(volume(full)).toBeGreaterThan(0.999);
  expect(standsOut(full)).toBeGreaterThan(0.178);
  expect(standsOut(drawn(1))).toBeLessThan(0.172);
  expect(standsOut(drawn(0.5))).toBeLessThan(standsOut(full));
  expect(volume(drawn(1))).toBeGreaterThan(0.998);
  expect(drawn(0)).toEqual(full);
  // Not bent, nothing is drawn in.
  const still = skinDual(new Float32Array(n * 3), tube.positions, packed, skinPose(chain));
  const drawnStill = still.slice();
  drawIn(drawnStill, chain, packed, tube.positions, skinPose(chain), 1);
  drawnStill.forEach((v, i) => expect(v).toBeCloseTo(still[i], 6));
});

test('nothing pops on curled chains: fingers, tails and spines, as long as no joint turns half round against its parent', () => {
  const random = randomFrom(21);
  const point = Float32Array.of(0.3, 0.1, 0.2);
  for (let k = 0; k < 18; k++) {
    const count = 4 + Math.floor(random() * 9);
    const chain = makeChain(Array.from({ length: count }, (_, i) => joint(`${i}`, i - 1, [i, 0, 0]))).chain;
    // Two to four joints after one another move the point: 0.03, 0.37, 0.52, 0.08 among them.
    const first = Math.floor(random() * (count - 3));
    const shares = k === 0 ? [0.03, 0.37, 0.52, 0.08] : Array.from({ length: 2 + (k % 3) }, () => random() + 0.01);
    // Beyond this the turns of joints that move one point are spread over all turns there are.
    const most = Math.min(Math.PI * 0.98, (0.9 * 2 * Math.PI) / (shares.length - 1));
    const sum = shares.reduce((a, b) => a + b, 0);
    const packed = {
      ...{ starts: Int32Array.of(0, shares.length), joints: Int32Array.from(shares, (_, i) => first + i), most: 4 },
      ...{ weights: Float32Array.from(shares, (w) => w / sum), without: 0, off: 0, offBy: 0, unknown: [] },
    };
    const axes = Array.from({ length: count }, (): [number, number, number] =>
      k % 2 ? [0, 0, 1] : [random() - 0.5, random() - 0.5, 1],
    );
    const at = (angle: number): Float32Array => {
      const posed = new Float64Array(count * 16);
      let world = identity();
      for (let i = 0; i < count; i++) {
        world = multiply(identity(), world, translation([i === 0 ? 0 : 1, 0, 0]));
        const length = Math.hypot(...axes[i]);
        world = multiply(identity(), world, turnAboutAxis([0, 0, 0], axes[i].map((v) => v / length) as never, angle));
        posed.set(world, i * 16);
      }
      return skinDual(new Float32Array(3), point, packed, skinPose(withPosed(chain, posed)));
    };
    expect(
      popRatio((share) => at(share * most), 150),
      `chain ${k}`,
    ).toBeLessThan(0.25);
  }
});

test('joints a whole turn apart that weigh the same do not tear a point apart', () => {
  const chain = makeChain([0, 1, 2, 3].map((i) => joint(`${i}`, i - 1, [0, 0, 0]))).chain;
  const posed = chain.posed.slice();
  for (let i = 0; i < 4; i++) posed.set(turnAboutAxis([0, 0, 0], [0, 0, 1], (i * 2 * Math.PI) / 3), i * 16);
  const packed = {
    ...{ starts: Int32Array.of(0, 2), joints: Int32Array.of(0, 3), weights: Float32Array.of(0.5, 0.5), most: 2 },
    ...{ without: 0, off: 0, offBy: 0, unknown: [] },
  };
  const out = skinDual(new Float32Array(3), Float32Array.of(1, 0, 0), packed, skinPose(withPosed(chain, posed)));
  expect([...out].map((v) => Math.round(v * 1e6) / 1e6 + 0)).toEqual([1, 0, 0]);
});

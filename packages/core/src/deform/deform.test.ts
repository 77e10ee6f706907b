import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { copiedPoints, makeCopies } from '../copies/copies.ts';
import { copiesToMesh } from '../copies/join-copies.ts';
import { scatter } from '../copies/scatter.ts';
import { boundsOf } from '../geometry/bounds.ts';
import { findAttribute, withPositions, type Mesh } from '../geometry/mesh.ts';
import { makeGrid, makeSphere } from '../geometry/primitives.ts';
import { makeBox } from '../geometry/solids.ts';
import { transformPacked, type Matrix } from '../maths/matrix.ts';
import { compose } from '../maths/factors.ts';
import { isClosed, signedDistances } from '../nearest/signed.ts';
import { bindToCage, followCage } from './cage.ts';
import { loosenFaces } from './loosen.ts';
import { sheetsOf, SIDES } from '../geometry/dual-cells.ts';
import { skinOver } from './skin-over.ts';
import { bindToSurface, followSurface } from './surface-bind.ts';

const idle = () => {};
const through = (p: Readonly<Float32Array>, m: Matrix) => transformPacked(new Float32Array(p.length), p, m, 'position');
/** Full weight everywhere. */
const WHOLE = { data: Float32Array.of(1), step: 0 };
const ones = (n: number) => new Float32Array(n).fill(1);
const most = (a: ArrayLike<number>, b: ArrayLike<number>) =>
  Array.from(a).reduce((m, v, i) => Math.max(m, Math.abs(v - b[i])), 0);
const rigid = compose([1, -2, 0.5], [0.4, 1.1, -0.7], 'xyz', [1, 1, 1]);
const affine = compose([1, -2, 0.5], [0.4, 1.1, -0.7], 'xyz', [2, 0.5, 1.5]);

describe('Surface Bind', () => {
  const driver = makeSphere(1, 8, 10);
  const mesh = makeSphere(1.1, 20, 24);
  const bound = bindToSurface(mesh, driver, 4, idle);
  const follow = (now: Float32Array, weight = ones(mesh.topology.pointCount)) =>
    followSurface(new Float32Array(mesh.positions.length), mesh.positions, bound, driver, withPositions(driver, now), {
      data: weight,
      step: 1,
    });

  test('does nothing while the driver rests, and goes along with a rigid move as a whole', () => {
    expect(most(follow(driver.positions as Float32Array), mesh.positions)).toBeLessThan(1e-5);
    expect(most(follow(through(driver.positions, rigid)), through(mesh.positions, rigid))).toBeLessThan(1e-5);
  });

  test('weights of each point add up to 1, half a weight goes half way, and binding is kept', () => {
    for (let i = 0; i < mesh.topology.pointCount; i++) {
      const sum = bound.weights.slice(i * 4, i * 4 + 4).reduce((a, b) => a + b, 0);
      expect(sum).toBeCloseTo(1, 5);
    }
    const now = through(driver.positions, rigid);
    const half = follow(
      now,
      ones(mesh.topology.pointCount).map(() => 0.5),
    );
    expect(
      most(
        half,
        follow(now).map((v, i) => (v + mesh.positions[i]) / 2),
      ),
    ).toBeLessThan(1e-5);
    expect(bindToSurface(mesh, driver, 4, idle)).toBe(bound);
  });
});

describe('Cage', () => {
  const cage = makeBox([3, 3, 3], [2, 2, 2]);
  const mesh = makeSphere(1.1, 14, 18);
  const bound = bindToCage(mesh, cage, idle);

  test('mean-value weights add up to 1 and bring every point back where it was', () => {
    for (let i = 0; i < mesh.topology.pointCount; i++) {
      const w = bound.weights.subarray(i * bound.cagePoints, (i + 1) * bound.cagePoints);
      expect(w.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 5);
      for (let axis = 0; axis < 3; axis++) {
        const back = w.reduce((sum, v, c) => sum + v * cage.positions[c * 3 + axis], 0);
        expect(back).toBeCloseTo(mesh.positions[i * 3 + axis], 5);
      }
    }
  });

  test('an affine change of the cage is that of the mesh; points on the cage and on its corners hold', () => {
    const now = through(cage.positions, affine);
    const out = followCage(new Float32Array(mesh.positions.length), mesh.positions, bound, cage.positions, now, WHOLE);
    expect(most(out, through(mesh.positions, affine))).toBeLessThan(1e-4);
    const on: Mesh = withPositions(
      makeGrid([1, 1], [1, 1]),
      Float32Array.of(1.5, 1.5, 1.5, 1.5, 0.3, 0.2, 0, 1.5, 0.7, -1.5, -1, 0),
    );
    const held = bindToCage(on, cage, idle);
    const moved = followCage(new Float32Array(12), on.positions, held, cage.positions, now, WHOLE);
    expect(most(moved, through(on.positions, affine))).toBeLessThan(1e-4);
  });
});

describe('Loosen', () => {
  const mesh = makeSphere(1, 10, 12);
  const options = { drift: 0.5, spin: 2, frequency: 2, seed: 3, time: 0, shrink: 0 };

  test('without a weight nothing moves; every face keeps its shape when it does not shrink', () => {
    const still = loosenFaces(mesh, new Float32Array(mesh.topology.faceCount), options, idle);
    const { cornerPoints, cornerCount, faceStarts, faceCount } = mesh.topology;
    for (let c = 0; c < cornerCount; c++)
      for (let axis = 0; axis < 3; axis++) expect(still.positions[c * 3 + axis]).toBe(mesh.positions[cornerPoints[c] * 3 + axis]);
    const loose = loosenFaces(mesh, ones(faceCount), options, idle);
    expect(loose.topology).toBe(still.topology);
    const side = (p: Readonly<Float32Array>, a: number, b: number) =>
      Math.hypot(p[a * 3] - p[b * 3], p[a * 3 + 1] - p[b * 3 + 1], p[a * 3 + 2] - p[b * 3 + 2]);
    for (let f = 0; f < faceCount; f++)
      for (let c = faceStarts[f]; c + 1 < faceStarts[f + 1]; c++)
        expect(side(loose.positions, c, c + 1)).toBeCloseTo(side(mesh.positions, cornerPoints[c], cornerPoints[c + 1]), 5);
    expect(most(loose.positions, still.positions)).toBeGreaterThan(0.3);
  });
});

describe('Skin Over Points', () => {
  test('round one point it is a sphere, closed, facing outwards', () => {
    const skin = skinOver(Float32Array.of(0.3, 0.1, -0.2), Float32Array.of(0.5), 0.04, 0.1);
    expect(isClosed(skin)).toBe(true);
    for (let i = 0; i < skin.topology.pointCount; i++) {
      const [x, y, z] = [0, 1, 2].map((axis) => skin.positions[i * 3 + axis] - [0.3, 0.1, -0.2][axis]);
      expect(Math.abs(Math.hypot(x, y, z) - 0.5)).toBeLessThan(5e-5);
    }
    expect(signedDistances(skin, Float32Array.of(0.3, 0.1, -0.2))[0]).toBeLessThan(-0.45);
  });

  test('near ones flow together, far ones stay apart, those without a radius are left out', () => {
    const two = (gap: number) => skinOver(Float32Array.of(0, 0, 0, gap, 0, 0, 9, 9, 9), Float32Array.of(0.3, 0.3, 0), 0.05, 0.2);
    const inside = (gap: number) => signedDistances(two(gap), Float32Array.of(gap / 2, 0, 0))[0] < 0;
    expect([inside(0.62), inside(1.4)]).toEqual([true, false]);
    expect(boundsOf(two(1).positions).high[0]).toBeLessThan(1.5);
    // Two that stand less than a cell apart, with corners of the grid between, stay on their own spheres.
    const close = skinOver(Float32Array.of(0.02, 0, 0, 0.66, 0, 0), Float32Array.of(0.3, 0.3), 0.05, 0.001);
    expect(isClosed(close)).toBe(true);
    for (let i = 0; i < close.positions.length; i += 3) {
      const [x, y, z] = close.positions.subarray(i, i + 3);
      expect(Math.abs(Math.min(Math.hypot(x - 0.02, y, z), Math.hypot(x - 0.66, y, z)) - 0.3)).toBeLessThan(1e-3);
    }
    expect(signedDistances(close, Float32Array.of(0.34, 0, 0))[0]).toBeGreaterThan(0.015);
    expect(skinOver(new Float32Array(3), Float32Array.of(-1), 0.05, 0.1).topology.pointCount).toBe(0);
  });

  test('sheets of a cell: every crossed side is on one, and inside and outside see the same ones', () => {
    expect(sheetsOf(0b10000001, () => false).count).toBe(2);
    // Two inside corners across a face: one sheet when its middle is inside, two when not.
    expect([true, false].map((middle) => sheetsOf(0b00001001, () => middle).count)).toEqual([1, 2]);
    for (let inside = 0; inside < 256; inside++) {
      for (const salt of [0, 1, 2, 3]) {
        const middle = (corners: readonly number[]) => ((corners.reduce((sum, c) => sum + c * c, salt) * 7) & 2) > 0;
        const { of, count } = sheetsOf(inside, middle);
        SIDES.forEach(([a, b], s) => expect(of[s] >= 0).toBe(((inside >> a) & 1) !== ((inside >> b) & 1)));
        for (let sheet = 0; sheet < count; sheet++) expect(of.filter((n) => n === sheet).length).toBeGreaterThan(2);
        expect(sheetsOf(255 - inside, (c) => !middle(c))).toEqual({ of, count });
      }
    }
  });

  test('round any spheres it is closed, and its points are where the field says', () => {
    const coordinate = fc.double({ min: -0.4, max: 0.4, noNaN: true });
    const sphere = fc.tuple(coordinate, coordinate, coordinate, fc.double({ min: 0.03, max: 0.25, noNaN: true }));
    fc.assert(
      fc.property(fc.array(sphere, { minLength: 1, maxLength: 9 }), fc.constantFrom(0.05, 0.2, 0.4), (spheres, blend) => {
        const positions = Float32Array.from(spheres.flatMap(([x, y, z]) => [x, y, z]));
        const radii = Float32Array.from(spheres.map((s) => s[3]));
        const skin = skinOver(positions, radii, 0.04, blend);
        expect(isClosed(skin)).toBe(true);
        // The field by itself: the smooth minimum, plainly summed.
        const k = blend / 4;
        let off = 0;
        for (let p = 0; p < skin.positions.length; p += 3) {
          const sum = spheres.reduce((all, [x, y, z], i) => {
            const d =
              Math.hypot(
                skin.positions[p] - Math.fround(x),
                skin.positions[p + 1] - Math.fround(y),
                skin.positions[p + 2] - Math.fround(z),
              ) - radii[i];
            return all + (d < 7 * k ? Math.exp(-d / k) - Math.exp(-7) : 0);
          }, 0);
          if (Math.abs(k * Math.log(sum)) > 0.002) off++;
        }
        // All but a few, at saddles finer than a cell.
        expect(off).toBeLessThanOrEqual(skin.topology.pointCount * 0.02);
      }),
      { numRuns: 60 },
    );
  });
});

describe('copies', () => {
  test('made real they are their sources through their matrices, with what each copy stored', () => {
    const sources = [makeSphere(1, 4, 5), makeBox([1, 1, 1], [1, 1, 1])];
    const matrices = new Float64Array(48);
    [rigid, affine, rigid].forEach((m, i) => matrices.set(m, i * 16));
    const colour = { name: 'colour', type: 'colour', role: 'plain', data: Float32Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1) } as const;
    const copies = makeCopies(sources, Int32Array.of(0, 1, 0), matrices, [colour]);
    const mesh = copiesToMesh(copies);
    expect(mesh.topology.pointCount).toBe(copiedPoints(copies));
    const first = sources[0].positions.length;
    expect(most(mesh.positions.slice(first, first + 24), through(sources[1].positions, affine))).toBeLessThan(1e-6);
    const owner = findAttribute(mesh, 'copy', 'point')!.data;
    const colours = findAttribute(mesh, 'colour', 'point')!.data;
    owner.forEach((c, p) => expect(colours[p * 3 + c]).toBe(1));
  });

  test('scattered points: on the faces by area, inside, spaced, the same for the same seed', () => {
    const box = makeBox([2, 1, 1], [1, 1, 1]);
    const { positions, normals } = scatter(box, 6000, 4, 0, false);
    let onTop = 0;
    for (let i = 0; i < 6000; i++) {
      const p = [0, 1, 2].map((axis) => Math.abs(positions[i * 3 + axis]) / [1, 0.5, 0.5][axis]);
      expect(Math.max(...p)).toBeCloseTo(1, 5);
      if (normals[i * 3 + 1] > 0.5) onTop++;
    }
    expect(onTop / 6000).toBeCloseTo(2 / 10, 1);
    expect(scatter(box, 100, 4, 0, false).positions).toEqual(positions.slice(0, 300));
    const within = scatter(box, 300, 1, 0, true).positions;
    expect(signedDistances(box, within).every((d) => d < 0)).toBe(true);
    const spaced = scatter(box, 400, 2, 0.2, false).positions;
    for (let i = 0; i < spaced.length; i += 3)
      for (let j = 0; j < i; j += 3)
        expect(
          Math.hypot(spaced[i] - spaced[j], spaced[i + 1] - spaced[j + 1], spaced[i + 2] - spaced[j + 2]),
        ).toBeGreaterThanOrEqual(0.1999);
  });
});

import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makeGrid } from '../geometry/primitives.ts';
import { neighboursOf } from '../geometry/edges.ts';
import { withAttribute, type Mesh } from '../geometry/mesh.ts';
import { PAINT_BLOCK, paintedSchema } from '../project/fields.ts';
import { differenceOf, withDifference } from '../project/difference.ts';
import { CATALOGUE } from '../nodes/index.ts';
import { setSetting } from '../edits/document.ts';
import { graph, meshOf, node, project, runNode } from '../testing/build.ts';
import type { PaintSurface } from './brush.ts';
import { eachPainted, NO_PAINT, paintedPoints, withoutPaint, withPaint } from './painted.ts';
import { mirrorNumbers } from './mirror-numbers.ts';
import { partnersAcross } from './partners.ts';
import { shareOut } from './share-out.ts';
import { Stroke, type Brush, type PaintedNumbers } from './stroke.ts';

const surfaceOf = (mesh: Mesh): PaintSurface => ({
  pointCount: mesh.topology.pointCount,
  positions: mesh.positions,
  neighbours: neighboursOf(mesh.topology),
});
const BRUSH: Brush = { mode: 'add', value: 0, strength: 0.5, reach: 0.25, fade: 'soft' };
const numbers = (columns: Record<string, Float32Array>, name = 'w', together: PaintedNumbers['together'] = null) => ({
  ...{ name, least: 0, most: 1, together },
  columns: new Map(Object.entries(columns)),
});
/** The point of a surface that is nearest to a place, tried one by one. */
function nearest({ positions, pointCount }: PaintSurface, place: readonly number[]): number {
  let [best, least] = [-1, Infinity];
  for (let p = 0; p < pointCount; p++) {
    const d = Math.hypot(...[0, 1, 2].map((k) => positions[p * 3 + k] - place[k]));
    if (d < least) [least, best] = [d, p];
  }
  return best;
}
/** What a stroke through places leaves on every point. */
function painted(surface: PaintSurface, stroke: Stroke, places: readonly (readonly [number, number, number])[], name = 'w') {
  const out = new Map<number, number>();
  for (const at of places) {
    const change = stroke.touch(at, nearest(surface, at)).get(name);
    change?.points.forEach((p, i) => out.set(p, change.values[i]));
  }
  return out;
}

describe('a stroke', () => {
  const surface = surfaceOf(makeGrid([2, 2], [40, 40]));
  const zero = new Float32Array(surface.pointCount);

  test('gives each point the coat of where the brush came nearest: the same numbers by few steps or by many', () => {
    const way = (steps: number) =>
      Array.from({ length: steps + 1 }, (_, i) => [-0.6 + (1.2 * i) / steps, 0, 0.1] as [number, number, number]);
    const few = painted(surface, new Stroke(surface, BRUSH, numbers({ w: zero })), way(30));
    const many = painted(surface, new Stroke(surface, BRUSH, numbers({ w: zero })), way(300));
    expect(many.size).toBeGreaterThan(200);
    for (const [p, value] of many) {
      // By the formula: half of a smooth step of the distance to the way.
      const [x, , z] = surface.positions.subarray(p * 3, p * 3 + 3);
      const s = 1 - Math.hypot(Math.max(0, Math.abs(x) - 0.6), z - 0.1) / 0.25;
      expect(value).toBeCloseTo(0.5 * s * s * (3 - 2 * s), 2);
      expect(few.get(p) ?? 0).toBeCloseTo(value, 1);
    }
  });

  test('adds, takes, leads to a value and evens out, within the least and the most', () => {
    const half = new Float32Array(surface.pointCount).fill(0.5);
    const at: [number, number, number] = [0, 0, 0];
    const middle = nearest(surface, at);
    const one = (mode: Brush['mode'], strength: number, value = 0, w = half) =>
      painted(surface, new Stroke(surface, { ...BRUSH, mode, strength, value, fade: 'even' }, numbers({ w })), [at]).get(middle);
    expect(one('add', 0.2)).toBeCloseTo(0.7, 5);
    expect(one('add', 0.9)).toBe(1);
    expect(one('take', 0.2)).toBeCloseTo(0.3, 5);
    expect(one('take', 0.9)).toBe(0);
    expect(one('value', 0.5, 0.9)).toBeCloseTo(0.7, 5);
    const peak = half.slice();
    peak[middle] = 1;
    expect(one('smooth', 1, 0, peak)).toBeCloseTo(0.5, 5);
    // Where a number is none, it counts as 0.
    expect(one('add', 0.25, 0, half.slice().fill(NaN))).toBeCloseTo(0.25, 5);
  });

  test('stays on what hangs together: a sheet just behind another one gets nothing', () => {
    const { positions, topology } = makeGrid([1, 1], [10, 10]);
    const count = topology.pointCount;
    const both = new Float32Array(count * 6);
    both.set(positions);
    positions.forEach((v, i) => (both[count * 3 + i] = i % 3 === 1 ? v - 0.01 : v));
    const { starts, points } = neighboursOf(topology);
    const twice: PaintSurface = {
      pointCount: count * 2,
      positions: both,
      neighbours: {
        starts: Int32Array.from([...starts, ...Array.from(starts.subarray(1), (s) => s + points.length)]),
        points: Int32Array.from([...points, ...Array.from(points, (p) => p + count)]),
      },
    };
    const found = painted(twice, new Stroke(twice, BRUSH, numbers({ w: new Float32Array(count * 2) })), [[0, 0, 0]]);
    expect(found.size).toBeGreaterThan(8);
    for (const p of found.keys()) expect(p).toBeLessThan(count);
  });

  test('a brush smaller than the faces paints the point it is nearest to; one that reaches nothing never hangs', () => {
    const coarse = surfaceOf(makeGrid([2, 2], [2, 2]));
    const stroke = new Stroke(coarse, { ...BRUSH, reach: 0.01 }, numbers({ w: new Float32Array(9) }));
    expect([...painted(coarse, stroke, [[0.3, 0, 0.2]])]).toEqual([[4, 0.5]]);
    for (const reach of [0, NaN, -1])
      expect(
        painted(coarse, new Stroke(coarse, { ...BRUSH, reach }, numbers({ w: new Float32Array(9) })), [[0, 0, 0]]).size,
      ).toBe(1);
  });

  test('costs what it touches: of 100,489 points it looks at a few more than lie under the brush, and sends their blocks', () => {
    const mesh = makeGrid([10, 10], [316, 316]);
    const large = surfaceOf(mesh);
    const stroke = new Stroke(large, { ...BRUSH, reach: 0.2 }, numbers({ w: new Float32Array(large.pointCount) }));
    // What was painted before: everything.
    const all = Array.from({ length: large.pointCount }, (_, p) => p);
    let before = withPaint(NO_PAINT, large.pointCount, new Map([['w', { points: all, values: all.map(() => 0.25) }]]));
    let here = project([graph([node('paint', 'paint-values', { settings: { name: 'w', painted: before } })], [])]);
    let there = structuredClone(here);
    const touched = new Set<number>();
    for (let i = 0; i < 20; i++) {
      const at: [number, number, number] = [-1 + i * 0.1, 0, 0.3];
      const change = stroke.touch(at, nearest(large, at));
      change.get('w')?.points.forEach((p) => touched.add(p));
      const after = withPaint(before, large.pointCount, change);
      const next = setSetting(CATALOGUE, 'graph', 'paint', 'painted', after)(here);
      const difference = differenceOf(here, next);
      const blocks = new Set((change.get('w')?.points ?? []).map((p) => Math.floor(p / PAINT_BLOCK)));
      // Numbers that travel: an index and a value for each point of the blocks that the brush touched.
      const sent = JSON.stringify(difference).match(/-?\d+(\.\d+)?/g)?.length ?? 0;
      expect(sent).toBeLessThan(blocks.size * (PAINT_BLOCK * 2 + 1) + 40);
      expect(blocks.size).toBeLessThan(40);
      there = withDifference(there, structuredClone(difference));
      [here, before] = [next, after];
    }
    expect(there).toEqual(here);
    expect(touched.size).toBeGreaterThan(700);
    expect(touched.size).toBeLessThan(1500);
    // Each of three places between two touches looks at what is under the brush there.
    expect(stroke.visited).toBeLessThan(touched.size * 40);
    expect(stroke.visited).toBeLessThan(large.pointCount / 3);
  });

  test('on a mirror image: the other side gets the same, and the middle no more than one coat', () => {
    const { partners, sides } = partnersAcross(surface.positions, 0);
    partners.forEach((q, p) => {
      expect(surface.positions[q * 3]).toBeCloseTo(-surface.positions[p * 3], 6);
      expect(partners[q]).toBe(p);
      expect(sides[p]).toBe(Math.sign(Math.round(surface.positions[p * 3] * 1e6)));
    });
    const both = painted(surface, new Stroke(surface, BRUSH, numbers({ w: zero }), { partners, nameAcross: (n) => n }), [
      [0.1, 0, 0],
    ]);
    const side = painted(surface, new Stroke(surface, BRUSH, numbers({ w: zero })), [[0.1, 0, 0]]);
    for (const [p, value] of both) {
      expect(value).toBe(both.get(partners[p]));
      expect(value).toBe(Math.max(side.get(p) ?? 0, side.get(partners[p]) ?? 0));
    }
    // Of a mesh that is none, points without a partner are told from others.
    const bent = surface.positions.slice();
    bent[0] += 0.03;
    expect(partnersAcross(bent, 0).partners[0]).toBe(-1);
    expect(partnersAcross(new Float32Array(0), 1).partners).toHaveLength(0);
  });
});

describe('weights', () => {
  const surface = surfaceOf(makeGrid([2, 2], [20, 20]));
  const count = surface.pointCount;

  test('sum to 1 after any stroke, whatever is locked; locked ones keep their numbers', () => {
    const share = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        fc.array(share, { minLength: 2, maxLength: 6 }),
        share,
        fc.nat(5),
        fc.array(fc.boolean(), { minLength: 6, maxLength: 6 }),
        (raw, wanted, which, locks) => {
          const sum = raw.reduce((a, b) => a + b, 0);
          const shares = raw.map((w) => (sum > 1e-6 ? w / sum : 0));
          const at = which % raw.length;
          const locked = locks.slice(0, raw.length);
          const before = shares.slice();
          const met = shareOut(shares, at, wanted, locked);
          if (locked[at]) {
            expect(shares).toEqual(before);
            return;
          }
          locked.forEach((is, i) => is && expect(shares[i]).toBe(before[i]));
          const all = shares.reduce((a, b) => a + b, 0);
          if (all !== 0) expect(all).toBeCloseTo(1, 5);
          for (const w of shares) expect(w).toBeGreaterThanOrEqual(0);
          if (met) expect(Math.abs(shares[at] - wanted)).toBeLessThan(3e-4);
        },
      ),
      { numRuns: 500 },
    );
  });

  test('what one joint gets the others give up in proportion; what nobody else holds stays, and is told', () => {
    const shares = [0.5, 0.3, 0.2];
    expect(shareOut(shares, 0, 0.75, [false, false, false])).toBe(true);
    expect(shares).toEqual([0.75, 0.15, 0.1]);
    const alone = [1, 0, 0];
    expect(shareOut(alone, 0, 0.2, [false, false, false])).toBe(false);
    expect(alone).toEqual([1, 0, 0]);
    const bare = [0, 0];
    expect(shareOut(bare, 1, 0.4, [false, false])).toBe(false);
    expect(bare).toEqual([0, 1]);
    expect(shareOut([0, 0], 1, 0, [false, false])).toBe(true);
  });

  test('through a stroke and across: the left joint here is the right joint there, and every sum is 1', () => {
    const columns = {
      weight_Left: new Float32Array(count).fill(0.25),
      weight_Right: new Float32Array(count).fill(0.25),
      weight_Spine: new Float32Array(count).fill(0.5),
    };
    const nameAcross = (n: string) => (n === 'weight_Left' ? 'weight_Right' : n === 'weight_Right' ? 'weight_Left' : n);
    const { partners } = partnersAcross(surface.positions, 0);
    for (const mode of ['add', 'take', 'value', 'smooth'] as const) {
      const stroke = new Stroke(
        surface,
        { ...BRUSH, mode, value: 0.9, reach: 0.4 },
        numbers(columns, 'weight_Left', { locked: new Set() }),
        { partners, nameAcross },
      );
      const change = stroke.touch([0.5, 0, 0], nearest(surface, [0.5, 0, 0]));
      if (mode === 'smooth') {
        expect(change.size).toBe(0);
        continue;
      }
      const after = Object.fromEntries(Object.entries(columns).map(([n, c]) => [n, c.slice()]));
      for (const [n, { points, values }] of change) points.forEach((p, i) => (after[n][p] = values[i]));
      for (let p = 0; p < count; p++) {
        expect(after.weight_Left[p] + after.weight_Right[p] + after.weight_Spine[p]).toBeCloseTo(1, 6);
        expect(after.weight_Left[p]).toBeCloseTo(after.weight_Right[partners[p]], 4);
      }
      const here = nearest(surface, [0.5, 0, 0]);
      expect(Math.sign(after.weight_Left[here] - 0.25)).toBe(mode === 'take' ? -1 : 1);
      expect(after.weight_Right[partners[here]]).not.toBeCloseTo(0.25, 2);
    }
  });

  test('mirrored from one side to the other: every partner has the weights of its own, with the joints of its side', () => {
    const { partners, sides } = partnersAcross(surface.positions, 0);
    const w = (f: (x: number) => number) => Float32Array.from({ length: count }, (_, p) => f(surface.positions[p * 3]));
    const columns = {
      weight_Left: w((x) => (x > 0 ? 0.75 : 0)),
      weight_Right: w((x) => (x > 0 ? 0 : 0.1)),
      weight_Spine: w((x) => (x > 0 ? 0.25 : 0.9)),
    };
    const nameAcross = (n: string) => (n === 'weight_Left' ? 'weight_Right' : n === 'weight_Right' ? 'weight_Left' : n);
    const across = { partners, nameAcross };
    const change = mirrorNumbers(numbers(columns, 'weight_Left', { locked: new Set() }), across, sides, 1);
    const after = new Map(Object.entries(columns).map(([n, c]) => [n, c.slice()]));
    for (const [n, { points, values }] of change) points.forEach((p, i) => ((after.get(n) as Float32Array)[p] = values[i]));
    for (let p = 0; p < count; p++) {
      if (sides[p] !== 1) continue;
      for (const n of after.keys()) {
        expect(after.get(n)?.[p]).toBe(columns[n as keyof typeof columns][p]);
        expect(after.get(nameAcross(n))?.[partners[p]]).toBeCloseTo(columns[n as keyof typeof columns][p], 5);
      }
    }
    const one = mirrorNumbers(numbers({ w: w((x) => x) }), across, sides, -1).get('w');
    expect(one?.points).toHaveLength(partners.filter((_, p) => sides[p] === -1).length);
    one?.points.forEach((p, i) => expect(one.values[i]).toBeCloseTo(-surface.positions[p * 3], 5));
  });

  test('smoothing evens a hard seam between two joints out, and keeps locked ones', () => {
    const left = Float32Array.from({ length: count }, (_, p) => (surface.positions[p * 3] < -0.01 ? 1 : 0));
    const right = left.map((w) => 1 - w);
    const flood = (locked: string[]) =>
      new Stroke(
        surface,
        { ...BRUSH, mode: 'smooth', strength: 1 },
        numbers({ weight_a: left, weight_b: right }, 'weight_a', { locked: new Set(locked) }),
      ).flood();
    const change = flood([]).get('weight_a');
    // Next to the seam one of three or four neighbours is on the other side.
    expect(new Set(change?.values)).toEqual(new Set([0.66667, 0.33333, 0.75, 0.25]));
    expect(flood(['weight_a', 'weight_b']).size).toBe(0);
  });
});

describe('what is painted', () => {
  test('is kept in blocks: a change replaces those it lies in and shares all others', () => {
    const first = withPaint(NO_PAINT, 1000, new Map([['w', { points: [700, 3, 300], values: [0.7, 0.3, 0.5] }]]));
    expect(paintedSchema.parse(first)).toEqual(first);
    const second = withPaint(first, 1000, new Map([['w', { points: [4, 3], values: [0.4, 0.9] }]]));
    expect(second.columns.w['2']).toBe(first.columns.w['2']);
    const found: [number, number][] = [];
    eachPainted(second, 'w', (p, v) => found.push([p, v]));
    expect(found).toEqual([
      [3, 0.9],
      [4, 0.4],
      [300, 0.5],
      [700, 0.7],
    ]);
    expect(paintedPoints(withoutPaint(second, 'w'), 'w')).toBe(0);
    // Names that every object has are names like others.
    expect(paintedPoints(NO_PAINT, 'constructor')).toBe(0);
    for (const wrong of [
      { points: 1, columns: { w: { '0': { index: [1], values: [] } } } },
      { points: 1, columns: { w: { '0': { index: [256], values: [1] } } } },
      { points: 1, columns: { w: { x: { index: [], values: [] } } } },
      { points: -1, columns: {} },
    ])
      expect(paintedSchema.safeParse(wrong).success).toBe(false);
  });

  const mesh = makeGrid([1, 1], [2, 2]);
  const paint = (
    values: Record<string, [number, number][]>,
    settings: Record<string, string | number | boolean> = {},
    on = mesh,
    points = 9,
  ) => {
    const change = new Map(
      Object.entries(values).map(([n, list]) => [n, { points: list.map(([p]) => p), values: list.map(([, v]) => v) }]),
    );
    const ran = runNode(
      'paint-values',
      { settings: { name: 'w', ...settings, painted: withPaint(NO_PAINT, points, change) } },
      ['mesh'],
      on,
    );
    return { mesh: ran.values[0], problems: ran.evaluation.reports.get('it')?.problems.map((x) => x.code) ?? [] };
  };
  const column = (m: Mesh, name: string) => Array.from(m.attributes.find((a) => a.name === name)?.data ?? []);
  const number = (name: string, ...data: number[]) => ({
    ...{ name, on: 'point' as const, type: 'number' as const, role: 'plain' as const },
    data: Float32Array.from(data),
  });

  test('stands in the place of what comes in; elsewhere that stays, or what is typed', () => {
    const plain = meshOf(paint({ w: [[4, 0.75]] }).mesh);
    expect(column(plain, 'w')).toEqual([0, 0, 0, 0, 0.75, 0, 0, 0, 0]);
    const has = withAttribute(mesh, number('w', 1, 2, 3, 4, 5, 6, 7, 8, 9));
    expect(column(meshOf(paint({ w: [[4, 0.75]] }, {}, has).mesh), 'w')).toEqual([1, 2, 3, 4, 0.75, 6, 7, 8, 9]);
    expect(column(has, 'w')[4]).toBe(5);
  });

  test('weights of a painted point are those it was painted with: what comes in for other joints counts no more', () => {
    const bound = [
      number('weight_a', 0.5, 0.5, 0.5, 0.5, 0.5, 0.5, 0.5, 0.5, 0.5),
      number('weight_b', 0.5, 0.5, 0.5, 0.5, 0.5, 0.5, 0.5, 0.5, 0.5),
    ].reduce(withAttribute, mesh);
    const settings = { name: 'weight_c' };
    const together = meshOf(paint({ weight_a: [[4, 0.25]], weight_c: [[4, 0.75]] }, settings, bound).mesh);
    expect(['weight_a', 'weight_b', 'weight_c'].map((n) => column(together, n)[4])).toEqual([0.25, 0, 0.75]);
    expect(['weight_a', 'weight_b', 'weight_c'].map((n) => column(together, n)[5])).toEqual([0.5, 0.5, 0]);
    const apart = meshOf(paint({ weight_c: [[4, 0.75]] }, { ...settings, together: false }, bound).mesh);
    expect(['weight_a', 'weight_b', 'weight_c'].map((n) => column(apart, n)[4])).toEqual([0.5, 0.5, 0.75]);
  });

  test('other meshes, other types and names that cannot be: a sentence each, and nothing is lost', () => {
    const fewer = paint(
      {
        w: [
          [4, 0.75],
          [40, 1],
        ],
      },
      {},
      mesh,
      50,
    );
    expect(fewer.problems).toEqual(['painted-count']);
    expect(column(meshOf(fewer.mesh), 'w')[4]).toBe(0.75);
    const vector = withAttribute(mesh, { ...number('w'), type: 'vector', data: new Float32Array(27) });
    expect(paint({ w: [[4, 0.75]] }, {}, vector).problems).toEqual(['paint-type']);
    expect(paint({}, { name: '' }).problems).toEqual(['attribute-name']);
    const untouched = meshOf(paint({}).mesh);
    expect(column(untouched, 'w')).toEqual(new Array(9).fill(0));
  });
});

import { expect, test } from 'vitest';
import { trianglesOf } from '../../geometry/triangles.ts';
import type { Mesh } from '../../geometry/mesh.ts';
import type { Curves } from '../../curves/curves.ts';
import type { Value } from '../../graph/values.ts';
import { graph, meshOf, node, project } from '../../testing/build.ts';
import { near, run, single } from '../../testing/quay.ts';

const curvesIn = (v: Value | undefined) => (v as { curves: Curves }).curves;

/** The volume inside a closed mesh, by the divergence theorem. */
function volumeOf({ positions: p, topology }: Mesh): number {
  const { points } = trianglesOf(topology);
  let six = 0;
  for (let i = 0; i < points.length; i += 3) {
    const [a, b, c] = [points[i] * 3, points[i + 1] * 3, points[i + 2] * 3];
    six += p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) - p[a + 1] * (p[b] * p[c + 2] - p[b + 2] * p[c]) + p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c]); // prettier-ignore
  }
  return six / 6;
}

test('a spiral winds about its axis by the closed form', () => {
  for (const [k, axis] of ['x', 'y', 'z'].entries()) {
    const { values } = run(project([graph([node('spiral', 'make-spiral', { settings: { axis }, inputs: { radius: 1, radiusEnd: 0.25, height: 3, turns: 2.5, points: 8 } })], [])]), ['spiral.curves']); // prettier-ignore
    const { positions } = curvesIn(values[0]);
    const count = positions.length / 3;
    expect(count).toBe(21);
    for (let i = 0; i < count; i++) {
      const t = i / (count - 1);
      const at = positions.slice(i * 3, i * 3 + 3);
      const [c, s] = [at[(k + 2) % 3], at[(k + 1) % 3]];
      expect(at[k]).toBeCloseTo(3 * t, 5);
      expect(c).toBeCloseTo((1 - 0.75 * t) * Math.cos(5 * Math.PI * t), 5);
      expect(s).toBeCloseTo((1 - 0.75 * t) * Math.sin(5 * Math.PI * t), 5);
    }
  }
});

test('a swept section, round or drawn in any plane, holds its area times the length', () => {
  const line = node('line', 'make-line', { inputs: { from: [0, 0, 0], to: [0, 3, 4], points: 6 } });
  const sweep = (
    settings: object,
    inputs: object,
    more: ReturnType<typeof node>[] = [],
    wires: string[] = [],
  ) => {
    // prettier-ignore
    const nodes = [line, ...more, node('sweep', 'sweep-profile', { settings: settings as never, inputs: inputs as never })]; // prettier-ignore
    const { values, words } = run(project([graph(nodes, ['line.curves > sweep.curves', ...wires])]), ['sweep.mesh']); // prettier-ignore
    expect(words).toEqual([]);
    return volumeOf(meshOf(values[0]));
  };
  // A regular polygon of n sides in a circle of radius r.
  const polygon = (n: number, r: number) => (n / 2) * r * r * Math.sin((2 * Math.PI) / n);
  expect(sweep({}, { radius: 0.2, sides: 9 })).toBeCloseTo(polygon(9, 0.2) * 5, 5);
  // A ring drawn about each axis lies in the plane square to it; the radius is its factor (0.05 leaves it as it is).
  const areas = (['y', 'z', 'x'] as const).map((axis, i) => {
    const ring = node('ring', 'make-ring', { settings: { axis }, inputs: { radius: 0.3, points: 6 } });
    return sweep({ plane: ['xz', 'xy', 'zy'][i] }, { radius: 0.1 }, [ring], ['ring.curves > sweep.profile']) / 5; // prettier-ignore
  });
  for (const area of areas) expect(area / (Math.PI * 0.6 * 0.6)).toBeCloseTo(1, 2);
});

test('a thing travels along a circle: upright, with x or z along it; beyond the end it stays or begins again', () => {
  const follow = (aim: string, fraction: number, wrap = true, roll = 0) => {
    const nodes = [node('ring', 'make-ring', { settings: { axis: 'y' }, inputs: { radius: 2, points: 16 } }), node('go', 'follow-curve', { settings: { aim, wrap }, inputs: { fraction, roll } })]; // prettier-ignore
    return single(run(project([graph(nodes, ['ring.curves > go.curves'])]), ['go.matrix']).values[0]);
  };
  const plain = follow('none', 0.3);
  near(plain.slice(0, 12), [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0]);
  expect(Math.hypot(plain[12], plain[14])).toBeCloseTo(2, 3);
  const along = follow('x', 0.3);
  const z = follow('z', 0.3);
  near(along.slice(12, 15), plain.slice(12, 15));
  near(z.slice(8, 11), along.slice(0, 3));
  // The tangent is square to the way from the middle, and both frames are right-handed.
  expect(along[0] * along[12] + along[2] * along[14]).toBeCloseTo(0, 3);
  for (const m of [along, z]) {
    const cross = [m[1] * m[6] - m[2] * m[5], m[2] * m[4] - m[0] * m[6], m[0] * m[5] - m[1] * m[4]];
    near(cross, m.slice(8, 11), 6);
  }
  // A roll of 90° turns the second axis into the third.
  near(follow('x', 0.3, true, 90).slice(4, 7), along.slice(8, 11), 6);
  near(follow('x', 1.3), along, 6);
  near(follow('x', -0.7), along, 6);
  near(follow('none', 1.3, false), follow('none', 1, false));
});

import { expect, test } from 'vitest';
import { pointNormals } from '../../geometry/normals.ts';
import type { Copies } from '../../copies/copies.ts';
import { compose } from '../../maths/factors.ts';
import { graph, meshOf, node, project } from '../../testing/build.ts';
import { near, run } from '../../testing/quay.ts';
import { signedPlainly } from '../../testing/surface.ts';

/** Copies of a small sphere on the points of a ball. */
function place(settings: object, inputs: object = {}, more: ReturnType<typeof node>[] = [], wires: string[] = []) {
  const nodes = [
    node('ball', 'make-sphere', { inputs: { radius: 2, rings: 6, sides: 8 } }),
    node('pea', 'make-sphere', { inputs: { radius: 0.1 } }),
    node('bean', 'make-box'),
    ...more,
  ];
  const copy = node('copy', 'place-copies', { settings: settings as never, inputs: inputs as never });
  const from = more.some((n) => n.id === 'points') ? [] : ['ball.mesh > copy.points'];
  const { values, words } = run(
    project([graph([...nodes, copy], ['pea.mesh > copy.a', 'bean.mesh > copy.b', ...from, ...wires])]),
    ['copy.copies', 'ball.mesh'],
  );
  const value = values[0];
  return { copies: value?.form === 'copies' ? value.copies : (undefined as unknown as Copies), ball: values[1], words };
}
const axis = ({ matrices }: Copies, i: number, c: number) => Array.from(matrices.slice(i * 16 + c * 4, i * 16 + c * 4 + 3));

test('copies stand on their points, sized, turned about x, y and z, or with y along the normal', () => {
  const plain = place({}, { scale: 0.5, turn: [20, 30, 40] });
  const { positions } = meshOf(plain.ball);
  const normals = pointNormals(meshOf(plain.ball));
  expect(plain.copies.count).toBe(positions.length / 3);
  const radians = [20, 30, 40].map((a) => (a * Math.PI) / 180) as [number, number, number];
  for (let i = 0; i < plain.copies.count; i++) {
    const at = Array.from(positions.slice(i * 3, i * 3 + 3)) as [number, number, number];
    near(plain.copies.matrices.slice(i * 16, i * 16 + 16), compose(at, radians, 'xyz', [0.5, 0.5, 0.5]));
  }
  // A random turn is about the copy's own y, which stays along the normal of the ball; the same seed gives the same.
  const spun = place({ align: 'normal' }, { random: 360, vary: 0.4 });
  for (let i = 0; i < spun.copies.count; i++) {
    const up = axis(spun.copies, i, 1);
    const size = Math.hypot(...up);
    near(
      up,
      Array.from(normals.slice(i * 3, i * 3 + 3), (v) => v * size),
      6,
    );
    expect(size).toBeGreaterThanOrEqual(0.6);
    expect(size).toBeLessThanOrEqual(1.4);
    const [x, z] = [axis(spun.copies, i, 0), axis(spun.copies, i, 2)];
    near(
      [x, z].map((a) => Math.hypot(...a)),
      [size, size],
    );
    expect(x[0] * z[0] + x[1] * z[1] + x[2] * z[2]).toBeCloseTo(0, 9);
  }
  expect(place({ align: 'normal' }, { random: 360, vary: 0.4 }).copies.matrices).toEqual(spun.copies.matrices);
  expect(place({ align: 'normal' }, { random: 360, vary: 0.4, seed: 2 }).copies.matrices).not.toEqual(spun.copies.matrices);
});

test('along a direction, straight down too; along a curve; without a direction it is said', () => {
  for (const d of [
    [1, 2, -2],
    [0, -1, 0],
    [0, 3, 0],
  ]) {
    const { copies } = place({ align: 'direction' }, { direction: d });
    near(
      axis(copies, 5, 1),
      d.map((v) => v / Math.hypot(...d)),
    );
    const [x, y, z] = [0, 1, 2].map((c) => axis(copies, 5, c));
    // Right-handed and square: z is x × y.
    near(z, [x[1] * y[2] - x[2] * y[1], x[2] * y[0] - x[0] * y[2], x[0] * y[1] - x[1] * y[0]]);
  }
  const ring = place(
    { align: 'normal' },
    {},
    [node('points', 'make-ring', { inputs: { radius: 3, points: 8 } })],
    ['points.curves > copy.points'],
  );
  for (let i = 0; i < 8; i++) {
    const [up, at] = [axis(ring.copies, i, 1), axis(ring.copies, i, 3)];
    expect(Math.hypot(...at)).toBeCloseTo(3, 5);
    expect(up[0] * at[0] + up[2] * at[2]).toBeCloseTo(0, 2);
  }
  expect(place({ align: 'direction' }).words.join()).toMatch(/direction/);
});

test('which mesh is copied: in turn, by an attribute, at random but always so', () => {
  const which = (settings: object, more: ReturnType<typeof node>[] = [], wires: string[] = []) =>
    place({ count: '2', ...settings }, {}, more, wires);
  const inTurn = which({ which: 'index' }).copies;
  inTurn.which.forEach((w, i) => expect(w).toBe(i % 2));
  const random = which({}).copies.which;
  expect(new Set(random)).toEqual(new Set([0, 1]));
  expect(which({}).copies.which).toEqual(random);
  const numbered = [node('at', 'point-values'), node('points', 'write-attribute', { settings: { name: 'kind' } })];
  const wires = ['ball.mesh > at.mesh', 'ball.mesh > points.mesh', 'at.indices > points.value', 'points.mesh > copy.points'];
  which({ which: 'attribute', name: 'kind' }, numbered, wires).copies.which.forEach((w, i) => expect(w).toBe(i % 2));
  expect(which({ which: 'attribute', name: 'knd' }, numbered, wires).words.join()).toMatch(/kind/);
});

test('scattered inside: as many as were asked for, evenly, in thin meshes too; else how many and why', () => {
  const scatter = (mesh: ReturnType<typeof node>[], inputs: object, where = 'inside') => {
    const last = mesh[mesh.length - 1].id;
    const wires = mesh.slice(1).map((n, i) => `${mesh[i].id}.mesh > ${n.id}.mesh`);
    const { values, words } = run(
      project([
        graph(
          [...mesh, node('fill', 'scatter-points', { inputs: inputs as never, settings: { where } })],
          [...wires, `${last}.mesh > fill.mesh`],
        ),
      ]),
      ['fill.mesh', `${last}.mesh`],
    );
    return { points: meshOf(values[0]).positions, mesh: meshOf(values[1]), words };
  };
  // A plank, thin and askew, so that hardly anything of its bounds is inside.
  const plank = [
    node('box', 'make-box', { inputs: { size: [3, 0.002, 0.01] } }),
    node('turn', 'transform', { inputs: { rotate: [20, 30, 40] } }),
  ];
  const { points, mesh, words } = scatter(plank, { count: 400 });
  expect(words).toEqual([]);
  expect(points.length).toBe(1200);
  const along = Array.from({ length: 400 }, (_, i) => {
    expect(signedPlainly(mesh, points[i * 3], points[i * 3 + 1], points[i * 3 + 2])).toBeLessThan(1e-6);
    return Math.hypot(points[i * 3], points[i * 3 + 1], points[i * 3 + 2]);
  });
  // Evenly along it: a quarter of them in each quarter.
  for (const half of [0.375, 0.75, 1.125])
    expect(Math.abs(along.filter((d) => d < half).length / 400 - half / 1.5)).toBeLessThan(0.08);
  // More keep the first ones, thick or thin.
  expect(scatter(plank, { count: 50 }).points).toEqual(points.slice(0, 150));
  const flat = [node('box', 'make-box', { inputs: { size: [1, 0, 1] } })];
  expect(scatter(flat, { count: 5 }).words).toEqual([expect.stringMatching(/^No place inside the mesh could be found/)]);
  const ball = [node('ball', 'make-sphere', { inputs: { radius: 1 } })];
  expect(scatter(ball, { count: 500, spacing: 0.9 }).words).toEqual([expect.stringMatching(/^There was room for \d+ of 500/)]);
  const speck = [node('ball', 'make-sphere', { inputs: { radius: 0 } })];
  expect(scatter(speck, { count: 5 }, 'faces').words).toEqual([expect.stringMatching(/no area/)]);
});

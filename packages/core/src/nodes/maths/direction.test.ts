import { expect, test } from 'vitest';
import { makeGrid } from '../../geometry/primitives.ts';
import { withPositions } from '../../geometry/mesh.ts';
import { evaluatorOf, graph, node, project } from '../../testing/build.ts';
import { isNumbers } from '../../graph/node/values.ts';
import type { SettingValue } from '../../project/fields.ts';

type V = readonly [number, number, number];
const { fround, sqrt, cos, sin, floor, abs, PI } = Math;
const dot = (a: V, b: V) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const each = (make: (axis: number) => number): V => [make(0), make(1), make(2)];
const cross = (a: V, b: V): V => each((i) => a[(i + 1) % 3] * b[(i + 2) % 3] - a[(i + 2) % 3] * b[(i + 1) % 3]);
const unit = (a: V): V => {
  const l = sqrt(dot(a, a));
  return each((i) => a[i] * (l === 0 ? 0 : 1 / l));
};
const along = (factor: number) => (a: V, n: V) => {
  const squared = dot(n, n);
  const f = squared === 0 ? 0 : (factor * dot(a, n)) / squared;
  return each((i) => a[i] - f * n[i]);
};

/** The second vector of every test, and the turn. */
const SECOND: V = [0.25, -1.5, 2];
const DEGREES = 70;
const DIRECTIONS: Readonly<Record<string, (a: V) => V>> = {
  normalize: unit,
  cross: (a) => cross(a, SECOND),
  reflect: (a) => along(2)(a, SECOND),
  project: (a) => along(1)(a, SECOND),
  rotate: (a) => {
    const n = unit(SECOND);
    const angle = (DEGREES * PI) / 180;
    const rest = dot(n, a) * (1 - cos(angle));
    return each((i) => a[i] * cos(angle) + cross(n, a)[i] * sin(angle) + n[i] * rest);
  },
};
const WAVES: Readonly<Record<string, (p: number) => number>> = {
  sine: (p) => sin(2 * PI * p),
  triangle: (p) => 1 - 4 * abs(p + 0.25 - floor(p + 0.25) - 0.5),
  saw: (p) => 2 * (p - floor(p)) - 1,
  pulse: (p) => (p - floor(p) < 0.5 ? 1 : -1),
};

/** Places of points: most are ordinary, some are nothing, huge, tiny or not finite. */
const ODD = [0, -0, 1e-30, 3e38, NaN, Infinity, -Infinity, 1e-42];
const placesOf = (count: number) =>
  Float32Array.from({ length: count * 3 }, (_, i) => (i % 7 === 0 ? ODD[(i / 7) % ODD.length] : sin(i * 12.9898) * 3));

/** What comes out of a node that reads places, or their x, of so many points; as one loop with a neighbour or without. */
function run(type: string, settings: Record<string, SettingValue>, count: number, fuse: boolean): ArrayLike<number> {
  const grid = makeGrid([1, 1], [count / 2 - 1, 1]);
  const mesh = withPositions(grid, placesOf(count));
  const isWave = type === 'wave';
  const inputs = isWave ? { wavelength: 0.7, speed: 0.5, phase: 0.1, time: 3 } : { b: SECOND, angle: DEGREES };
  const nodes = [
    node('in', 'scene-mesh', { settings: { object: 'fish', space: 'own' } }),
    node('values', 'point-values'),
    node('split', 'split-vector'),
    node('it', type, { settings, inputs: inputs as never }),
    node('after', 'arithmetic', { settings: { operation: 'multiply' }, inputs: { b: 1 } }),
  ];
  const wires = [
    'in.mesh > values.mesh',
    'values.positions > split.vector',
    isWave ? 'split.x > it.value' : 'values.positions > it.a',
    'it.result > after.a',
  ];
  const wanted = [{ node: 'after', port: 'result' }];
  const evaluator = evaluatorOf(mesh, { fuse });
  const value = evaluator.evaluate({ project: project([graph(nodes, wires)]), frame: 1, wanted }).value(wanted[0]);
  if (!value || !isNumbers(value)) throw new Error('No column came.');
  return value.data;
}

const COUNTS = [12, 5000];

test.each(Object.keys(DIRECTIONS))(
  'Direction, %s: to the bit what its formula gives, of few elements and of many',
  (operation) => {
    for (const count of COUNTS) {
      const places = placesOf(count);
      const right = Float32Array.from({ length: count * 3 }, (_, i) => {
        const o = i - (i % 3);
        return DIRECTIONS[operation]([places[o], places[o + 1], places[o + 2]])[i % 3];
      });
      for (const fuse of [true, false]) expect(run('direction', { operation }, count, fuse)).toEqual(right);
    }
  },
);

test.each(Object.keys(WAVES))('Wave, %s: to the bit what its formula gives, of few elements and of many', (shape) => {
  const [wavelength, phase] = [fround(0.7), fround(0.1)];
  for (const count of COUNTS) {
    const places = placesOf(count);
    const right = Float32Array.from({ length: count }, (_, i) => WAVES[shape](places[i * 3] / wavelength - 0.5 * 3 + phase));
    for (const fuse of [true, false]) expect(run('wave', { shape }, count, fuse)).toEqual(right);
  }
});

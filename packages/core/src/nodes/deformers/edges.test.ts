import { describe, expect, test } from 'vitest';
import { withPositions, type Mesh } from '../../geometry/mesh.ts';
import { makeSphere } from '../../geometry/primitives.ts';
import { problemWords } from '../../graph/node/problems.ts';
import { settingsOf } from '../../graph/node/typed.ts';
import { throughPorts } from '../../edits/go-through.ts';
import type { NodeRecord } from '../../project/schema.ts';
import { evaluatorOf, graph, meshOf, node, project } from '../../testing/build.ts';
import { CATALOGUE } from '../index.ts';

const ball = makeSphere(1, 9, 12);

/** So far that a bulge reaches the ball from its middle. */
const reaching = (type: string): Record<string, number> => (type === 'bulge' ? { radius: 1.5 } : {});

/** A deformer on a mesh, numbers on wires by port: its points, and what is said. */
function deform(type: string, mesh: Mesh, { wired = {}, inputs = {} }: { wired?: Record<string, number>; inputs?: object } = {}) {
  const ports = Object.keys(wired);
  // Nought divided by itself is the number that is none.
  const sources = ports.map((p) =>
    node(`${p}-in`, 'arithmetic', {
      settings: { operation: 'divide' },
      inputs: { a: Number.isNaN(wired[p]) ? 0 : wired[p], b: Number.isNaN(wired[p]) ? 0 : 1 },
    }),
  );
  const from = node('in', 'scene-mesh', { settings: { object: 'fish', space: 'own' } });
  const it = node('it', type, { inputs: { ...reaching(type), ...inputs } as never });
  const wires = ['in.mesh > it.mesh', ...ports.map((p) => `${p}-in.result > it.${p}`)];
  const ref = { node: 'it', port: 'mesh' };
  const e = evaluatorOf(mesh).evaluate({ project: project([graph([from, it, ...sources], wires)]), frame: 1, wanted: [ref] });
  const words = (e.reports.get('it')?.problems ?? []).map(problemWords).join(' ');
  return { points: meshOf(e.value(ref)).positions, words };
}

const DEFORMERS: [string, readonly string[]][] = [
  ['bend', ['angle', 'from', 'to']],
  ['twist', ['angle', 'from', 'to']],
  ['taper', ['start', 'end']],
  ['swell-out', ['amount']],
  ['bulge', ['height', 'radius']],
  ['ring-waves', ['height', 'reach', 'speed', 'time']],
  ['swell-by-noise', ['amount', 'frequency', 'time']],
];

describe.each(DEFORMERS)('%s', (type, ports) => {
  test('a point that is not finite is told, and the others are where they were', () => {
    const sound = deform(type, ball);
    expect(sound.words).toBe('');
    for (const bad of [NaN, Infinity, -Infinity])
      for (const axis of [0, 1, 2]) {
        const at = 40;
        const { points, words } = deform(
          type,
          withPositions(
            ball,
            ball.positions.map((v, i) => (i === at * 3 + axis ? bad : v)),
          ),
        );
        expect(words, `${bad} ${axis}`).toMatch(/not (a )?finite/);
        // Normals of its neighbours are others too.
        const near = type === 'bend' || type === 'twist' || type === 'taper' ? 1 : 14;
        for (let i = 0; i < points.length / 3; i++)
          if (Math.abs(i - at) >= near)
            for (let k = 0; k < 3; k++) expect(points[i * 3 + k], `${bad} ${axis} point ${i}`).toBe(sound.points[i * 3 + k]);
      }
  });

  test.each(ports)('%s that is not a number is told', (port) => {
    const { words, points } = deform(type, ball, { wired: { [port]: NaN } });
    expect(`${words}${points.every(Number.isFinite)}`).not.toBe('true');
  });

  test('one weight for all is the same to the bit as the same weight at each point', () => {
    for (const weight of [0, 0.3, 1, -2]) {
      const one = deform(type, ball, { inputs: { weight } }).points;
      const from = node('in', 'scene-mesh', { settings: { object: 'fish', space: 'own' } });
      const each = node('each', 'formula', { settings: { formula: `${weight} + 0 * position.x` } });
      const g = graph(
        [from, each, node('it', type, { inputs: reaching(type) })],
        ['in.mesh > it.mesh', 'in.mesh > each.mesh', 'each.result > it.weight'],
      );
      const ref = { node: 'it', port: 'mesh' };
      const e = evaluatorOf(ball).evaluate({ project: project([g]), frame: 1, wanted: [ref] });
      expect(meshOf(e.value(ref)).positions).toEqual(one);
    }
  });

  test('what grows beyond all numbers is told; nothing at all is nothing', () => {
    const huge = withPositions(
      ball,
      ball.positions.map((v) => v * 3.3e38),
    );
    const { words, points } = deform(type, huge);
    expect(points.every(Number.isFinite) || words !== '').toBe(true);
    const empty = deform(type, makeEmpty());
    expect(empty.points).toHaveLength(0);
    expect(empty.words).not.toMatch(/undefined|null|Cannot/);
  });
});

const makeEmpty = (): Mesh => {
  const { topology } = ball;
  const none = {
    ...topology,
    id: 'none',
    pointCount: 0,
    faceCount: 0,
    cornerCount: 0,
    faceStarts: Int32Array.of(0),
    cornerPoints: new Int32Array(0),
    sourcePositions: new Float32Array(0),
  };
  return { ...ball, topology: none, positions: new Float32Array(0), attributes: [] };
};

describe.each(['bend', 'twist'])('the range of %s', (type) => {
  const at = (from: number, to: number) => deform(type, ball, { inputs: { from, to, angle: 60 } });
  test('goes through "from" beyond "to" without a jump, and says so', () => {
    expect(at(0.8, 0.3).points).toEqual(at(0.3, 0.8).points);
    expect(at(0.8, 0.3).words).toContain('"from" lies beyond "to"');
    expect(at(0.5, 0.5).words).toContain('are both 0.5');
    // No ring of the ball lies between these: the fold is what the bend becomes.
    const [before, fold, after] = [at(0.45, 0.4500001), at(0.45, 0.45), at(0.4500001, 0.45)].map((d) => d.points);
    fold.forEach((v, i) => {
      expect(v).toBeCloseTo(before[i], 5);
      expect(v).toBeCloseTo(after[i], 5);
    });
    expect(fold.some((v, i) => Math.abs(v - ball.positions[i]) > 0.3)).toBe(true);
  });
});

test('a deformer that reaches no point says so, with how far away the mesh begins', () => {
  for (const [type, port] of [
    ['bulge', 'radius'],
    ['ring-waves', 'reach'],
  ]) {
    const far = deform(type, ball, { inputs: { centre: [0, 3.9, 0], [port]: 0.5 } });
    expect(far.words).toContain('Nothing is within 0.5 m of the centre: the mesh begins 2.9 m away.');
    expect(far.points).toEqual(ball.positions);
    for (const centre of [
      [1.2, 0, 0],
      [0, 1, 0],
    ])
      expect(deform(type, ball, { inputs: { centre, [port]: 0.5 } }).words).toBe('');
    // Inside of the bounds, and still no point near.
    expect(deform(type, ball, { inputs: { [port]: 0.5 } }).words).toContain('begins 1 m away');
  }
});

describe('a weight that is 0 at every point', () => {
  /** A falloff, or a formula for each point, at the weight of a deformer on the ball. */
  const weighed = (type: string, from: NodeRecord, port = 'falloff') => {
    const mesh = node('in', 'scene-mesh', { settings: { object: 'fish', space: 'own' } });
    const it = node('it', type, { inputs: reaching(type) });
    const { into, out } = throughPorts(CATALOGUE.get(type)!)!;
    const wires = [`in.mesh > it.${into}`, `from.${port} > it.weight`, ...(port === 'falloff' ? [] : ['in.mesh > from.mesh'])];
    const p = project([graph([mesh, it, from], wires)], [0, 3.9, 0]);
    const e = evaluatorOf(ball).evaluate({ project: p, frame: 1, wanted: [{ node: 'it', port: out }] });
    return (e.reports.get('it')?.problems ?? []).map(problemWords).join(' ');
  };
  const shape = (outer: number, settings = {}) =>
    node('from', 'shape-falloff', { settings: { object: 'here', ...settings }, inputs: { outer, inner: 0 } });
  const types = [...CATALOGUE.values()].flatMap((d) =>
    // Hand Offsets without a picked point has nothing to weigh.
    d.id !== 'hand-offsets' && d.inputs(settingsOf(d, node('it', d.id))).some((i) => i.isEffect) && throughPorts(d) ? [d.id] : [],
  );

  test('is told by every deformer that a mesh goes through, with how far away the mesh begins', () => {
    const told: string[] = [];
    for (const type of types) {
      const words = weighed(type, shape(1));
      // What lacks a second mesh, a curve or copies works on nothing.
      if (/onnect|hoose|restPosition|takes copies/.test(words)) continue;
      told.push(type);
      expect(words, type).toMatch(
        type === 'loosen-faces'
          ? /every face: the mesh begins 1\.9\d* m/
          : /every point: the mesh begins 1\.9 m beyond the falloff/,
      );
      expect(weighed(type, shape(3.5)), type).not.toContain('is 0 at');
      // A weight that is worked out in the same pass as the points is never stored, so nobody looks at it.
      if (CATALOGUE.get(type)?.elements) continue;
      expect(weighed(type, node('from', 'formula', { settings: { formula: '0 * position.x' } }), 'result'), type).toMatch(
        /"weight" is 0 at all \d+ (points|faces), so nothing is changed/,
      );
    }
    expect(told.length).toBeGreaterThan(10);
  });

  test('is no matter where a falloff is turned round, where all is 0 by a dial, or where one point has some', () => {
    expect(weighed('twist', shape(1, { invert: true }))).toBe('');
    expect(deform('twist', ball, { inputs: { weight: 0 } }).words).toBe('');
    expect(weighed('twist', node('from', 'formula', { settings: { formula: 'index == 3' } }), 'result')).toBe('');
  });
});

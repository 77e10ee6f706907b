import { expect, test } from 'vitest';
import { compileResponse, respond, RESPONSE_PRESETS } from '../../maths/response.ts';
import { columnOf, graph, meshOf, node, project } from '../../testing/build.ts';
import { near, run, single } from '../../testing/quay.ts';

test('rays fall onto a slope, miss beside it, end where they are told to, and may pass from behind', () => {
  // The slope y = x tan 30°, under a grid of places two metres up; only the middle of the grid is above it.
  const slope = [
    node('ground', 'make-grid', { inputs: { width: 4, depth: 4, cellsX: 5, cellsZ: 3 } }),
    node('tilt', 'transform', { inputs: { rotate: [0, 0, 30] } }),
    node('sky', 'make-grid', { inputs: { width: 8, depth: 3, cellsX: 8, cellsZ: 2 } }),
    node('up', 'transform', { inputs: { translate: [0.1, 2, 0.1] } }),
    node('at', 'point-values'),
  ];
  const wires = [
    'ground.mesh > tilt.mesh',
    'sky.mesh > up.mesh',
    'up.mesh > at.mesh',
    'at.positions > ray.positions',
    'tilt.mesh > ray.target',
  ];
  const cast = (inputs: object, settings: object = {}) => {
    const ray = node('ray', 'ray-hit', { inputs: inputs as never, settings: settings as never });
    const { values, words } = run(project([graph([...slope, ray], wires)]), [
      'ray.hit',
      'ray.distance',
      'ray.position',
      'ray.normal',
      'ray.face',
      'at.positions',
    ]);
    expect(words).toEqual([]);
    return values.map((v) => columnOf(v).data);
  };
  const reach = 2 * Math.cos(Math.PI / 6);
  const [hit, distance, position, normal, face, from] = cast({ direction: [0, -3, 0] });
  hit.forEach((h, i) => {
    const [x, , z] = from.slice(i * 3, i * 3 + 3);
    expect(h, `x ${x}`).toBe(Math.abs(x) < reach ? 1 : 0);
    expect(face[i] >= 0).toBe(h === 1);
    if (!h) return expect(distance[i]).toBe(0);
    expect(distance[i]).toBeCloseTo(2 - x * Math.tan(Math.PI / 6), 5);
    near(position.slice(i * 3, i * 3 + 3), [x, x * Math.tan(Math.PI / 6), z], 5);
    near(normal.slice(i * 3, i * 3 + 3), [-0.5, Math.cos(Math.PI / 6), 0], 5);
  });
  expect(Array.from(hit).filter((h) => h === 1)).toHaveLength(3 * 3);
  // No further than 1.7 m: only where the slope has risen that near.
  const short = cast({ direction: [0, -1, 0], longest: 1.7 });
  short[0].forEach((h, i) => {
    expect(h).toBe(hit[i] && distance[i] <= 1.7 ? 1 : 0);
    if (!h) expect(short[1][i]).toBeCloseTo(1.7, 6);
  });
  // Rays along a face's own normal come from behind.
  expect(cast({ direction: [0.5, -Math.cos(Math.PI / 6), 0] }, { both: false })[0].some((h) => h === 1)).toBe(true);
  const under = [...slope.slice(0, 3), node('up', 'transform', { inputs: { translate: [0.1, -2, 0.1] } }), slope[4]];
  const behind = (both: boolean) =>
    run(project([graph([...under, node('ray', 'ray-hit', { inputs: { direction: [0, 1, 0] }, settings: { both } })], wires)]), [
      'ray.hit',
    ]).values[0];
  expect(columnOf(behind(true)).data.some((h) => h === 1)).toBe(true);
  expect(columnOf(behind(false)).data.some((h) => h === 1)).toBe(false);
});

test('a ray from one place gives single values', () => {
  const nodes = [
    node('ball', 'make-sphere', { inputs: { radius: 1 } }),
    node('v', 'vector', { inputs: { value: [0, 3, 0] } }),
    node('ray', 'ray-hit'),
  ];
  const { values } = run(project([graph(nodes, ['ball.mesh > ray.target', 'v.vector > ray.positions'])]), [
    'ray.distance',
    'ray.position',
    'ray.hit',
  ]);
  near(single(values[0]), [2], 6);
  near(single(values[1]), [0, 1, 0], 6);
  expect(single(values[2])).toEqual([1]);
});

test('distances to a floor fade by the closed form, at rest as they were; of an open target it is said', () => {
  const nodes = (at: string, inside: boolean) => [
    node('floor', 'make-grid', { inputs: { width: 40, depth: 40 } }),
    node('ball', 'make-sphere', { inputs: { radius: 1 } }),
    node('raised', 'transform', { inputs: { translate: [0, 2, 0] } }),
    node('rest', 'remember-rest'),
    node('away', 'transform', { inputs: { translate: [0, 5, 0] } }),
    node('fade', 'surface-falloff', { settings: { inside }, inputs: { inner: 1, outer: 3 } }),
    node('weigh', 'weigh-points', { settings: { at, name: 'near' } }),
  ];
  const wires = [
    'floor.mesh > fade.target',
    'ball.mesh > raised.mesh',
    'raised.mesh > rest.mesh',
    'rest.mesh > away.mesh',
    'away.mesh > weigh.geometry',
    'fade.falloff > weigh.falloff',
  ];
  const weights = (at: string) =>
    run(project([graph(nodes(at, false), wires)]), ['weigh.weights', 'weigh.geometry', 'raised.mesh']);
  const { values, words } = weights('rest');
  expect(words).toEqual([]);
  const { data } = columnOf(values[0]);
  const heights = meshOf(values[2]).positions.filter((_, i) => i % 3 === 1);
  const fade = compileResponse(RESPONSE_PRESETS['Ease up']);
  data.forEach((w, i) => expect(w).toBeCloseTo(respond(fade, (3 - heights[i]) / 2), 5));
  expect(Math.max(...data)).toBeCloseTo(1, 5);
  const stored = meshOf(values[1]).attributes.find((a) => a.name === 'near');
  expect(stored?.data).toEqual(data);
  // Where they are now, all of them are too far.
  expect(Math.max(...columnOf(weights('now').values[0]).data)).toBe(0);
  expect(run(project([graph(nodes('now', true), wires)]), ['weigh.weights']).words).toEqual([expect.stringMatching(/open/)]);
});

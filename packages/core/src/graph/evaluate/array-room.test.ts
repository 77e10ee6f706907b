import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makeGrid } from '../../geometry/primitives.ts';
import type { Mesh } from '../../geometry/mesh.ts';
import type { InputValue } from '../../project/fields.ts';
import type { Project } from '../../project/schema.ts';
import { weigh } from '../../falloffs/weigh.ts';
import { evaluatorOf, graph, node, project, type NodeParts } from '../../testing/build.ts';
import { pointsOf } from '../node/points-of.ts';
import { isNumbers, type Value } from '../node/values.ts';
import { ArrayRoom } from './array-room.ts';
import { Cancelled, type Evaluation, type Evaluator } from './evaluator.ts';

const mesh = makeGrid([2, 2], [60, 60]);
for (let i = 0, p = mesh.positions as Float32Array; i < p.length; i += 3) p[i + 1] = 0.3 * Math.sin(3 * p[i] + p[i + 2]);
const PLACES = Float32Array.from({ length: 300 }, (_, i) => Math.sin(i * 12.9898));

/** Every number of a value, as it is now. */
function numbersOf(value: Value | undefined): number[] {
  if (value?.form === 'falloff') return [...weigh(value.falloff, PLACES, new Float32Array(PLACES.length / 3))];
  if (value?.form === 'copies') return [...value.copies.matrices, ...value.copies.sources.flatMap((s) => [...s.positions])];
  if (value?.form === 'geometry')
    return [...value.mesh.positions, ...value.mesh.attributes.flatMap((a) => [...(a.data as Float32Array)])];
  return [...((value && (isNumbers(value) ? value.data : pointsOf(value))) ?? [])];
}

/** A node between the mesh and a look at it, with what else it needs. */
function through(type: string, parts: NodeParts): Project {
  const extra = [node('driver', 'make-sphere', { inputs: { radius: 3, rings: 6, segments: 8 } })];
  const more: Readonly<Record<string, readonly string[]>> = {
    cage: ['moved.mesh > it.cage', 'driver.mesh > it.rest'],
    'surface-bind': ['moved.mesh > it.driver', 'driver.mesh > it.rest'],
  };
  const wires = more[type] ?? [];
  const moves = wires.length > 0;
  const mine = { ...parts, inputs: moves ? {} : (parts.inputs ?? {}) };
  const nodes = [
    node('in', 'scene-mesh', { settings: { object: 'fish', space: 'own' } }),
    node('it', type, mine),
    ...(moves ? [...extra, node('moved', 'transform', { inputs: parts.inputs ?? {} })] : []),
  ];
  return project([graph(nodes, ['in.mesh > it.mesh', ...(moves ? ['driver.mesh > moved.mesh'] : []), ...wires])]);
}

/** Where arrays are made with room for as many numbers as the mesh has points, while something is done. */
function newArraysWhile(work: () => void): string[] {
  const made: string[] = [];
  const told = <T extends new (...of: never[]) => unknown>(type: T): T =>
    new Proxy(type, {
      construct(target, given: unknown[], self) {
        const most = mesh.topology.pointCount * (type.name === 'ArrayBuffer' ? 4 : 1);
        const isLarge = typeof given[0] === 'number' ? given[0] >= most : ArrayBuffer.isView(given[0]);
        if (isLarge) made.push(new Error(`${type.name} ${String(given[0]).slice(0, 20)}`).stack ?? '');
        return Reflect.construct(target, given, self) as object;
      },
    });
  const kept = { Float32Array, Float64Array, ArrayBuffer };
  Object.assign(globalThis, {
    Float32Array: told(Float32Array),
    Float64Array: told(Float64Array),
    ArrayBuffer: told(ArrayBuffer),
  });
  try {
    work();
  } finally {
    Object.assign(globalThis, kept);
  }
  return made;
}

const WANTED = [{ node: 'it', port: 'mesh' }];

/** A step of a drag, shown: gives the numbers that came. */
function step(evaluator: Evaluator, document: Project): readonly number[] {
  const value = evaluator.evaluate({ project: document, frame: 1, wanted: WANTED, gesture: 'drag' }).value(WANTED[0]);
  evaluator.settle();
  return value?.form === 'geometry' ? (value.mesh.positions as unknown as readonly number[]) : [];
}

const DIALS: [type: string, dial: string, least: number, parts?: NodeParts][] = [
  ['bend', 'angle', 20, { settings: { axis: 'x' } }],
  ['twist', 'angle', 20, { settings: { axis: 'x' } }],
  ['taper', 'end', 0.2, { settings: { axis: 'x' } }],
  ['swell-out', 'amount', 0.1],
  ['bulge', 'height', 0.1],
  ['ring-waves', 'height', 0.1],
  ['swell-by-noise', 'amount', 0.1],
  ['smooth', 'weight', 0.1],
  ['transform', 'weight', 0.1, { inputs: { translate: [1, 0, 0], rotate: [0, 30, 0] } }],
  ['transform', 'pivotTurn', 0, { inputs: { scale: [2, 1, 1] } }],
  ['cage', 'translate', 0.1],
  ['surface-bind', 'translate', 0.1],
];

describe('memory of results', () => {
  test.each(DIALS)(
    '%s, its %s dragged: no new array after the third frame, and what comes is what a fresh evaluation gives',
    (type, dial, least, parts = {}) => {
      const at = (k: number) => {
        const v = least + k / 64;
        const typed: InputValue = dial === 'translate' || dial === 'pivotTurn' ? [v, v / 2, 0] : v;
        return through(type, { ...parts, inputs: { ...parts.inputs, [dial]: typed } });
      };
      const evaluator = evaluatorOf(mesh);
      for (let k = 0; k < 3; k++) step(evaluator, at(k));
      const taken = evaluator.arrays.takenBytes;
      const documents = Array.from({ length: 5 }, (_, k) => at(3 + k));
      const shown: (readonly number[])[] = [];
      const made = newArraysWhile(() => {
        for (const document of documents) shown[0] = step(evaluator, document);
      });
      expect(made).toEqual([]);
      expect(evaluator.arrays.takenBytes).toBe(taken);
      expect(
        numbersOf(
          evaluatorOf(mesh)
            .evaluate({ project: at(7), frame: 1, wanted: WANTED })
            .value(WANTED[0]),
        ),
      ).toEqual([...shown[0]]);
      expect(shown[0]).not.toEqual([...mesh.positions]);
    },
  );

  test('where a drag began and where it ended are kept; what lay between is worked out again', () => {
    const at = (amount: number) => through('swell-out', { inputs: { amount } });
    const evaluator = evaluatorOf(mesh);
    const computed = (amount: number) => evaluator.evaluate({ project: at(amount), frame: 1, wanted: WANTED }).computed;
    expect(computed(0.1)).toContain('it');
    for (const amount of [0.2, 0.3, 0.4, 0.5]) step(evaluator, at(amount));
    expect(computed(0.1)).toEqual([]);
    expect(computed(0.5)).toEqual([]);
    expect(computed(0.3)).toEqual(['it']);
  });

  test('what is shown stays as it is until a later step is shown and the next is worked out', () => {
    const at = (amount: number) => through('swell-out', { inputs: { amount } });
    const evaluator = evaluatorOf(mesh);
    let before: { value: Value | undefined; numbers: number[] } | undefined;
    for (let k = 0; k < 8; k++) {
      const evaluation = evaluator.evaluate({ project: at(0.1 * k), frame: 1, wanted: WANTED, gesture: 'drag' });
      const value = evaluation.value(WANTED[0]);
      if (before) expect(numbersOf(before.value)).toEqual(before.numbers);
      evaluator.settle();
      if (before) expect(numbersOf(before.value)).toEqual(before.numbers);
      before = { value, numbers: numbersOf(value) };
    }
  });

  test('nothing is handed out twice, and only what came from it is taken back', () => {
    const room = new ArrayRoom(1e9, { spoils: true });
    const [a, b] = [room.room(10_000), room.room(10_000)];
    room.takeBack(a.buffer);
    room.takeBack(a.buffer);
    room.takeBack(new Float32Array(10_000).buffer);
    const early = room.room(10_000);
    expect(early.buffer).not.toBe(a.buffer);
    room.turn();
    const [c, d] = [room.room(10_000), room.floats(10_000)];
    expect(c.buffer).toBe(a.buffer);
    expect(c).not.toBe(a);
    expect(d.buffer).not.toBe(b.buffer);
    expect([Number.isNaN(c[0]), d[0]]).toEqual([true, 0]);
    room.giveBack(c);
    expect([...room.floats(10_000).subarray(0, 3)]).toEqual([0, 0, 0]);
    expect(room.takenBytes).toBe(4 * 40_000);
  });

  test('no more is kept for the next than may be', () => {
    const room = new ArrayRoom(50_000);
    const all = [1, 2, 3].map(() => room.room(5000));
    for (const a of all) room.giveBack(a);
    for (let k = 0; k < 3; k++) room.room(5000);
    expect(room.takenBytes).toBe(4 * 20_000);
  });
});

/** One graph in which much is read by many: normals as a column, a falloff by a mesh that moves, copies of it. */
const busy = ([angle, height, inner]: readonly [number, number, number], isNormal: boolean): Project =>
  project([
    graph(
      [
        node('in', 'scene-mesh', { settings: { object: 'fish', space: 'own' } }),
        node('bent', 'bend', { inputs: { angle }, settings: { axis: 'x' } }),
        node('bumped', 'bulge', { inputs: { height, radius: 1.5 } }),
        node('values', 'point-values'),
        node('before', 'point-values'),
        node('pushed', 'move-points'),
        node('even', 'smooth'),
        node('near', 'surface-falloff', { inputs: { inner, outer: 2 } }),
        node('swollen', 'swell-out', { inputs: { amount: 0.1 } }),
        node('rest', 'remember-rest'),
        node('small', 'make-grid', { inputs: { width: 1, depth: 1, cellsX: 3, cellsZ: 3 } }),
        node('copies', 'place-copies'),
        node('sized', 'edit-copies', { inputs: { scale: 2 } }),
        node('read', 'read-attribute', { settings: { name: isNormal ? 'restNormal' : 'restPosition' } }),
      ],
      [
        'in.mesh > bent.mesh',
        'bent.mesh > bumped.mesh',
        'bumped.mesh > values.mesh',
        'bent.mesh > before.mesh',
        'bumped.mesh > pushed.mesh',
        'values.normals > pushed.offset',
        'pushed.mesh > even.mesh',
        'bent.mesh > near.target',
        'even.mesh > swollen.mesh',
        'near.falloff > swollen.weight',
        'swollen.mesh > rest.mesh',
        'small.mesh > copies.points',
        'bumped.mesh > copies.a',
        'copies.copies > sized.copies',
        'near.falloff > sized.weight',
        'rest.mesh > read.mesh',
      ],
    ),
  ]);

const PORTS = [
  ['rest', 'mesh'],
  ['sized', 'copies'],
  ['near', 'falloff'],
  ['read', 'values'],
  ['values', 'normals'],
  ['before', 'normals'],
  ['even', 'mesh'],
  ['bent', 'mesh'],
] as const;

test.each(PORTS)('%s.%s, looked at in the middle of a drag, is kept with all that it reads', (of, port) => {
  const evaluator = evaluatorOf(mesh);
  const document = (k: number) => busy([20 + k, 0.3, 0.2], true);
  const shown = [{ node: 'bumped', port: 'mesh' }];
  const ref = { node: of, port };
  const look = () => evaluator.evaluate({ project: document(0), frame: 1, wanted: [ref], purpose: 'history' });
  const drag = (k: number) => {
    evaluator.evaluate({ project: document(k), frame: 1, wanted: shown, gesture: 'drag' });
    evaluator.settle();
  };
  drag(0);
  look();
  for (let k = 1; k < 8; k++) drag(k);
  const again = look();
  expect(again.computed).toEqual(of === 'bent' ? ['bent'] : []);
  const right = evaluatorOf(mesh).evaluate({ project: document(0), frame: 1, wanted: [ref] });
  expect(numbersOf(again.value(ref))).toEqual(numbersOf(right.value(ref)));
});

const dial = fc.constantFrom(0.3, 0.6, 0.9, 1.2, 1.5);
const action = fc.record({
  dials: fc.tuple(
    dial.map((v) => v * 40),
    dial,
    dial.map((v) => v / 2),
  ),
  isNormal: fc.boolean(),
  ports: fc.subarray([...PORTS], { minLength: 1 }),
  gesture: fc.constantFrom('a', 'a', 'a', 'a', 'b', undefined),
  purpose: fc.constantFrom('picture', 'picture', 'picture', 'history', 'compare'),
  cancelAfter: fc.option(fc.integer({ min: 1, max: 40 }), { freq: 6 }),
  isShown: fc.integer({ min: 0, max: 4 }).map((n) => n > 0),
});

test(
  'drags, looks, stops and other work in any order: every value is what a fresh evaluation gives',
  { timeout: 120_000 },
  () => {
    const small = makeGrid([2, 2], [40, 40]);
    for (let i = 0, p = small.positions as Float32Array; i < p.length; i += 3) p[i + 1] = 0.3 * Math.sin(3 * p[i] + p[i + 2]);
    const fresh = new Map<string, number[]>();
    const rightNumbers = (of: Mesh, document: Project, key: string, port: (typeof PORTS)[number]): number[] => {
      const name = `${key} ${port.join('.')}`;
      const ref = { node: port[0], port: port[1] };
      let known = fresh.get(name);
      if (!known) {
        known = numbersOf(
          evaluatorOf(of)
            .evaluate({ project: document, frame: 1, wanted: [ref] })
            .value(ref),
        );
        expect(known.length).toBeGreaterThan(0);
        fresh.set(name, known);
      }
      return known;
    };
    const isSame = (value: Value | undefined, right: readonly number[]): boolean => {
      const now = numbersOf(value);
      return now.length === right.length && now.every((v, i) => Object.is(v, right[i]));
    };
    fc.assert(
      fc.property(fc.array(action, { minLength: 4, maxLength: 14 }), fc.constantFrom(1e9, 300_000), (actions, cacheInBytes) => {
        const evaluator = evaluatorOf(small, { arrays: { spoils: true }, cacheInBytes });
        let shown: { evaluation: Evaluation; check: () => boolean } | undefined;
        for (const { dials, isNormal, ports, gesture, purpose, cancelAfter, isShown } of actions) {
          const document = busy(dials, isNormal);
          const key = `${dials.join()} ${isNormal}`;
          const wanted = ports.map(([n, port]) => ({ node: n, port }));
          let left = cancelAfter ?? Infinity;
          const checkpoint = () => {
            if (left-- <= 0) throw new Cancelled();
          };
          try {
            const asked = purpose === 'picture' ? gesture : undefined;
            const evaluation = evaluator.evaluate({ project: document, frame: 1, wanted, purpose, gesture: asked, checkpoint });
            const values = wanted.map((ref) => evaluation.value(ref));
            const check = () => values.every((v, i) => isSame(v, rightNumbers(small, document, key, ports[i])));
            if (!check()) return false;
            if (asked !== undefined && isShown) {
              evaluator.settle();
              shown = { evaluation, check };
            }
          } catch (error) {
            if (!(error instanceof Cancelled)) throw error;
          }
          if (shown && !shown.check()) return false;
        }
        return true;
      }),
      { numRuns: 60 },
    );
  },
);

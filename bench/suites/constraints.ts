import { mat4 } from 'gl-matrix';
import {
  CATALOGUE,
  compose,
  Evaluator,
  identity,
  invert,
  makeObject,
  makeProject,
  multiply,
  multiplyPacked,
  objectsById,
  randomFrom,
  SHOWN_PORT,
  worldMatrix,
  type GraphRecord,
  type Matrix,
  type NodeRecord,
  type Project,
} from '@umberfish/core';
import { compare, sink, type Trial } from '../measure.ts';

const OBJECTS = 2000;
/** As while playing: everything is compiled, and what is kept has reached its limit. */
const FRAMES = 600;
const SECOND = [{ node: 'second', port: 'matrix' }];

/** Multiplications and inverses of packed matrices, and of single nodes that drive objects, per frame. */
export function constraintsSuite(): Trial[] {
  const random = randomFrom(11);
  const rigid = (): Matrix =>
    compose([random() * 9, random() * 9, random() * 9], [random() * 6, random() * 6, random() * 6], 'xyz', [
      1 + random(),
      1 + random(),
      1,
    ]);
  const singles = Array.from({ length: OBJECTS }, rigid);
  const a = new Float64Array(OBJECTS * 16);
  const b = new Float64Array(OBJECTS * 16);
  const out = new Float64Array(OBJECTS * 16);
  singles.forEach((m, i) => {
    a.set(m, i * 16);
    b.set(singles[(i * 7 + 3) % OBJECTS], i * 16);
  });
  // In Float64, as ours are.
  const theirs = singles.map((m) => Float64Array.from(m) as unknown as mat4);
  const other = new Float64Array(16) as unknown as mat4;
  // Held by hand: the same multiplications and inverses as the graph, over plain arrays.
  const pool = singles.map(() => identity());
  const byHand = (frame: number) => {
    const D = compose([frame * 0.01, 0, 0], [0, frame * 0.02, 0], 'xyz', [1, 1, 1]);
    for (let i = 0; i < OBJECTS; i++) {
      const m = pool[i];
      invert(m, singles[i]);
      multiply(m, D, m);
      multiply(m, m, singles[i]);
    }
    sink.value += pool[7][12];
  };
  const products = singles.map(() => identity());
  const inverses = singles.map(() => identity());
  const singlesByHand = (frame: number) => {
    const D = compose([frame * 0.01, 0, 0], [0, frame * 0.02, 0], 'xyz', [1, 1, 1]);
    for (let i = 0; i < OBJECTS; i++) {
      multiply(products[i], D, D);
      invert(inverses[i], products[i]);
    }
    sink.value += inverses[7][12];
  };
  const packed = packedProject();
  const single = singleProject(singles);
  const evaluators = [new Evaluator(CATALOGUE, { cacheInBytes: 1e8 }), new Evaluator(CATALOGUE, { cacheInBytes: 1e8 })];
  let frame = 1;
  const evaluatePacked = () => {
    const e = evaluators[0].evaluate({ project: packed, frame: (frame += 0.25), wanted: SECOND });
    const made = e.value(SECOND[0]);
    if (made?.form !== 'matrices') throw new Error('The product gave nothing.');
    sink.value += made.data[12];
  };
  const driveNodes = single.graphs[0].nodes
    .filter((n) => n.type === 'drive-object')
    .map((n) => ({ node: n.id, port: SHOWN_PORT }));
  // And what a stage asks for: what is put under each object.
  const evaluateSingle = () => {
    const e = evaluators[1].evaluate({ project: single, frame: (frame += 0.25), wanted: driveNodes });
    const { carried, carriers } = e.allDriven();
    if (carried.length !== OBJECTS) throw new Error(`${carried.length} objects are driven.`);
    for (let i = 0; i < OBJECTS; i++) sink.value += carriers[16 * i + 12];
  };
  return [
    compare(
      '2,000 packed 4×4 multiplications, rate ÷ gl-matrix, a call each',
      () => {
        for (let r = 0; r < 50; r++) multiplyPacked(out, 0, a, 0, 16, b, 0, 16, OBJECTS);
        sink.value += out[5];
      },
      () => {
        for (let r = 0; r < 50; r++)
          for (let i = 0; i < OBJECTS; i++) sink.value += mat4.multiply(other, theirs[i], theirs[(i * 7 + 3) % OBJECTS])[0];
      },
      'higher',
      1.4,
    ),
    compare(
      'two multiplications and an inverse of 2,000 matrices as packed columns, a frame ÷ a hand-written loop',
      evaluatePacked,
      () => byHand((frame += 0.25)),
      'lower',
      2,
      FRAMES,
    ),
    compare(
      '2,000 multiplications and 2,000 inverses as single nodes that drive 2,000 objects, a frame ÷ a hand-written loop',
      evaluateSingle,
      () => singlesByHand((frame += 0.25)),
      'lower',
      8,
      FRAMES,
    ),
  ];
}

const node = (
  id: string,
  type: string,
  inputs: NodeRecord['inputs'] = {},
  settings: NodeRecord['settings'] = {},
): NodeRecord => ({ id, type, version: 1, title: '', position: [0, 0], inputs, settings, skip: false, probes: [] });
const wire = (from: string, fromPort: string, to: string, toPort: string) => ({
  id: `${from}.${fromPort}-${to}.${toPort}`,
  from: { node: from, port: fromPort },
  to: { node: to, port: toPort },
  pins: [],
});
const asGraph = (nodes: NodeRecord[], wires: GraphRecord['wires']): GraphRecord => ({
  id: 'g',
  name: 'g',
  nodes,
  wires,
  sections: [],
  preview: null,
});
/** A matrix that moves with time. */
const mover = () =>
  node('move', 'build-matrix', { translate: [{ expression: 'frame * 0.01' }, 0, 0], rotate: [0, { expression: 'frame' }, 0] });

/** D × inverse of each × each, as columns over a group. */
function packedProject(): Project {
  const random = randomFrom(4);
  const props = Array.from({ length: OBJECTS }, (_, i) =>
    makeObject(`p${i}`, `P${i}`, 'prop', {
      parent: 'all',
      channels: {
        translate: [random() * 9, random() * 9, random() * 9],
        rotate: [random() * 90, random() * 90, 0],
        order: 'xyz',
        scale: [1, 2, 1],
      },
    }),
  );
  return {
    ...makeProject('packed', 'Packed'),
    objects: [makeObject('all', 'All', 'group'), ...props],
    graphs: [
      asGraph(
        [
          node('group', 'scene-group', {}, { object: 'all' }),
          node('back', 'invert-matrix'),
          mover(),
          node('first', 'multiply-matrices'),
          node('second', 'multiply-matrices'),
        ],
        [
          wire('group', 'rests', 'back', 'matrix'),
          wire('back', 'matrix', 'first', 'a'),
          wire('move', 'matrix', 'first', 'b'),
          wire('group', 'rests', 'second', 'a'),
          wire('first', 'matrix', 'second', 'b'),
        ],
      ),
    ],
  };
}

/** A product and its inverse for each of the objects, as nodes of their own. */
function singleProject(singles: readonly Matrix[]): Project {
  const nodes: NodeRecord[] = [mover()];
  const wires: GraphRecord['wires'][number][] = [];
  const objects = singles.map((m, i) =>
    makeObject(`o${i}`, `O${i}`, 'prop', {
      channels: { translate: [m[12], m[13], m[14]], rotate: [0, i % 360, 0], order: 'xyz', scale: [1, 1, 1] },
    }),
  );
  objects.forEach((o, i) => {
    nodes.push(
      node(`m${i}`, 'multiply-matrices'),
      node(`n${i}`, 'invert-matrix'),
      node(`d${i}`, 'drive-object', {}, { object: o.id }),
    );
    wires.push(
      wire('move', 'matrix', `m${i}`, 'a'),
      wire('move', 'matrix', `m${i}`, 'b'),
      wire(`m${i}`, 'matrix', `n${i}`, 'matrix'),
      wire(`n${i}`, 'matrix', `d${i}`, 'matrix'),
    );
  });
  sink.value += worldMatrix(objectsById(objects), 'o1')[0];
  return { ...makeProject('single', 'Single'), objects, graphs: [asGraph(nodes, wires)] };
}

import { crossOf, dotOf, eachAxis, lengthOf, type FormulaValue, type ProgramBuilder } from '../../expression/index.ts';
import type { InputPort, NodeDefinition } from '../../graph/node/definition.ts';
import { text } from '../ports.ts';

const VECTOR = (id: string, help: string): InputPort => ({
  id,
  label: id,
  kind: 'vector',
  default: [0, 0, 0],
  range: { min: -10, max: 10 },
  help,
});

const takesTwo = (operation: string) => operation !== 'length';

export const measure: NodeDefinition = {
  id: 'measure',
  version: 1,
  title: 'Measure',
  group: 'Maths',
  summary: 'Measures vectors: length, distance between two, dot product, or the angle between them.',
  keywords: ['distance', 'length', 'dot', 'angle', 'magnitude'],
  inputs: (s) => [
    VECTOR('a', 'The first vector or position.'),
    ...(takesTwo(text(s, 'operation')) ? [VECTOR('b', 'The second vector or position.')] : []),
  ],
  outputs: (s) => [
    {
      id: 'result',
      label: text(s, 'operation'),
      kind: 'number',
      unit: { angle: '°', distance: 'm', length: 'm' }[text(s, 'operation')],
      help: 'One number per element. The angle to or from a vector of length 0 is 0.',
    },
  ],
  settings: [
    {
      id: 'operation',
      label: 'Measure',
      type: 'choice',
      options: [
        { value: 'distance', label: 'Distance' },
        { value: 'length', label: 'Length' },
        { value: 'dot', label: 'Dot product' },
        { value: 'angle', label: 'Angle (degrees)' },
      ],
      default: 'distance',
      help: 'What is measured.',
    },
  ],
  sentence: (s) => {
    const operation = text(s, 'operation');
    return operation === 'length' ? 'length of a' : operation === 'distance' ? 'distance a to b' : `${operation} of a and b`;
  },
  elements: {
    plan: (s) => ({
      inputs: (takesTwo(text(s, 'operation')) ? ['a', 'b'] : ['a']).map((port) => ({
        port,
        lane: 'vector' as const,
      })),
      outputs: [{ port: 'result', lane: 'number' }],
    }),
    program: (b, [u, v], s) => [[PROGRAMS[text(s, 'operation')](b, u, v)]],
  },
};

const PROGRAMS: Readonly<Record<string, (b: ProgramBuilder, u: FormulaValue, v: FormulaValue) => number>> = {
  distance: (b, u, v) =>
    lengthOf(
      b,
      eachAxis([u, v], (x, y) => b.operate('subtract', [x, y])),
    ),
  length: (b, u) => lengthOf(b, u),
  dot: dotOf,
  // From sine and cosine both, so that it stays exact near 0° and 180° where the cosine alone is flat.
  angle: (b, u, v) => {
    const radians = b.operate('atan2', [lengthOf(b, crossOf(b, u, v)), dotOf(b, u, v)]);
    return b.operate('divide', [b.operate('multiply', [radians, b.constant(180)]), b.constant(Math.PI)]);
  },
};

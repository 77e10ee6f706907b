import { eachAxis, lowerOperator, type OperationCode } from '../../expression/index.ts';
import type { InputPort, NodeDefinition, Settings } from '../../graph/node/definition.ts';
import { text } from '../ports.ts';
import { widest } from './lanes.ts';

/** Operations over a list of operands, taken from the left. */
const FOLDS: Readonly<Record<string, OperationCode | '%'>> = {
  add: 'add',
  subtract: 'subtract',
  multiply: 'multiply',
  divide: 'divide',
  power: 'power',
  minimum: 'minimum',
  maximum: 'maximum',
  remainder: '%',
};

/** Operations on one operand. */
const SINGLES: Readonly<Record<string, OperationCode | '1 -'>> = {
  negate: 'negate',
  absolute: 'abs',
  sign: 'sign',
  floor: 'floor',
  round: 'round',
  'square root': 'sqrt',
  sine: 'sin',
  cosine: 'cos',
  'one minus': '1 -',
};

const LETTERS = ['a', 'b', 'c', 'd', 'e', 'f', 'g', 'h'];

const isSingle = (s: Settings) => Object.hasOwn(SINGLES, text(s, 'operation'));
const operandsOf = (s: Settings): string[] => LETTERS.slice(0, isSingle(s) ? 1 : Math.max(2, Number(s.operands)));

export const arithmetic: NodeDefinition = {
  id: 'arithmetic',
  version: 1,
  title: 'Arithmetic',
  group: 'Maths',
  summary: 'Adds, multiplies or otherwise combines numbers and vectors, element by element.',
  keywords: [
    'math',
    'add',
    'subtract',
    'multiply',
    'divide',
    'power',
    'plus',
    'minus',
    'times',
    'sine',
    'cosine',
    'absolute',
    'minimum',
    'maximum',
  ],
  inputs: (s) =>
    operandsOf(s).map((id): InputPort => ({
      id,
      label: id,
      kind: 'value',
      default: ['multiply', 'divide', 'power'].includes(text(s, 'operation')) ? 1 : 0,
      range: { min: -10, max: 10 },
      help: 'A number or vector, single or one per element. Vectors are taken axis by axis; a number serves all three.',
    })),
  outputs: () => [
    {
      id: 'result',
      label: 'result',
      kind: 'value',
      help: 'A vector where any operand is one, else a number.',
    },
  ],
  settings: [
    {
      id: 'operation',
      label: 'Operation',
      type: 'choice',
      options: [...Object.keys(FOLDS), ...Object.keys(SINGLES)].map((value) => ({
        value,
        label: value[0].toUpperCase() + value.slice(1) + (value === 'sine' || value === 'cosine' ? ' (radians)' : ''),
      })),
      default: 'add',
      help: 'What is done with the operands, from the first to the last. Remainder has the sign of the divisor: −7 by 3 leaves 2.',
    },
    {
      id: 'operands',
      label: 'Operands',
      type: 'choice',
      options: ['2', '3', '4', '5', '6', '7', '8'].map((value) => ({ value, label: value })),
      default: '2',
      help: 'How many inputs the operation takes; operations on one value use the first.',
    },
  ],
  sentence: (s) => (isSingle(s) ? `${text(s, 'operation')} of a` : `${text(s, 'operation')}, ${operandsOf(s).length} operands`),
  passes: { result: 'a' },
  elements: {
    plan: (s, kinds) => {
      const operands = operandsOf(s);
      return {
        inputs: operands.map((port) => ({ port, lane: widest(kinds, [port]) })),
        outputs: [{ port: 'result', lane: widest(kinds, operands) }],
      };
    },
    program(b, inputs, s) {
      const operation = text(s, 'operation');
      if (isSingle(s)) {
        const code = SINGLES[operation];
        return [inputs[0].map((a) => (code === '1 -' ? b.operate('subtract', [b.constant(1), a]) : b.operate(code, [a])))];
      }
      const code = FOLDS[operation];
      const result = inputs.reduce((a, v) =>
        code === '%' ? lowerOperator(b, '%', a, v) : eachAxis([a, v], (x, y) => b.operate(code, [x, y])),
      );
      return [result];
    },
  },
};

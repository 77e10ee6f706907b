import type {
  ElementPlan,
  InputPort,
  Kernel,
  NodeDefinition,
  Settings,
  Uniforms,
} from '../../graph/definition.ts';
import type { ElementKind } from '../../graph/values.ts';
import { CHUNK } from '../../graph/chains.ts';
import { text } from '../ports.ts';
import { alike, LANE_WIDTH, widest } from './lanes.ts';
import { isQuick, quickKernel, type QuickOperation } from './arithmetic-quick.ts';

/** Operations over a list of operands, taken from the left. */
const FOLDS: Record<string, (a: number, b: number) => number> = {
  add: (a, b) => a + b,
  subtract: (a, b) => a - b,
  multiply: (a, b) => a * b,
  divide: (a, b) => a / b,
  power: (a, b) => Math.pow(a, b),
  minimum: (a, b) => Math.min(a, b),
  maximum: (a, b) => Math.max(a, b),
  remainder: (a, b) => (b === 0 ? NaN : a - b * Math.floor(a / b)),
};

/** Operations on one operand. */
const SINGLES: Record<string, (a: number) => number> = {
  negate: (a) => -a,
  absolute: Math.abs,
  sign: Math.sign,
  floor: Math.floor,
  round: Math.round,
  'square root': Math.sqrt,
  sine: Math.sin,
  cosine: Math.cos,
  'one minus': (a) => 1 - a,
};

const LETTERS = ['a', 'b', 'c', 'd', 'e', 'f', 'g', 'h'];

const isSingle = (s: Settings) => Object.hasOwn(SINGLES, text(s, 'operation'));
const operandsOf = (s: Settings): string[] =>
  LETTERS.slice(0, isSingle(s) ? 1 : Math.max(2, Number(s.operands)));

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
        label:
          value[0].toUpperCase() +
          value.slice(1) +
          (value === 'sine' || value === 'cosine' ? ' (radians)' : ''),
      })),
      default: 'add',
      help: 'What is done with the operands, from the first to the last.',
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
  sentence: (s) =>
    isSingle(s)
      ? `${text(s, 'operation')} of a`
      : `${text(s, 'operation')}, ${operandsOf(s).length} operands`,
  passes: { result: 'a' },
  elements: {
    plan: planOf,
    compile(s, plan, uniforms) {
      const operation = text(s, 'operation');
      const width = LANE_WIDTH[plan.outputs[0].lane];
      if (isSingle(s)) return mapKernel(SINGLES[operation], width);
      const quick = quickForm(s, plan, uniforms);
      if (quick) return quick;
      return foldKernel(FOLDS[operation], width, plan.inputs.length);
    },
  },
};

/** A number beside a vector stays a number where the quick kernel reads it once per point; else it is spread. */
function planOf(s: Settings, kinds: Readonly<Record<string, ElementKind>>): ElementPlan {
  const operands = operandsOf(s);
  const plan = alike(operands, widest(kinds, operands));
  const quick = isQuick(text(s, 'operation')) && operands.length <= 3 && kinds[operands[0]] === 'vector';
  const second = kinds[operands[1]] === 'vector' ? 'vector' : 'number';
  if (!quick || (operands.length === 3 && kinds[operands[2]] === 'vector')) return plan;
  const inputs = plan.inputs.map((input, i): ElementPlan['inputs'][number] =>
    i === 0 ? input : { ...input, lane: i === 1 ? second : ('number' as const) },
  );
  return { ...plan, inputs };
}

/** Two operands, or three of which the last is one number for all. */
function quickForm(s: Settings, plan: ElementPlan, uniforms: Uniforms): Kernel | undefined {
  const operation = text(s, 'operation');
  if (!isQuick(operation)) return undefined;
  const [a, b, c] = plan.inputs;
  const third = c ? uniforms[c.port] : undefined;
  if (plan.inputs.length > 3 || (c && third === undefined)) return spreadFold(s, plan);
  return quickKernel(operation as QuickOperation, LANE_WIDTH[a.lane], LANE_WIDTH[b.lane], third);
}

/** The general kernel over number lanes beside vector ones. */
function spreadFold(s: Settings, plan: ElementPlan): Kernel {
  const widths = plan.inputs.map((i) => LANE_WIDTH[i.lane]);
  return foldKernel(
    FOLDS[text(s, 'operation')],
    LANE_WIDTH[plan.outputs[0].lane],
    plan.inputs.length,
    widths,
  );
}

function mapKernel(run: (a: number) => number, width: number): Kernel {
  return (inputs, inputAt, outputs, outputAt, count) => {
    const a = inputs[0], out = outputs[0], i = inputAt[0], o = outputAt[0]; // prettier-ignore
    for (let k = 0; k < count * width; k++) out[o + k] = run(a[i + k]);
  };
}

function foldKernel(
  run: (a: number, b: number) => number,
  width: number,
  operands: number,
  widths?: readonly number[],
): Kernel {
  // Sums are carried in Float64 and rounded once, at the end (DECISIONS 15).
  const scratch = new Float64Array(CHUNK * width);
  return (inputs, inputAt, outputs, outputAt, count) => {
    const carried = scratch;
    const n = count * width;
    const first = inputs[0], out = outputs[0], f = inputAt[0], o = outputAt[0]; // prettier-ignore
    for (let k = 0; k < n; k++) carried[k] = first[f + k];
    for (let j = 1; j < operands; j++) {
      const b = inputs[j], i = inputAt[j], each = widths && widths[j] < width ? width : 1; // prettier-ignore
      for (let k = 0; k < n; k++) carried[k] = run(carried[k], b[i + Math.floor(k / each)]);
    }
    for (let k = 0; k < n; k++) out[o + k] = carried[k];
  };
}

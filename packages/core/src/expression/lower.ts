import type { BinaryOperator } from './functions.ts';
import { ExpressionError, type Tree } from './parse.ts';
import type { OPERATIONS, ProgramBuilder } from './program.ts';

/** An operation that computes from others. */
export type OperationCode = keyof typeof OPERATIONS;

/** A number or a vector in the making: the operations that give its one or three numbers. */
export type FormulaValue = readonly number[];

/** A function of a formula that does not simply work axis by axis. */
export interface FormulaFunction {
  readonly takes: readonly string[];
  readonly help: string;
  /** How many of the last ones may be left out. */
  readonly optional: number;
}

const describe = (help: string, takes: string, optional = 0): FormulaFunction => ({
  help,
  takes: takes.split(' '),
  optional,
});

/** Functions of vectors, and those that need more than numbers. */
export const FORMULA_FUNCTIONS: Readonly<Record<string, FormulaFunction>> = {
  vector: describe('Three numbers as one vector or colour.', 'x y z'),
  length: describe('How long a vector is.', 'v'),
  distance: describe('How far apart two places are.', 'a b'),
  dot: describe('Dot product: |a| |b| × the cosine between them.', 'a b'),
  cross: describe('The vector square to both.', 'a b'),
  normalize: describe('The same direction at length 1; 0 stays 0.', 'v'),
  noise: describe('Smooth noise at a place, −1 to 1; octaves and seed may be left out.', 'place octaves seed', 2),
  random: describe('A random number, 0 to 1, for an index; the seed may be left out.', 'index seed', 1),
  if: describe('yes where the condition is not 0, else no.', 'condition yes no'),
  and: describe('1 where both are not 0.', 'a b'),
  or: describe('1 where one is not 0.', 'a b'),
  not: describe('1 where it is 0.', 'a'),
};

const OPERATOR_CODES: Record<Exclude<BinaryOperator, '%'>, { code: OperationCode; swap?: boolean }> = {
  '+': { code: 'add' },
  '-': { code: 'subtract' },
  '*': { code: 'multiply' },
  '/': { code: 'divide' },
  '^': { code: 'power' },
  '<': { code: 'less' },
  '<=': { code: 'lessEqual' },
  '>': { code: 'less', swap: true },
  '>=': { code: 'lessEqual', swap: true },
  '==': { code: 'equal' },
  '!=': { code: 'unequal' },
};

/** Two values by an operator, axis by axis; a number beside a vector serves all three. */
export function lowerOperator(
  b: ProgramBuilder,
  operator: BinaryOperator,
  left: FormulaValue,
  right: FormulaValue,
): FormulaValue {
  if (operator === '%') return eachAxis([left, right], (l, r) => remainder(b, l, r));
  const { code, swap } = OPERATOR_CODES[operator];
  return eachAxis([left, right], (l, r) => b.operate(code, swap ? [r, l] : [l, r]));
}

/** What is left of l above whole multiples of r; NaN where r is 0. */
function remainder(b: ProgramBuilder, l: number, r: number): number {
  const whole = b.operate('floor', [b.operate('divide', [l, r])]);
  const left = b.operate('subtract', [l, b.operate('multiply', [r, whole])]);
  return b.operate('choose', [b.operate('equal', [r, b.constant(0)]), b.constant(NaN), left]);
}

/** Dot product of two vectors. */
export function dotOf(b: ProgramBuilder, u: FormulaValue, v: FormulaValue): number {
  const [x, y, z] = [0, 1, 2].map((axis) => b.operate('multiply', [u[axis], v[axis]]));
  return b.operate('add', [b.operate('add', [x, y]), z]);
}

/** Cross product of two vectors. */
export const crossOf = (b: ProgramBuilder, u: FormulaValue, v: FormulaValue): FormulaValue =>
  [0, 1, 2].map((axis) => {
    const [i, j] = [(axis + 1) % 3, (axis + 2) % 3];
    return b.operate('subtract', [b.operate('multiply', [u[i], v[j]]), b.operate('multiply', [u[j], v[i]])]);
  });

/** How long a vector is. */
export const lengthOf = (b: ProgramBuilder, v: FormulaValue): number => b.operate('sqrt', [dotOf(b, v, v)]);

/** Works number by number over values of which some may be vectors. */
export function eachAxis(values: readonly FormulaValue[], make: (...of: number[]) => number): FormulaValue {
  const width = Math.max(...values.map((v) => v.length));
  return Array.from({ length: width }, (_, axis) => make(...values.map((v) => v[v.length === 1 ? 0 : axis])));
}

/** A call whose values are made already. @throws ExpressionError when they are of the wrong kind. */
export function lowerCall(
  b: ProgramBuilder,
  tree: Extract<Tree, { type: 'call' }>,
  given: readonly FormulaValue[],
): FormulaValue {
  const { name } = tree;
  const op = (code: OperationCode) => (x: number, y: number) => b.operate(code, [x, y]);
  const [add, subtract, multiply, divide] = (['add', 'subtract', 'multiply', 'divide'] as const).map(op);
  const minimum = op('minimum');
  const maximum = op('maximum');
  const constant = (v: number) => b.constant(v);
  const choose = (c: number, yes: number, no: number) => b.operate('choose', [c, yes, no]);
  const number = (i: number): number => {
    if (given[i].length === 1) return given[i][0];
    throw new ExpressionError(`gives "${name}" a vector where it takes a number.`, tree.of[i]);
  };
  const vector = (i: number): FormulaValue => {
    if (given[i].length === 3) return given[i];
    throw new ExpressionError(`gives "${name}" a number where it takes a vector.`, tree.of[i]);
  };
  const dot = (u: FormulaValue, v: FormulaValue) => dotOf(b, u, v);
  const length = (v: FormulaValue) => lengthOf(b, v);
  switch (name) {
    case 'vector':
      return [number(0), number(1), number(2)];
    case 'length':
      return [length(vector(0))];
    case 'distance': {
      const [p, q] = [vector(0), vector(1)];
      return [length(p.map((v, axis) => subtract(v, q[axis])))];
    }
    case 'dot':
      return [dot(vector(0), vector(1))];
    case 'cross':
      return crossOf(b, vector(0), vector(1));
    case 'normalize': {
      const v = vector(0);
      const size = length(v);
      const none = b.operate('equal', [size, constant(0)]);
      return v.map((x) => choose(none, constant(0), divide(x, size)));
    }
    case 'noise':
      return [b.operate('noise', [...vector(0), given[1] ? number(1) : constant(1), given[2] ? number(2) : constant(0)])];
    case 'random':
      return [b.operate('random', [number(0), given[1] ? number(1) : constant(0)])];
    case 'if':
      return eachAxis([[number(0)], given[1], given[2]], choose);
    case 'and':
      return eachAxis([given[0], given[1]], (x, y) => choose(x, b.operate('unequal', [y, constant(0)]), constant(0)));
    case 'or':
      return eachAxis([given[0], given[1]], (x, y) => choose(x, constant(1), b.operate('unequal', [y, constant(0)])));
    case 'not':
      return eachAxis([given[0]], (x) => b.operate('equal', [x, constant(0)]));
    case 'pow':
      return eachAxis(given, op('power'));
    case 'min':
      return given.reduce((a, v) => eachAxis([a, v], minimum));
    case 'max':
      return given.reduce((a, v) => eachAxis([a, v], maximum));
    case 'fract':
      return eachAxis(given, (x) => subtract(x, b.operate('floor', [x])));
    case 'clamp':
      return eachAxis(given, (x, low, high) => minimum(maximum(x, low), high));
    case 'mix':
      return eachAxis(given, (x, y, t) => add(x, multiply(subtract(y, x), t)));
    case 'smoothstep':
      return eachAxis(given, (low, high, x) => {
        const step = b.operate('lessEqual', [low, x]);
        const ramp = minimum(maximum(divide(subtract(x, low), subtract(high, low)), constant(0)), constant(1));
        const t = choose(b.operate('equal', [low, high]), step, ramp);
        return multiply(multiply(t, t), subtract(constant(3), multiply(constant(2), t)));
      });
    case 'degrees':
      return eachAxis(given, (x) => divide(multiply(x, constant(180)), constant(Math.PI)));
    case 'radians':
      return eachAxis(given, (x) => divide(multiply(x, constant(Math.PI)), constant(180)));
    case 'atan2':
      return eachAxis(given, op('atan2'));
    default:
      // The rest are operations of their own: sin, sqrt, floor …
      return eachAxis(given, (x) => b.operate(name as OperationCode, [x]));
  }
}

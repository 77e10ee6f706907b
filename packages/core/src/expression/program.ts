import { fractalNoise3, makeNoise } from '../maths/noise.ts';
import { randomAt } from '../maths/random.ts';
import { EXPRESSION_FUNCTIONS, OPERATORS } from './functions.ts';

let lastField = { seed: NaN, field: makeNoise(0) };

/** Fractal noise at a place; 1 to 12 octaves, each half as high and twice as fine as the one before. */
export function noiseAt(x: number, y: number, z: number, octaves: number, seed: number): number {
  // A formula nearly always has one seed; the last field is kept as scratch.
  if (lastField.seed !== seed) lastField = { seed, field: makeNoise(Math.round(seed)) };
  return fractalNoise3(lastField.field, x, y, z, Math.max(1, Math.min(12, Math.round(octaves))), 2, 0.5);
}

/** What each operation computes from its operands, in Float64. */
export const OPERATIONS = {
  add: OPERATORS['+'],
  subtract: OPERATORS['-'],
  multiply: OPERATORS['*'],
  divide: OPERATORS['/'],
  power: OPERATORS['^'],
  less: OPERATORS['<'],
  lessEqual: OPERATORS['<='],
  equal: OPERATORS['=='],
  unequal: OPERATORS['!='],
  minimum: Math.min,
  maximum: Math.max,
  negate: (a: number) => -a,
  sin: Math.sin,
  cos: Math.cos,
  tan: Math.tan,
  asin: Math.asin,
  acos: Math.acos,
  atan: Math.atan,
  atan2: EXPRESSION_FUNCTIONS.atan2.run,
  sqrt: Math.sqrt,
  exp: Math.exp,
  log: Math.log,
  abs: Math.abs,
  sign: Math.sign,
  floor: Math.floor,
  ceil: Math.ceil,
  round: Math.round,
  choose: (condition: number, yes: number, no: number) => (condition !== 0 ? yes : no),
  /** Rounded to Float32, as where a value leaves a node. */
  single: Math.fround,
  noise: noiseAt,
  random: randomAt,
} satisfies Record<string, (...of: number[]) => number>;

/**
 * One operation of a program. `constant` has a value; `parameter` is a number given when it is run, the same for all
 * elements; `lane` reads number `part` of each element of an input; `index` counts the elements from 0; the others
 * compute from the results of earlier operations.
 */
export type Operation =
  | { readonly code: 'constant'; readonly value: number }
  | { readonly code: 'parameter'; readonly name: string }
  | { readonly code: 'lane'; readonly lane: number; readonly part: number }
  | { readonly code: 'index' }
  | { readonly code: keyof typeof OPERATIONS; readonly of: readonly number[] };

/** A formula may not grow beyond this many operations. */
export const MOST_OPERATIONS = 4000;

export class TooLongError extends Error {}

/**
 * Collects operations in an order in which they can be computed. Equal ones are made once and those on constants are
 * computed at once; nothing is reordered, so numbers are the same as if every line were computed by itself.
 */
export class ProgramBuilder {
  /** @param most operations it may come to. */
  constructor(private readonly most: number = MOST_OPERATIONS) {}

  readonly operations: Operation[] = [];
  private readonly known = new Map<string, number>();

  constant(value: number): number {
    return this.make(`= ${Object.is(value, -0) ? '-0' : value}`, { code: 'constant', value });
  }

  parameter(name: string): number {
    return this.make(`: ${name}`, { code: 'parameter', name });
  }

  lane(lane: number, part: number): number {
    return this.make(`lane ${lane} ${part}`, { code: 'lane', lane, part });
  }

  index(): number {
    return this.make('index', { code: 'index' });
  }

  /** An operation on the results of earlier ones. */
  operate(code: keyof typeof OPERATIONS, of: readonly number[]): number {
    const values: number[] = [];
    for (const at of of) {
      const o = this.operations[at];
      if (o.code === 'constant') values.push(o.value);
    }
    const compute = OPERATIONS[code] as (...of: number[]) => number;
    if (values.length === of.length) return this.constant(compute(...values));
    return this.make(`${code} ${of.join(' ')}`, { code, of });
  }

  private make(key: string, operation: Operation): number {
    let at = this.known.get(key);
    if (at === undefined) {
      if (this.operations.length >= this.most)
        throw new TooLongError(`comes to more than ${this.most} operations. Split it over two nodes.`);
      at = this.operations.push(operation) - 1;
      this.known.set(key, at);
    }
    return at;
  }
}

/** A function that works number by number; on vectors it works axis by axis. */
export interface EachFunction {
  /** Names of what it takes; with `more`, the last may be repeated. */
  readonly takes: readonly string[];
  readonly more?: boolean;
  readonly help: string;
  run(...values: number[]): number;
}

const one = (help: string, run: (x: number) => number): EachFunction => ({ takes: ['x'], help, run });

/** Functions of plain numbers, for expressions and formulas alike. Angles are radians. */
export const EXPRESSION_FUNCTIONS: Readonly<Record<string, EachFunction>> = {
  sin: one('Sine of an angle in radians.', Math.sin),
  cos: one('Cosine of an angle in radians.', Math.cos),
  tan: one('Tangent of an angle in radians.', Math.tan),
  asin: one('Angle in radians whose sine is x.', Math.asin),
  acos: one('Angle in radians whose cosine is x.', Math.acos),
  atan: one('Angle in radians whose tangent is x.', Math.atan),
  atan2: { takes: ['y', 'x'], help: 'Angle in radians of the direction (x, y).', run: Math.atan2 },
  sqrt: one('Square root.', Math.sqrt),
  exp: one('e to the power of x.', Math.exp),
  log: one('Natural logarithm.', Math.log),
  pow: { takes: ['x', 'power'], help: 'x to a power; the same as x ^ power.', run: Math.pow },
  abs: one('Size without the sign.', Math.abs),
  sign: one('−1, 0 or 1.', Math.sign),
  floor: one('The whole number below.', Math.floor),
  ceil: one('The whole number above.', Math.ceil),
  round: one('The nearest whole number.', Math.round),
  fract: one('What is left above the whole number below.', (x) => x - Math.floor(x)),
  min: { takes: ['a', 'b'], more: true, help: 'The smallest.', run: Math.min },
  max: { takes: ['a', 'b'], more: true, help: 'The largest.', run: Math.max },
  clamp: {
    takes: ['x', 'low', 'high'],
    help: 'x, kept between low and high.',
    run: (x, low, high) => Math.min(Math.max(x, low), high),
  },
  mix: {
    takes: ['a', 'b', 'amount'],
    help: 'From a (amount 0) to b (amount 1), straight.',
    run: (a, b, t) => a + (b - a) * t,
  },
  smoothstep: {
    takes: ['low', 'high', 'x'],
    help: '0 below low, 1 above high, an eased step between.',
    run: (low, high, x) => {
      const t = low === high ? Number(x >= low) : Math.min(Math.max((x - low) / (high - low), 0), 1);
      return t * t * (3 - 2 * t);
    },
  },
  degrees: one('Radians to degrees.', (r) => (r * 180) / Math.PI),
  radians: one('Degrees to radians.', (d) => (d * Math.PI) / 180),
};

/** What number fields know besides: choices, which formulas make in a way of their own, by vectors too. */
export const FIELD_FUNCTIONS: Readonly<Record<string, EachFunction>> = {
  ...EXPRESSION_FUNCTIONS,
  if: {
    takes: ['condition', 'yes', 'no'],
    help: 'yes where the condition is not 0, else no.',
    run: (c, yes, no) => (c !== 0 ? yes : no),
  },
  and: { takes: ['a', 'b'], help: '1 where both are not 0.', run: (a, b) => Number(a !== 0 && b !== 0) },
  or: { takes: ['a', 'b'], help: '1 where one is not 0.', run: (a, b) => Number(a !== 0 || b !== 0) },
  not: one('1 where it is 0.', (x) => Number(x === 0)),
};

export const BINARY_OPERATORS = ['+', '-', '*', '/', '%', '^', '<', '<=', '>', '>=', '==', '!='] as const;
export type BinaryOperator = (typeof BINARY_OPERATORS)[number];

/** What each operator computes. `%` takes the sign of the divisor and is NaN for 0; comparisons give 1 or 0. */
export const OPERATORS: Readonly<Record<BinaryOperator, (a: number, b: number) => number>> = {
  '+': (a, b) => a + b,
  '-': (a, b) => a - b,
  '*': (a, b) => a * b,
  '/': (a, b) => a / b,
  '%': (a, b) => (b === 0 ? NaN : a - b * Math.floor(a / b)),
  '^': (a, b) => Math.pow(a, b),
  '<': (a, b) => (a < b ? 1 : 0),
  '<=': (a, b) => (a <= b ? 1 : 0),
  '>': (a, b) => (a > b ? 1 : 0),
  '>=': (a, b) => (a >= b ? 1 : 0),
  '==': (a, b) => (a === b ? 1 : 0),
  '!=': (a, b) => (a !== b ? 1 : 0),
};

/** Whether a function can take this many values. */
export const takesCount = (f: { takes: readonly string[]; more?: boolean }, count: number): boolean =>
  f.more ? count >= 1 : count === f.takes.length;

/** The known name closest to a mistyped one: equal but for case, or within two letters; undefined when none is. */
export function suggest(name: string, known: readonly string[]): string | undefined {
  const lower = name.toLowerCase();
  let best: string | undefined;
  let bestDistance = name.length < 4 ? 2 : 3;
  for (const k of known) {
    const d = editDistance(lower, k.toLowerCase());
    if (d < bestDistance && d < name.length) {
      best = k;
      bestDistance = d;
    }
  }
  return best;
}

function editDistance(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++) {
      next[j] = Math.min(row[j] + 1, next[j - 1] + 1, row[j - 1] + (a[i - 1] === b[j - 1] ? 0 : 1));
    }
    row = next;
  }
  return row[b.length];
}

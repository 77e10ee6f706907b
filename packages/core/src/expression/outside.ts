import { noiseAt, type OPERATIONS } from './program.ts';
import { randomAt } from '../maths/random.ts';

/** A loop over one chunk: numbers at `of[i] + k` of `m` to number `out + k`. */
type OutsideLoop = (m: Float64Array, out: number, of: readonly number[], n: number) => void;

/*
 * One plain loop for each function that WebAssembly lacks. They are written out one by one on purpose: a shared loop
 * that is given the function calls it element by element, which costs more than the function.
 */
const LOOPS = {
  sin: (m, o, [a], n) => {
    for (let k = 0; k < n; k++) m[o + k] = Math.sin(m[a + k]);
  },
  cos: (m, o, [a], n) => {
    for (let k = 0; k < n; k++) m[o + k] = Math.cos(m[a + k]);
  },
  tan: (m, o, [a], n) => {
    for (let k = 0; k < n; k++) m[o + k] = Math.tan(m[a + k]);
  },
  asin: (m, o, [a], n) => {
    for (let k = 0; k < n; k++) m[o + k] = Math.asin(m[a + k]);
  },
  acos: (m, o, [a], n) => {
    for (let k = 0; k < n; k++) m[o + k] = Math.acos(m[a + k]);
  },
  atan: (m, o, [a], n) => {
    for (let k = 0; k < n; k++) m[o + k] = Math.atan(m[a + k]);
  },
  exp: (m, o, [a], n) => {
    for (let k = 0; k < n; k++) m[o + k] = Math.exp(m[a + k]);
  },
  log: (m, o, [a], n) => {
    for (let k = 0; k < n; k++) m[o + k] = Math.log(m[a + k]);
  },
  sign: (m, o, [a], n) => {
    for (let k = 0; k < n; k++) m[o + k] = Math.sign(m[a + k]);
  },
  round: (m, o, [a], n) => {
    for (let k = 0; k < n; k++) m[o + k] = Math.round(m[a + k]);
  },
  atan2: (m, o, [a, b], n) => {
    for (let k = 0; k < n; k++) m[o + k] = Math.atan2(m[a + k], m[b + k]);
  },
  power: (m, o, [a, b], n) => {
    for (let k = 0; k < n; k++) m[o + k] = Math.pow(m[a + k], m[b + k]);
  },
  random: (m, o, [a, b], n) => {
    for (let k = 0; k < n; k++) m[o + k] = randomAt(m[a + k], m[b + k]);
  },
  noise: (m, o, [x, y, z, octaves, seed], n) => {
    for (let k = 0; k < n; k++) m[o + k] = noiseAt(m[x + k], m[y + k], m[z + k], m[octaves + k], m[seed + k]);
  },
} satisfies Partial<Record<keyof typeof OPERATIONS, OutsideLoop>>;

export type OutsideCode = keyof typeof LOOPS;

/** The loop of a function from outside. */
export const outsideLoop = (code: OutsideCode): OutsideLoop => LOOPS[code];

/**
 * 64-bit content hashes (two independent 32-bit multiply–xor lanes), as 16 hex digits. They are keys of caches
 * and ids of topologies; they are not meant to resist an attacker.
 */
const hex = (a: number, b: number) => (a >>> 0).toString(16).padStart(8, '0') + (b >>> 0).toString(16).padStart(8, '0');

/** A word added to the first and to the second half of a hash in the making; `finishHalf` ends a half. */
export const mixFirst = (a: number, w: number): number => Math.imul(a ^ w, 0x01000193) ^ (a >>> 17);
export const mixSecond = (b: number, w: number): number => Math.imul(b ^ w, 0x5bd1e995) ^ (b >>> 15);

export const finishHalf = (h: number): number => {
  let t = h;
  t = Math.imul(t ^ (t >>> 16), 0x85ebca6b);
  t = Math.imul(t ^ (t >>> 13), 0xc2b2ae35);
  return t ^ (t >>> 16);
};

const DOUBLE = new Float64Array(1);
const WORDS = new Int32Array(DOUBLE.buffer);

/** A hash that is fed word by word: two 32-bit numbers, for keys that are made many times a second. */
export class Hash {
  constructor(
    private a = 0x811c9dc5 | 0,
    private b = 0x9e3779b9 | 0,
  ) {}

  word(w: number): this {
    this.a = mixFirst(this.a, w);
    this.b = mixSecond(this.b, w);
    return this;
  }

  /** All 64 bits of a number. */
  number(x: number): this {
    DOUBLE[0] = x;
    return this.word(WORDS[0]).word(WORDS[1]);
  }

  numbers(all: ArrayLike<number>): this {
    for (let i = 0; i < all.length; i++) this.number(all[i]);
    return this.word(all.length);
  }

  text(text: string): this {
    for (let i = 0; i < text.length; i++) this.word(text.charCodeAt(i));
    return this.word(text.length);
  }

  /** Writes its state to two words of an array: what a new one can go on from. */
  save(to: Int32Array, at: number): void {
    to[at] = this.a;
    to[at + 1] = this.b;
  }

  /** The two halves of the result. */
  get first(): number {
    return finishHalf(this.a);
  }

  get second(): number {
    return finishHalf(this.b);
  }
}

/** Hash of a text. */
export function hashText(text: string): string {
  const hash = new Hash().text(text);
  return hex(hash.first, hash.second);
}

/** Hash of the bytes of arrays, in order. Float32 and Int32 arrays are read as 32-bit words. */
export function hashArrays(...arrays: readonly Readonly<Float32Array | Int32Array>[]): string {
  let a = 0x811c9dc5;
  let b = 0x9e3779b9;
  for (const array of arrays) {
    const words = new Int32Array(array.buffer, array.byteOffset, array.length);
    for (let i = 0; i < words.length; i++) {
      const w = words[i];
      a = mixFirst(a, w);
      b = mixSecond(b, w);
    }
    a ^= words.length;
  }
  return hex(finishHalf(a), finishHalf(b));
}

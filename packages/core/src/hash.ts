/**
 * 64-bit content hashes (two independent 32-bit multiply–xor lanes), as 16 hex digits. They are keys of caches
 * and ids of topologies; they are not meant to resist an attacker.
 */
const hex = (a: number, b: number) =>
  (a >>> 0).toString(16).padStart(8, '0') + (b >>> 0).toString(16).padStart(8, '0');

const finish = (h: number): number => {
  let t = h;
  t = Math.imul(t ^ (t >>> 16), 0x85ebca6b);
  t = Math.imul(t ^ (t >>> 13), 0xc2b2ae35);
  return t ^ (t >>> 16);
};

/** Hash of a text. */
export function hashText(text: string): string {
  let a = 0x811c9dc5;
  let b = 0x9e3779b9;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    a = Math.imul(a ^ c, 0x01000193);
    b = Math.imul(b ^ c, 0x5bd1e995) ^ (b >>> 15);
  }
  return hex(finish(a), finish(b ^ text.length));
}

/** Hash of the bytes of arrays, in order. Float32 and Int32 arrays are read as 32-bit words. */
export function hashArrays(...arrays: readonly Readonly<Float32Array | Int32Array>[]): string {
  let a = 0x811c9dc5;
  let b = 0x9e3779b9;
  for (const array of arrays) {
    const words = new Int32Array(array.buffer, array.byteOffset, array.length);
    for (let i = 0; i < words.length; i++) {
      const w = words[i];
      a = Math.imul(a ^ w, 0x01000193) ^ (a >>> 17);
      b = Math.imul(b ^ w, 0x5bd1e995) ^ (b >>> 15);
    }
    a ^= words.length;
  }
  return hex(finish(a), finish(b));
}

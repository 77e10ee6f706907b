/**
 * A repeatable generator of numbers in 0..1 (mulberry32). Same seed, same numbers, on every machine.
 */
export function randomFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** A repeatable number in 0..1 for an index (rounded) and a seed: neighbours and seeds are unrelated. */
export function randomAt(index: number, seed: number): number {
  let h = Math.imul(Math.round(index) | 0, 0x9e3779b1) ^ Math.imul((Math.round(seed) | 0) + 0x7f4a7c15, 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 16), 0x7feb352d);
  h = Math.imul(h ^ (h >>> 15), 0x846ca68b);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

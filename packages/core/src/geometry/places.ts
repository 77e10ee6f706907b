import { ofPositions } from './derive.ts';

const MINUS_ZERO = 0x80000000 | 0;

/**
 * The lowest point at the same coordinates as each point, itself where it is alone; undefined when all points stand
 * apart. What is not finite is nowhere, so it stands apart too.
 */
export const placesOf = ofPositions((positions: Readonly<Float32Array>): { readonly places: Int32Array | undefined } => {
  const count = positions.length / 3;
  const bits = new Int32Array(positions.buffer, positions.byteOffset, positions.length);
  const word = (i: number) => (bits[i] === MINUS_ZERO ? 0 : bits[i]);
  let size = 16;
  while (size < count * 2) size *= 2;
  const table = new Int32Array(size).fill(-1);
  const places = new Int32Array(count);
  let alone = true;
  for (let p = 0, o = 0; p < count; p++, o += 3) {
    places[p] = p;
    if ((positions[o] + positions[o + 1] + positions[o + 2]) * 0 !== 0) continue;
    const x = word(o),
      y = word(o + 1),
      z = word(o + 2);
    let slot = Math.imul(x, 0x9e3779b1) ^ Math.imul(y, 0x85ebca6b) ^ Math.imul(z, 0xc2b2ae35);
    slot = (slot ^ (slot >>> 15)) & (size - 1);
    for (;;) {
      const other = table[slot];
      if (other < 0) {
        table[slot] = p;
        break;
      }
      if (word(other * 3) === x && word(other * 3 + 1) === y && word(other * 3 + 2) === z) {
        places[p] = other;
        alone = false;
        break;
      }
      slot = (slot + 1) & (size - 1);
    }
  }
  return { places: alone ? undefined : places };
});

import { hashArrays } from '../hash.ts';
import { memoize } from '../memo.ts';

/** A picture, in the bytes of its file; its colours are sRGB. */
export interface SurfacePicture {
  readonly type: (typeof PICTURE_TYPES)[number];
  readonly bytes: Readonly<Uint8Array>;
}

/** The kinds of pictures that materials may have. */
export const PICTURE_TYPES = ['image/png', 'image/jpeg'] as const;

/**
 * A surface material: a name and a base colour (linear r, g, b in 0..1), which multiplies its picture, where it has one;
 * the corner attribute `uv` tells where on it (0, 0 its lower left).
 */
export interface Material {
  readonly name: string;
  readonly baseColour: readonly [number, number, number];
  readonly picture?: SurfacePicture;
}

/** Content id of a picture: equal bytes have equal ids. */
export const pictureId = memoize(({ type, bytes }: SurfacePicture): string => {
  const words = new Int32Array(Math.ceil(bytes.length / 4));
  new Uint8Array(words.buffer).set(bytes);
  return `${type}-${bytes.length}-${hashArrays(words)}`;
});

/** What tells materials apart: equal ones are one. */
export const materialKey = ({ name, baseColour, picture }: Material): string =>
  JSON.stringify([name, ...baseColour, picture && pictureId(picture)]);

/** A name that is free: the one wished for, or with a number after it. */
export function freeMaterialName(wished: string, isTaken: (name: string) => boolean): string {
  let name = wished;
  for (let n = 2; isTaken(name); n++) name = `${wished} ${n}`;
  return name;
}

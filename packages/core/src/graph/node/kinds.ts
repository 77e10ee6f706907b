import type { PortKind } from './definition.ts';
import type { ValueKind } from './values.ts';

/** The short tag that tells a type beside a port (never a colour). */
export const KIND_TAGS: Record<PortKind, string> = {
  number: 'num',
  integer: 'int',
  toggle: 'y/n',
  vector: 'xyz',
  matrix: 'mat',
  mesh: 'mesh',
  curves: 'curv',
  copies: 'copy',
  falloff: 'fall',
  driven: 'objs',
  chain: 'chn',
  place: 'plc',
  value: 'any',
  weight: 'wt',
  geometry: 'geo',
};

/** A kind in a sentence. */
export const KIND_WORDS: Record<PortKind, string> = {
  number: 'a number (num)',
  integer: 'a whole number (int)',
  toggle: 'a yes or no (y/n)',
  vector: 'a vector (xyz)',
  matrix: 'a matrix (mat)',
  mesh: 'a mesh',
  curves: 'curves',
  copies: 'copies',
  falloff: 'a falloff',
  driven: 'what is put into objects',
  chain: 'a chain of joints (chn)',
  place: 'a point (xyz) or a matrix (mat)',
  weight: 'a weight (num) or a falloff',
  geometry: 'a mesh, curves or copies',
  value: 'a number or vector (num, xyz)',
};

const NUMERIC: readonly PortKind[] = ['number', 'integer', 'toggle'];

/** Whether a value of kind `from` may enter a port of kind `to`; a `value` output fits where a number or vector does. */
export function accepts(to: PortKind, from: PortKind): boolean {
  if (to === from) return true;
  if (to === 'value') return NUMERIC.includes(from) || from === 'vector';
  if (to === 'weight') return NUMERIC.includes(from) || from === 'value' || from === 'falloff';
  // Copies become points where a mesh is asked for.
  if (to === 'mesh') return from === 'copies' || from === 'geometry';
  if (to === 'place') return from === 'vector' || from === 'value' || from === 'matrix';
  if (to === 'geometry') return isGeometryKind(from);
  if (to === 'curves' || to === 'copies') return from === 'geometry';
  if (to === 'vector') return NUMERIC.includes(from) || from === 'value';
  if (NUMERIC.includes(to)) return NUMERIC.includes(from) || from === 'value';
  return false;
}

/** Whether entering makes one number serve all three axes. */
export const spreadsToAxes = (to: PortKind, from: ValueKind): boolean => to === 'vector' && NUMERIC.includes(from);

/** Whether something of this kind has a place on the stage. */
export const isGeometryKind = (kind: PortKind | undefined): boolean =>
  kind === 'mesh' || kind === 'curves' || kind === 'copies' || kind === 'geometry';

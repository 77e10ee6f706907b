import { jointPlaces } from '../../chains/chain.ts';
import { copyPositions } from '../../copies/copies.ts';
import type { Value } from './values.ts';

/**
 * The places that a value stands for: points of a mesh, control points of curves, where copies or joints stand; xyz each.
 * Undefined for values without places.
 */
export function pointsOf(value: Value): Readonly<Float32Array> | undefined {
  if (value.form === 'geometry') return value.mesh.positions;
  if (value.form === 'curves') return value.curves.positions;
  if (value.form === 'chain') return jointPlaces(value.chain);
  return value.form === 'copies' ? copyPositions(value.copies) : undefined;
}

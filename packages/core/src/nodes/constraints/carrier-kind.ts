import { inverseOf } from '../../constraints/index.ts';
import type { ObjectView } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { RESTS } from './child.ts';
import { product, type Matrix } from '../../maths/matrix.ts';

/** What a matrix for an object can be, as options of a choice. */
export const MATRIX_IS = [
  ['carrier', 'The carrier'],
  ['world-change', 'A change of the world'],
  ['target-world', 'Where it should be'],
] as const;

/**
 * The carrier that a matrix is (DECISIONS 2): itself, a change seen from the world (`P⁻¹ · M · P`), or the place of the
 * object at rest channels (`P⁻¹ · M · L₀⁻¹`).
 * @throws NodeError when what the object hangs under, or its rest, cannot be inverted
 */
export function carrierFrom(
  is: string,
  m: Readonly<Matrix>,
  object: Pick<ObjectView, 'name' | 'parent' | 'restChannels'>,
): Readonly<Matrix> {
  if (is === 'carrier') return m;
  const { parent } = object;
  const intoParent = inverseOf(parent);
  if (!intoParent) throw new NodeError({ code: 'matrix-singular', what: `What "${object.name}" hangs under`, so: RESTS });
  if (is === 'world-change') return product(intoParent, m, parent);
  const offRest = inverseOf(object.restChannels);
  if (!offRest) throw new NodeError({ code: 'matrix-singular', what: `The rest of "${object.name}"`, so: RESTS });
  return product(intoParent, m, offRest);
}

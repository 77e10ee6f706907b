import { takenSnapshot, type TakenSnapshot } from '../../constraints/index.ts';
import type { FacetRef, NodeContext, ObjectView, Setting, Settings } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { matrixValue, type Value } from '../../graph/node/values.ts';
import type { Matrix } from '../../maths/matrix.ts';
import type { Snapshot } from '../../project/fields.ts';
import { matrixOutput } from '../matrices/lanes.ts';
import { text } from '../ports.ts';

/** What becomes of an object whose carrier cannot be made. */
export const RESTS = 'the object stays at rest';

/** What constraints share: the object they are for, where everything stood when they were made, and the carrier. */
export const CHILD: Setting = {
  id: 'object',
  label: 'Object',
  type: 'object',
  takes: 'any',
  help: 'The object that is constrained. Connect the carrier to Drive Object for the same one.',
};

export const SNAPSHOT: Setting = {
  id: 'snapshot',
  label: 'Snapshot',
  type: 'snapshot',
  default: null,
  help: 'Where the object and its drivers stood when this was made; nothing moves while they stand there.',
};

export const CARRIER_OUT = matrixOutput('carrier', 'carrier', 'What goes under the object’s own channels.');

/** A constraint reads what its object hangs under, never the object itself (that would be a loop). */
export const readsParent = (s: Settings): FacetRef[] =>
  text(s, 'object') ? [{ object: text(s, 'object'), facet: 'parent' }] : [];

/** The object and its snapshot. @throws NodeError when one is missing, or it has other drivers */
export function childOf(context: NodeContext, drivers: number): { child: ObjectView; snapshot: TakenSnapshot } {
  const child = context.object('object');
  const taken = context.settings.snapshot as Snapshot | null;
  if (!taken) throw new NodeError({ code: 'snapshot-missing' });
  if (taken.drivers.length !== drivers)
    throw new NodeError({ code: 'snapshot-drivers', taken: taken.drivers.length, now: drivers });
  return { child, snapshot: takenSnapshot(taken) };
}

/** The carrier as a value; one that could not be made leaves the object at rest, with an error (DECISIONS 10). */
export function carrierValue(carrier: Matrix | undefined): Record<string, Value> {
  if (!carrier)
    throw new NodeError({
      code: 'matrix-singular',
      what: 'The matrix of a driver or of the parent',
      so: RESTS,
    });
  return { carrier: matrixValue(carrier) };
}

import { typeOfUse, type NodeRecord } from '@umberfish/core';
import { node, type NodeExtras } from './records.ts';
import { idOf } from './starter-proofs.ts';

/** The version that the modules come with. */
export const SHIPPED = 1000;

/** A use of a module that comes along, in the demo's own graphs; dials by the plain names of their ways. */
export function use(id: string, starter: string, position: readonly [number, number], extras: NodeExtras): NodeRecord {
  const named = <V>(of: Readonly<Record<string, V>> = {}): Record<string, V> =>
    Object.fromEntries(Object.entries(of).map(([name, value]) => [idOf(name), value]));
  const type = typeOfUse({ id: `starter-${starter}`, version: SHIPPED });
  return node(id, type, position, { ...extras, inputs: named(extras.inputs), settings: named(extras.settings) });
}

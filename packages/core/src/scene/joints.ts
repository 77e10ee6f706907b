import { makeChain, type Chain, type JointTraits } from '../chains/chain.ts';
import { memoize } from '../memo.ts';
import type { ObjectOf, ObjectRecord } from '../project/kinds/index.ts';
import { identity, multiply, type Matrix } from '../maths/matrix.ts';
import { carrierOf, localMatrix, worldMatrix, type DrivenBy } from './world.ts';
import type { ObjectsById } from './objects.ts';

export type JointRecord = ObjectOf<'joint'>;

/** Joints under each object, by its id, in document order. */
const jointsUnder = memoize((objects: readonly ObjectRecord[]) => {
  const under = new Map<string, JointRecord[]>();
  for (const o of objects) {
    if (o.type !== 'joint' || o.parent === null) continue;
    const mine = under.get(o.parent);
    if (mine) mine.push(o);
    else under.set(o.parent, [o]);
  }
  return under;
});

/**
 * The joints of a chain, each followed by those under it: those that hang under it with nothing but joints between.
 * @param id of the chain; of a joint: those that hang under that one.
 */
export function jointsOf(objects: readonly ObjectRecord[], id: string): JointRecord[] {
  const under = jointsUnder(objects);
  const found: JointRecord[] = [];
  const seen = new Set<string>();
  const stack = [...(under.get(id) ?? [])].reverse();
  while (stack.length > 0) {
    const o = stack.pop() as JointRecord;
    if (seen.has(o.id)) continue;
    seen.add(o.id);
    found.push(o);
    const mine = under.get(o.id) ?? [];
    for (let i = mine.length - 1; i >= 0; i--) stack.push(mine[i]);
  }
  return found;
}

/** The chain that a joint belongs to; undefined for a joint that hangs under none. */
export function chainOf(byId: ObjectsById, joint: ObjectRecord): ObjectRecord | undefined {
  const seen = new Set<string>();
  let at: ObjectRecord | undefined = joint;
  while (at?.type === 'joint' && !seen.has(at.id)) {
    seen.add(at.id);
    at = at.parent === null ? undefined : byId.get(at.parent);
  }
  return at?.type === 'chain' ? at : undefined;
}

/** How a chain is read: everywhere graphs have put its joints, by their own channels alone, or at rest. */
export type ChainPose = 'posed' | 'channels' | 'rest';

/** What solvers ask of a joint. */
export const traitsOf = ({ stiffness, mass, limit, also }: JointRecord): JointTraits => ({
  ...{ stiffness, mass, limit },
  ...(also.length > 0 && { also }),
});

/**
 * The joints of a scene's chain as a value, in the world. By their channels they stand where their own channels (and the
 * numbers that graphs put into those) put them, without the carriers that graphs make: so that a graph can make those
 * from it. @param objects in document order. @param now them at a moment, by id.
 */
export function sceneChain(
  objects: readonly ObjectRecord[],
  now: ObjectsById,
  id: string,
  pose: ChainPose,
  driven: DrivenBy,
): Chain {
  const joints = jointsOf(objects, id);
  const place = new Map(joints.map((j, i) => [j.id, i]));
  const worlds: Matrix[] = [];
  const above = pose === 'rest' ? worldMatrix(now, id, 'rest') : worldMatrix(now, id, 'channels', driven);
  const numbersOnly: DrivenBy = (o) => {
    const channels = driven(o)?.channels;
    return channels && { channels };
  };
  joints.forEach((j, i) => {
    const object = now.get(j.id) ?? j;
    const parent = place.get(j.parent as string);
    const local = incomingLocal(object, pose === 'rest' ? 'rest' : 'channels', pose === 'channels' ? numbersOnly : driven);
    worlds[i] = multiply(identity(), parent === undefined ? above : worlds[parent], local);
  });
  const parts = joints.map((j, i) => ({
    name: j.name,
    parent: place.get(j.parent as string) ?? -1,
    rest: worldMatrix(now, j.id, 'rest'),
    posed: worlds[i],
    traits: traitsOf((now.get(j.id) ?? j) as JointRecord),
  }));
  return makeChain(parts).chain;
}

/** `C × L` of a joint. */
function incomingLocal(object: ObjectRecord, at: 'channels' | 'rest', driven: DrivenBy): Matrix {
  const local = localMatrix(object, at, driven);
  const carrier = carrierOf(object, at, driven);
  return carrier ? multiply(local, carrier, local) : local;
}

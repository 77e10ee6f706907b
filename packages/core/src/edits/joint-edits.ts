import { aimRotation } from '../maths/aim.ts';
import { factorise } from '../maths/factors.ts';
import { identity, invert, multiply, positionOf, product, type Matrix } from '../maths/matrix.ts';
import { rotationMatrix } from '../maths/aim.ts';
import { length, subtract, type Vec3 } from '../maths/vector.ts';
import type { Channels } from '../project/fields.ts';
import { makeObject, type ObjectOf, type ObjectRecord } from '../project/kinds/index.ts';
import { REST_CHANNELS } from '../project/rest-channels.ts';
import type { Project } from '../project/schema.ts';
import { channelsFor } from '../scene/keep-pose.ts';
import { jointsOf } from '../scene/joints.ts';
import { objectsById } from '../scene/objects.ts';
import { parentMatrix, worldMatrix } from '../scene/world.ts';
import { freeName, newId, type Edit } from './document.ts';

/** Edits of the joints of chains: pure functions of a project. Places are in the world, metres. */

/** A new chain without joints. */
export const newChain = (project: Project): ObjectOf<'chain'> => makeObject(newId('chain'), freeName(project, 'Chain'), 'chain');

/** A joint under a chain or another joint, at a place; as it stands is how it rests. */
export function newJoint(project: Project, parent: string, place: Vec3): ObjectOf<'joint'> {
  const byId = objectsById(project.objects);
  const back = identity();
  const local = invert(back, worldMatrix(byId, parent)) ? product(back, at(place)) : at(place);
  const translate = positionOf(local).map((v) => Number(v.toFixed(6)) + 0) as unknown as Vec3;
  return makeObject(newId('joint'), freeName(project, nextName(project, parent)), 'joint', {
    parent,
    channels: { ...REST_CHANNELS, translate },
  });
}

const at = (p: Vec3): Matrix => {
  const m = identity();
  m.set(p, 12);
  return m;
};

/** What a joint under another is called before it has a name: that one's name, counted on. */
function nextName(project: Project, parent: string): string {
  const above = objectsById(project.objects).get(parent);
  if (above?.type !== 'joint') return 'Joint 1';
  const [, stem, number] = /^(.*?)\s*(\d*)$/.exec(above.name) ?? [];
  return `${stem} ${Number(number || 1) + 1}`.trim();
}

/** A joint half way between one and what it hangs under; nothing moves. Undefined where its place has keys or a driver of its own. */
export function insertJoint(project: Project, id: string): { edit: Edit; made: ObjectOf<'joint'> } | undefined {
  const joint = objectsById(project.objects).get(id);
  if (joint?.type !== 'joint' || joint.parent === null) return undefined;
  if (['x', 'y', 'z'].some((axis) => joint.animated[`translate.${axis}`])) return undefined;
  const half = ({ translate: t }: Channels): Vec3 => [t[0] / 2, t[1] / 2, t[2] / 2];
  const made = makeObject(newId('joint'), freeName(project, `${joint.name} half`), 'joint', {
    parent: joint.parent,
    channels: { ...REST_CHANNELS, translate: half(joint.channels) },
    rest: { ...REST_CHANNELS, translate: half(joint.rest) },
  });
  const moved: ObjectRecord = {
    ...joint,
    parent: made.id,
    channels: { ...joint.channels, translate: half(joint.channels) },
    rest: { ...joint.rest, translate: half(joint.rest) },
  };
  const edit: Edit = (p) => ({ ...p, objects: p.objects.flatMap((o) => (o.id === id ? [made, moved] : [o])) });
  return { edit, made };
}

/**
 * Copies of joints, and of all joints under them, on the other side of a plane of their chain: called by the names across
 * (`Left wing` → `Right wing`), each turned as a mirror image is. Those whose name has no side, or whose partner is there
 * already, are left out. @param nameAcross what a name is called on the other side, if it has one.
 */
export function mirrorJoints(
  project: Project,
  ids: readonly string[],
  chain: string,
  axis: 0 | 1 | 2,
  nameAcross: (name: string) => string | undefined,
): { edit: Edit; made: readonly ObjectOf<'joint'>[] } {
  const byId = objectsById(project.objects);
  const names = new Set(jointsOf(project.objects, chain).map((j) => j.name));
  const all = ids.flatMap((id) => {
    const self = byId.get(id);
    return self?.type === 'joint' ? [self, ...jointsOf(project.objects, id)] : [];
  });
  const partner = new Map<string, string>();
  const made: ObjectOf<'joint'>[] = [];
  const mirror = identity();
  mirror[axis * 5] = -1;
  const across = (m: Matrix) => product(mirror, m, mirror);
  const inChain = (object: string, at: 'channels' | 'rest') => {
    const back = identity();
    const world = worldMatrix(byId, object, at);
    return invert(back, worldMatrix(byId, chain, at)) ? product(back, world) : world;
  };
  for (const joint of new Set(all)) {
    const name = nameAcross(joint.name);
    if (name === undefined || names.has(name) || joint.parent === null) continue;
    const id = newId('joint');
    partner.set(joint.id, id);
    const parent = partner.get(joint.parent) ?? joint.parent;
    const isBelow = partner.has(joint.parent);
    const copy = { ...joint, id, name, parent, animated: {}, carrier: null, also: [] };
    const channelsAt = (which: 'channels' | 'rest'): Channels => {
      // Where the parent has a mirror image too, it sees the joint mirrored; else it is told from where the parent is.
      const world = across(inChain(joint.id, which));
      const above = isBelow ? across(inChain(joint.parent as string, which)) : inChain(joint.parent as string, which);
      const back = identity();
      return asChannels(copy, invert(back, above) ? product(back, world) : world);
    };
    made.push({ ...copy, channels: channelsAt('channels'), rest: channelsAt('rest') });
  }
  return { edit: (p) => ({ ...p, objects: [...p.objects, ...made] }), made };
}

function asChannels(object: ObjectRecord, local: Matrix): Channels {
  const { values } = channelsFor(object, local, [0, 0, 0]);
  const part = (name: string): Vec3 =>
    ['x', 'y', 'z'].map((a) => Number(values[`${name}.${a}`].toFixed(9)) + 0) as unknown as Vec3;
  return { translate: part('translate'), rotate: part('rotate'), order: object.channels.order, scale: part('scale') };
}

/**
 * Turns joints so that one axis of each runs along its bone, to the first joint under it, and another as near to a
 * direction as that leaves it. Where they are, at rest and now, does not change, nor what hangs on them; only how their own
 * axes lie. The last of a row lies as the one above.
 */
export function orientJoints(
  project: Project,
  ids: readonly string[],
  along: 'x' | 'y' | 'z',
  up: 'x' | 'y' | 'z',
  upDirection: Vec3,
): Edit {
  const byId = objectsById(project.objects);
  const wanted = new Set(ids);
  const change = new Map<string, Matrix>();
  const firstUnder = (id: string) => project.objects.find((o) => o.type === 'joint' && o.parent === id);
  const visit = (id: string, above: Matrix | undefined): void => {
    const world = worldMatrix(byId, id, 'rest');
    const below = firstUnder(id);
    const bone = below ? subtract(positionOf(worldMatrix(byId, below.id, 'rest')), positionOf(world)) : undefined;
    let turn = above;
    if (bone && length(bone) > 0)
      turn = aimRotation(bone, upDirection, { aim: along, up: up === along ? (along === 'y' ? 'z' : 'y') : up }, 0);
    const own = rotationMatrix(factorise(world).rotation);
    if (wanted.has(id) && turn) {
      const back = identity();
      if (invert(back, own)) change.set(id, multiply(identity(), back, turn));
    }
    for (const o of project.objects) if (o.type === 'joint' && o.parent === id) visit(o.id, turn);
  };
  for (const o of project.objects) if (o.type === 'joint' && byId.get(o.parent ?? '')?.type !== 'joint') visit(o.id, undefined);
  const local = (o: ObjectRecord, which: 'channels' | 'rest'): Matrix => {
    const back = identity();
    const above = parentMatrix(byId, o, which);
    const own = change.get(o.id);
    const upper = o.parent === null ? undefined : change.get(o.parent);
    const parent = upper ? product(above, upper) : above;
    const world = own ? product(worldMatrix(byId, o.id, which), own) : worldMatrix(byId, o.id, which);
    return invert(back, parent) ? product(back, world) : world;
  };
  const touched = (o: ObjectRecord) => change.has(o.id) || (o.parent !== null && change.has(o.parent));
  return (p) => ({
    ...p,
    objects: p.objects.map((o) =>
      touched(o) ? { ...o, channels: asChannels(o, local(o, 'channels')), rest: asChannels(o, local(o, 'rest')) } : o,
    ),
  });
}

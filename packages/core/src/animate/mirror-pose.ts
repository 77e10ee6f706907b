import { eulerFromRotation, quaternionFromEuler, RADIANS_PER_DEGREE, rotationFromQuaternion } from '../maths/rotation.ts';
import type { Vec3 } from '../maths/vector.ts';
import type { PoseValues, Sides } from '../project/animation.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import type { Project } from '../project/schema.ts';
import { unrolled } from '../scene/keep-pose.ts';
import { objectsById } from '../scene/objects.ts';
import { channelsMatrix } from '../scene/world.ts';

export type MirrorAxis = 'x' | 'y' | 'z';

/** A name with the word of one side in the place of the other's; undefined where it names no side. */
export function nameAcross(name: string, sides: Sides): string | undefined {
  for (const { left, right } of sides)
    for (const [a, b] of [
      [left, right],
      [right, left],
    ]) {
      const at = wordAt(name, a);
      if (at >= 0) return name.slice(0, at) + b + name.slice(at + a.length);
    }
  return undefined;
}

/** Where a word stands in a name by itself: no letter or digit goes on before or after it, but another case may begin. */
function wordAt(name: string, word: string): number {
  for (let at = name.indexOf(word); at >= 0; at = name.indexOf(word, at + 1)) {
    const before = name.charAt(at - 1);
    const after = name.charAt(at + word.length);
    const goesOn = (a: string, b: string) =>
      /[\p{L}\p{N}]/u.test(a) && /[\p{L}\p{N}]/u.test(b) && !(/\p{Ll}|\p{N}/u.test(a) && /\p{Lu}/u.test(b));
    if (!goesOn(before, word.charAt(0)) && !goesOn(word.charAt(word.length - 1), after)) return at;
  }
  return -1;
}

export interface MirroredPose {
  readonly values: PoseValues;
  readonly problems: readonly string[];
}

/**
 * A pose seen in a mirror that stands across an axis of what the objects hang under: each side takes the numbers of the
 * other, the middle its own, with the move along the axis and the turns about the two others the other way round. With
 * `S` the mirror, `S · T(t) R(x, y, z) · S` is `T(S t) R` with those turns negated, in any order of turns. Dials of objects
 * go across by their names; dials of cards stay as they are.
 */
export function mirrorPose(project: Project, { objects }: PoseValues, axis: MirrorAxis, sides: Sides): MirroredPose {
  const known = objectsById(project.objects);
  const called = (name: string) => project.objects.filter((o) => o.name === name);
  const turned = new Set([`translate.${axis}`, ...['x', 'y', 'z'].filter((a) => a !== axis).map((a) => `rotate.${a}`)]);
  const problems: string[] = [];
  const out: Record<string, Record<string, number>> = {};
  for (const [id, channels] of Object.entries(objects)) {
    const source = known.get(id);
    if (!source) continue;
    const across = nameAcross(source.name, sides);
    const partners = across === undefined ? [source] : called(across);
    if (partners.length !== 1) {
      const many = partners.length > 1;
      problems.push(`"${source.name}" has no partner: there ${many ? 'are several called' : 'is no'} "${across}".`);
      continue;
    }
    const [target] = partners;
    const mirrored: Record<string, number> = {};
    for (const [channel, value] of Object.entries(channels)) {
      const to = channelAcross(source, target, channel, sides);
      if (to === undefined)
        problems.push(`"${target.name}" has no dial like ${nameOfChannel(source, channel)} of "${source.name}".`);
      else mirrored[to] = turned.has(channel) ? -value + 0 : value;
    }
    const inOrder = inOrderOf(target, source, mirrored);
    if (!inOrder)
      problems.push(`"${target.name}" turns in another order than "${source.name}"; a part of a turn cannot be mirrored to it.`);
    else if (target !== source && !isMirrorImage(source, target, turned))
      problems.push(`"${target.name}" is no mirror image of "${source.name}" at rest, so its pose is none either.`);
    out[target.id] = { ...out[target.id], ...(inOrder ?? withoutTurns(mirrored)) };
  }
  return { values: { objects: out, dials: {} }, problems };
}

const nameOfChannel = (object: ObjectRecord, channel: string) => object.custom.find((c) => c.id === channel)?.name ?? channel;

/** The channel of another object that a channel goes to: the same of the nine; a dial by its name, on the other side too. */
function channelAcross(source: ObjectRecord, target: ObjectRecord, channel: string, sides: Sides): string | undefined {
  const dial = source.custom.find((c) => c.id === channel);
  if (!dial) return channel;
  const name = nameAcross(dial.name, sides) ?? dial.name;
  const found = target.custom.find((c) => c.name === name) ?? target.custom.find((c) => c.name === dial.name);
  return found?.id;
}

const TURNS = ['rotate.x', 'rotate.y', 'rotate.z'] as const;

const withoutTurns = (values: Readonly<Record<string, number>>): Record<string, number> =>
  Object.fromEntries(Object.entries(values).filter(([c]) => !(TURNS as readonly string[]).includes(c)));

/** The same turn in the order of another object; undefined where that takes all three turns, and not all are there. */
function inOrderOf(
  target: ObjectRecord,
  source: ObjectRecord,
  values: Readonly<Record<string, number>>,
): Record<string, number> | undefined {
  const [from, to] = [source.channels.order, target.channels.order];
  if (from === to || !TURNS.some((t) => t in values)) return { ...values };
  if (!TURNS.every((t) => t in values)) return undefined;
  const radians = TURNS.map((t) => values[t] * RADIANS_PER_DEGREE) as unknown as Vec3;
  const angles = eulerFromRotation(rotationFromQuaternion(quaternionFromEuler(radians, from)), to);
  const turned = unrolled(angles.map((r) => r / RADIANS_PER_DEGREE) as unknown as Vec3, target.channels.rotate, to);
  return { ...values, ...Object.fromEntries(TURNS.map((t, i) => [t, turned[i]])) };
}

/** How far partners may be from mirror images at rest: metres, and parts of a turn's matrix. */
const NEAR = 1e-4;

/** Whether what an object is at rest, seen in the mirror, is what its partner is at rest: where it is, how it is turned. */
function isMirrorImage(source: ObjectRecord, target: ObjectRecord, turned: ReadonlySet<string>): boolean {
  const seen = (part: 'translate' | 'rotate', v: Vec3) =>
    v.map((x, i) => (turned.has(`${part}.${'xyz'[i]}`) ? -x : x)) as unknown as Vec3;
  const pivot = seen('translate', source.pivot);
  const image = channelsMatrix(
    { ...source.rest, translate: seen('translate', source.rest.translate), rotate: seen('rotate', source.rest.rotate) },
    pivot,
  );
  const real = channelsMatrix(target.rest, target.pivot);
  return image.every((v, i) => Math.abs(v - real[i]) < NEAR) && pivot.every((v, i) => Math.abs(v - target.pivot[i]) < NEAR);
}

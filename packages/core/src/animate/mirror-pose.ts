import type { PoseValues, Sides } from '../project/animation.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import type { Project } from '../project/schema.ts';
import { objectsById } from '../scene/objects.ts';

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
  const byName = new Map(project.objects.map((o) => [o.name, o]));
  const turned = new Set([`translate.${axis}`, ...['x', 'y', 'z'].filter((a) => a !== axis).map((a) => `rotate.${a}`)]);
  const problems: string[] = [];
  const out: Record<string, Record<string, number>> = {};
  for (const [id, channels] of Object.entries(objects)) {
    const source = known.get(id);
    if (!source) continue;
    const across = nameAcross(source.name, sides);
    const target = across === undefined ? source : byName.get(across);
    if (!target) {
      problems.push(`"${source.name}" has no partner: there is no "${across}".`);
      continue;
    }
    const mirrored: Record<string, number> = {};
    for (const [channel, value] of Object.entries(channels)) {
      const to = channelAcross(source, target, channel, sides);
      if (to === undefined)
        problems.push(`"${target.name}" has no dial like ${nameOfChannel(source, channel)} of "${source.name}".`);
      else mirrored[to] = turned.has(channel) ? -value + 0 : value;
    }
    out[target.id] = { ...out[target.id], ...mirrored };
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

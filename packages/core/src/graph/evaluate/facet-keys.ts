import { assetIdOf, kindOf } from '../../project/kinds/index.ts';
import { hashText, type Hash } from '../../hash.ts';
import { memoize } from '../../memo.ts';
import type { ObjectRecord } from '../../project/kinds/index.ts';
import type { Project } from '../../project/schema.ts';
import { channelValue, isAnimated } from '../../scene/channels.ts';
import { jointsOf } from '../../scene/joints.ts';
import { membersOf } from '../../scene/hierarchy.ts';
import { localMatrix, parentMatrix, worldMatrix } from '../../scene/world.ts';
import { objectsById } from '../../scene/objects.ts';
import type { FacetRef } from '../node/definition.ts';
import { drivingUnits, resultUnit, type Moment, type Outline, type OutlinedUnit } from './outline.ts';

/*
 * What a facet of an object adds to the keys of units that read it: it changes exactly when what they read may have
 * changed.
 */

/**
 * A value as a short text that tells it from others. What it consists of is looked at once for each object: of a hundred
 * thousand numbers painted by hand, a stroke changes a few blocks, and a dial beside them none.
 */
const fieldText = (value: unknown): string =>
  typeof value === 'object' && value !== null ? objectText(value) : (JSON.stringify(value) ?? 'undefined');
const objectText = memoize((value: object): string => {
  if (Array.isArray(value)) return hashText(value.some(isObject) ? `[${value.map(fieldText).join()}]` : JSON.stringify(value));
  const fields = Object.entries(value).filter(([, v]) => v !== undefined);
  return hashText(`{${fields.map(([key, v]) => `${JSON.stringify(key)}:${fieldText(v)}`).join()}}`);
});
const isObject = (value: unknown): boolean => typeof value === 'object' && value !== null;

/** Settings as a text that tells them from others; plain ones as they are. */
export const settingsText = memoize((settings: Readonly<Record<string, unknown>>): string =>
  Object.values(settings).some(isObject) ? objectText(settings) : JSON.stringify(settings),
);

/** Whether a facet is the same at every frame: nothing keyed, and nothing that a graph makes. */
export function isStillFacet({ project, facets }: Pick<Outline, 'project' | 'facets'>, read: FacetRef): boolean {
  const byId = objectsById(project.objects);
  const object = byId.get(read.object);
  if (!object) return true;
  const isFree = (o: ObjectRecord) => !isAnimated(o) && !facets.drivers.has(o.id);
  const stands = (id: string | null): boolean => {
    const seen = new Set<string>();
    for (let at = id; at !== null && !seen.has(at); at = byId.get(at)?.parent ?? null) {
      seen.add(at);
      const o = byId.get(at);
      if (o && !isFree(o)) return false;
    }
    return true;
  };
  switch (read.facet) {
    case 'source':
    case 'rest':
    case 'restChannels':
    case 'restMembers':
    case 'restJoints':
      return true;
    case 'result':
      return facets.writers.get(object.id)?.length !== 1;
    case 'members':
      return membersOf(project.objects, object.id).every((m) => stands(m.id) && facets.writers.get(m.id)?.length !== 1);
    case 'joints':
    case 'posedJoints':
      return stands(object.id) && jointsOf(project.objects, object.id).every((j) => isFree(j));
    case 'channel':
      return isFree(object);
    case 'parent':
      return stands(object.parent);
    default:
      return stands(object.id);
  }
}

/** Adds a facet that is the same at every frame. */
export function hashStillFacet(hash: Hash, outline: Outline, read: FacetRef): void {
  hashFacet(hash, outline, read, { number: 0, objects: objectsById(outline.project.objects) }, NO_KEYS);
}

const NO_KEYS = (): void => {
  throw new Error('A facet that graphs make is not the same at every frame.');
};

/** Adds a facet at a moment. @param addKey adds the key of a unit that makes part of it. */
export function hashFacet(
  hash: Hash,
  outline: Outline,
  read: FacetRef,
  moment: Pick<Moment, 'number' | 'objects'>,
  addKey: (unit: OutlinedUnit) => void,
): void {
  const object = moment.objects.get(read.object);
  if (!object) return void hash.text('gone');
  hash.text(read.facet);
  switch (read.facet) {
    case 'source':
      return void hash.text(sourceText(outline, object));
    case 'result': {
      const made = resultUnit(outline, read.object, moment.number);
      return made ? addKey(made) : void hash.text(`none ${assetIdOf(object)}`);
    }
    case 'rest':
      return void hash.numbers(worldMatrix(moment.objects, object.id, 'rest'));
    case 'restChannels':
      return void hash.numbers(localMatrix(object, 'rest')).numbers(object.pivot);
    case 'restMembers':
      return void hash.text(restMembersKey(outline.project.objects)(object.id));
    case 'members':
      for (const m of membersOf(outline.project.objects, object.id)) {
        hash.text(m.id).text(sourceText(outline, m));
        for (const facet of ['world', 'rest', 'result'] as const)
          hashFacet(hash, outline, { object: m.id, facet }, moment, addKey);
      }
      return;
    case 'restJoints':
      for (const j of jointsOf(outline.project.objects, object.id))
        hash
          .text(`${j.id} ${j.name} ${j.parent ?? ''} ${sourceText(outline, j)}`)
          .numbers(worldMatrix(moment.objects, j.id, 'rest'));
      return;
    case 'joints':
    case 'posedJoints': {
      hash.numbers(worldMatrix(moment.objects, object.id));
      addDriving(outline, object, moment, addKey);
      for (const j of jointsOf(outline.project.objects, object.id)) {
        const joint = moment.objects.get(j.id) ?? j;
        hash
          .text(j.id)
          .text(j.name)
          .text(j.parent ?? '')
          .text(sourceText(outline, joint));
        hash
          .numbers(localMatrix(joint))
          .numbers(joint.carrier ?? [])
          .numbers(worldMatrix(moment.objects, j.id, 'rest'));
        for (const { unit, channels } of drivingUnits(outline, j.id, moment.number))
          if (read.facet === 'posedJoints' || channels.some((c) => c !== undefined)) addKey(unit);
      }
      return;
    }
    case 'channel': {
      const made = drivingUnits(outline, object.id, moment.number).find((d) => d.channels.includes(read.channel));
      if (made) return addKey(made.unit);
      return void hash.number(channelValue(object, read.channel ?? '') ?? NaN);
    }
    case 'parent': {
      hash.numbers(parentMatrix(moment.objects, object));
      const above = object.parent === null ? undefined : moment.objects.get(object.parent);
      if (above) addDriving(outline, above, moment, addKey);
      return;
    }
    default:
      hash.numbers(worldMatrix(moment.objects, object.id));
      addDriving(outline, object, moment, addKey);
  }
}

/** Adds the keys of what drives an object and its parents. */
function addDriving(
  outline: Outline,
  object: ObjectRecord,
  moment: Pick<Moment, 'number' | 'objects'>,
  addKey: (unit: OutlinedUnit) => void,
): void {
  const seen = new Set<string>();
  for (let at: ObjectRecord | undefined = object; at && !seen.has(at.id);) {
    seen.add(at.id);
    for (const { unit } of drivingUnits(outline, at.id, moment.number)) addKey(unit);
    at = at.parent === null ? undefined : moment.objects.get(at.parent);
  }
}

/** Where the members of groups rest, as text: kept with the objects, since it does not depend on the frame. */
const restMembersKey = memoize((objects: Project['objects']) => {
  const byId = objectsById(objects);
  const known = new Map<string, string>();
  return (group: string): string => {
    let key = known.get(group);
    if (key === undefined) {
      const all = objects.filter((o) => o.id === group || o.parent === group);
      key = hashText(all.map((o) => `${o.id} ${worldMatrix(byId, o.id, 'rest').join(',')}`).join(';'));
      known.set(group, key);
    }
    return key;
  };
});

function sourceText(outline: Outline, object: ObjectRecord): string {
  const mesh = assetIdOf(object);
  const fields = kindOf(object).source.map((field) => fieldText(object[field as keyof ObjectRecord]));
  return `source ${mesh !== null && outline.hasAsset(mesh)} ${fields.join()}`;
}

import type { Vec3 } from '../../maths/vector.ts';
import type { CurveRecord, PointSet } from '../fields.ts';
import { REST_CHANNELS } from '../rest-channels.ts';
import { ALL } from './all.ts';
import { TAKES_WORDS, type ObjectKind, type ObjectTakes } from './kind.ts';
import { CONTROL_SHAPES, NEW_CONTROL, type Control } from './locator.ts';
import type { ObjectRecord } from './schema.ts';

export { CONTROL_SHAPES, NEW_CONTROL, TAKES_WORDS, type Control, type ObjectKind, type ObjectTakes, type ObjectRecord };

export type ObjectType = ObjectRecord['type'];
/** Objects of one kind. */
export type ObjectOf<T extends ObjectType> = Extract<ObjectRecord, { readonly type: T }>;
/** What objects of every kind have, and whoever knows no kind may change. */
export type CommonFields = Omit<Pick<ObjectRecord, keyof ObjectRecord>, 'id' | 'type'>;

export const OBJECT_KINDS = Object.fromEntries(ALL.map((k) => [k.type, k])) as unknown as Readonly<
  Record<ObjectType, ObjectKind>
>;

const FRESH = Object.fromEntries(ALL.map((k) => [k.type, k.fresh]));

export const kindOf = ({ type }: { readonly type: ObjectType }): ObjectKind => OBJECT_KINDS[type];

/** Whether an object can stand in a setting that takes a kind of object. */
export const fitsSetting = (object: ObjectRecord, takes: ObjectTakes): boolean =>
  takes === 'any' || kindOf(object).fits.includes(takes);

/** A new object at the origin. */
export function makeObject<T extends ObjectType>(
  id: string,
  name: string,
  type: T,
  extras: Partial<ObjectOf<T>> = {},
): ObjectOf<T> {
  const channels = extras.channels ?? REST_CHANNELS;
  const common: CommonFields = {
    name,
    parent: null,
    channels,
    rest: channels,
    custom: [],
    animated: {},
    locked: [],
    hidden: [],
    pivot: [0, 0, 0],
    carrier: null,
    visible: true,
    pickable: true,
  };
  return { id, type, ...common, ...FRESH[type], ...extras } as unknown as ObjectOf<T>;
}

/** The asset an object brings, if it does. */
export const assetIdOf = (object: ObjectRecord | undefined): string | null => (object && 'mesh' in object ? object.mesh : null);

/** The point sets of an object; none where it can have none. */
export const setsOf = (object: ObjectRecord | undefined): readonly PointSet[] =>
  object && 'sets' in object ? object.sets : NO_SETS;

/** The colour an object was given; null is the stage's own. */
export const colourOf = (object: ObjectRecord | undefined): Vec3 | null => (object && 'colour' in object ? object.colour : null);

/** The curve an object draws, if it does. */
export const curveOf = (object: ObjectRecord | undefined): CurveRecord | null =>
  object && 'curve' in object ? object.curve : null;

/** The shape an object is taken hold of by on the stage, if it has one. */
export const controlOf = (object: ObjectRecord | undefined): Control | null =>
  object && 'control' in object ? object.control : null;

/** The remembered curve of an object: the curve as it is where none was remembered. */
export const restCurveOf = (object: ObjectRecord | undefined): CurveRecord | null =>
  object && 'curve' in object ? (object.restCurve ?? object.curve) : null;

const NO_SETS: readonly PointSet[] = [];

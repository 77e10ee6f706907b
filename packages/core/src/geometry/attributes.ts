/** What an attribute sits on. */
export const ATTRIBUTE_PLACES = ['point', 'corner', 'face', 'edge'] as const;
export type AttributePlace = (typeof ATTRIBUTE_PLACES)[number];

/** How an attribute's values follow a change of space (DECISIONS 7). */
export const ATTRIBUTE_ROLES = ['plain', 'position', 'direction', 'normal'] as const;
export type AttributeRole = (typeof ATTRIBUTE_ROLES)[number];

/** `pair` is two numbers (uv); `vector` and `colour` are three; a toggle is 0 or 1. */
export const ATTRIBUTE_TYPES = ['number', 'integer', 'toggle', 'pair', 'vector', 'colour'] as const;
export type AttributeType = (typeof ATTRIBUTE_TYPES)[number];

/** Numbers per element of each type. */
export const ATTRIBUTE_WIDTH: Record<AttributeType, number> = {
  number: 1,
  integer: 1,
  toggle: 1,
  pair: 2,
  vector: 3,
  colour: 3,
};

/**
 * Named, typed values on the elements of a geometry: `data` holds width × count numbers, Int32 for integers
 * and toggles, Float32 for all others. Shared between geometries, never written to once made.
 */
export interface Attribute {
  readonly name: string;
  readonly on: AttributePlace;
  readonly type: AttributeType;
  readonly role: AttributeRole;
  readonly data: Readonly<Float32Array | Int32Array>;
}

import { ATTRIBUTE_PLACES, ATTRIBUTE_ROLES, type Attribute, type AttributePlace } from '../geometry/attributes.ts';
import { elementCount, type Mesh } from '../geometry/mesh.ts';
import type { Setting } from '../graph/node/definition.ts';
import { NodeError, type ProblemData } from '../graph/node/problems.ts';
import { suggest } from '../expression/functions.ts';
import { several } from '../words.ts';

export const REST_POSITION = 'restPosition';
export const REST_NORMAL = 'restNormal';

export const ATTRIBUTE_NAME: Setting = {
  id: 'name',
  label: 'Name',
  type: 'text',
  default: '',
  attributeOf: 'mesh',
  help: 'The name of the attribute; capital and small letters differ.',
};

export const ATTRIBUTE_ON: Setting = {
  id: 'on',
  label: 'On',
  type: 'choice',
  options: ATTRIBUTE_PLACES.map((value) => ({
    value,
    label: several(`${value[0].toUpperCase()}${value.slice(1)}`),
  })),
  default: 'point',
  help: 'What the values sit on; values that come on something else are averaged or copied over.',
};

export const ATTRIBUTE_ROLE: Setting = {
  id: 'role',
  label: 'Role',
  type: 'choice',
  options: ATTRIBUTE_ROLES.map((value) => ({ value, label: value[0].toUpperCase() + value.slice(1) })),
  default: 'plain',
  help: 'How vectors follow a change of space: not at all, as positions, directions or normals.',
};

/** @throws NodeError when a name is empty or could not be used in a formula. */
export function checkName(name: string): string {
  if (name === '') throw new NodeError({ code: 'attribute-name', what: 'The attribute has no name yet.' });
  if (!/^[\p{L}_][\p{L}\p{M}\p{N}_]*$/u.test(name)) {
    throw new NodeError({ code: 'attribute-name', what: `"${name}" cannot be the name of an attribute.` });
  }
  return name;
}

/** @throws NodeError when a mesh has nothing of this kind, or nothing at all */
export function needElements(mesh: Mesh, on: AttributePlace, what?: string): void {
  if (mesh.topology.pointCount === 0) throw new NodeError({ code: 'mesh-empty', ...(what ? { what } : {}) });
  checkPlace(mesh, on);
}

/** @throws NodeError when a mesh that has points has nothing of this kind: loose points have no edges. */
export function checkPlace(mesh: Mesh, on: AttributePlace): void {
  if (mesh.topology.pointCount > 0 && elementCount(mesh.topology, on) === 0) throw new NodeError({ code: 'no-elements', on });
}

/**
 * The attribute of a name, on a place if one is given.
 * @throws NodeError that lists what there is, and says which name was likely meant.
 */
export function needAttribute(mesh: Mesh, name: string, on?: AttributePlace): Attribute {
  const found = findAttribute(mesh, name, on);
  if (found) return found;
  throw new NodeError(attributeMissing(mesh, name));
}

/** The attribute of a name, on a place if one is given. */
export const findAttribute = (mesh: Mesh, name: string, on?: AttributePlace): Attribute | undefined =>
  mesh.attributes.find((a) => a.name === name && (on === undefined || a.on === on));

/** That a mesh has no such attribute: what there is, and which name was likely meant. */
export function attributeMissing(mesh: Mesh, name: string): ProblemData {
  const names = mesh.attributes.map((a) => a.name);
  const known = mesh.attributes.map((a) => `${a.name} (${a.type} on ${several(a.on)})`);
  return { code: 'attribute-missing', name, known, near: names.includes(name) ? undefined : suggest(name, names) };
}

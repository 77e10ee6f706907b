import { boundsCentre, boundsOf } from '../geometry/bounds.ts';
import type { Mesh } from '../geometry/mesh.ts';
import { transformPoint, type Matrix } from '../maths/matrix.ts';
import type { Vec3 } from '../maths/vector.ts';
import type { Way } from '../project/fields.ts';
import { makeObject, type ObjectOf } from '../project/kinds/index.ts';
import { REST_CHANNELS } from '../project/rest-channels.ts';
import type { ModuleRecord, Project } from '../project/schema.ts';
import { freeName, newId } from './document.ts';

/**
 * A locator for a way of a module that is put on an object: where the way says, and named.
 * @param world the matrix of the object, @param mesh what it brings, for the middle and the top of its bounds
 */
export function locatorFor(
  project: Project,
  module: ModuleRecord,
  way: Way,
  world: Readonly<Matrix>,
  mesh: Mesh | undefined,
): ObjectOf<'locator'> {
  const channels = { ...REST_CHANNELS, translate: startOn(world, mesh, way.start) };
  return makeObject(newId('locator'), freeName(project, `${module.name} ${way.name}`), 'locator', { channels });
}

/** Where a place of an object starts, in world space. @param world its matrix, @param mesh in its own space */
export function startOn(world: Readonly<Matrix>, mesh: Mesh | undefined, start: Way['start']): Vec3 {
  if (start === 'world') return [0, 0, 0];
  if (start === 'origin' || !mesh || mesh.positions.length === 0) return [world[12], world[13], world[14]];
  const bounds = boundsOf(mesh.positions);
  // Without a finite place it has neither a middle nor a top.
  if (!(bounds.low[0] <= bounds.high[0])) return [world[12], world[13], world[14]];
  const middle = boundsCentre(bounds);
  return transformPoint(world, start === 'top' ? [middle[0], bounds.high[1], middle[2]] : middle);
}

import { findAttribute, withPositions, type Mesh } from '../geometry/mesh.ts';
import type { NodeContext } from '../graph/definition.ts';
import { NodeError } from '../graph/problems.ts';
import { REST_POSITION } from './attributes.ts';

/**
 * The rest of a mesh that drives others: what is connected at `rest`, else its own restPosition.
 * @param what the driver in a sentence. @throws NodeError when there is no rest, or it has another number of points
 */
export function driverAtRest(context: NodeContext, driver: Mesh, what: string): Mesh {
  const given = context.input('rest');
  const stored = findAttribute(driver, REST_POSITION, 'point');
  const rest =
    given?.form === 'geometry' ? given.mesh : stored && withPositions(driver, stored.data as Float32Array);
  if (!rest) throw new NodeError({ code: 'rest-missing', what });
  const [now, then] = [driver.topology.pointCount, rest.topology.pointCount];
  if (now !== then) throw new NodeError({ code: 'rest-count', what, now, rest: then });
  return rest;
}

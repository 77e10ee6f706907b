import { findAttribute, withPositions, type Mesh } from '../geometry/mesh.ts';
import type { Topology } from '../geometry/topology.ts';
import { normalsOf } from '../geometry/derived.ts';
import { turnFaces } from '../geometry/turn.ts';
import type { Attribute } from '../geometry/attributes.ts';
import type { NodeContext } from '../graph/node/definition.ts';
import { NodeError } from '../graph/node/problems.ts';
import { REST_NORMAL, REST_POSITION } from './attributes.ts';

/**
 * The rest of a mesh that drives others: what is connected at `rest`, else its own restPosition.
 * @param what the driver in a sentence. @throws NodeError when there is no rest, or it has another number of points
 */
export function driverAtRest(context: NodeContext, driver: Mesh, what: string): Mesh {
  const given = context.input('rest');
  const stored = findAttribute(driver, REST_POSITION, 'point');
  const rest = given?.form === 'geometry' ? given.mesh : stored && restMesh(driver, stored);
  if (!rest) throw new NodeError({ code: 'rest-missing', what });
  const [now, then] = [driver.topology.pointCount, rest.topology.pointCount];
  if (now !== then) throw new NodeError({ code: 'rest-count', what, now, rest: then });
  return rest;
}

const rests = new WeakMap<Attribute['data'], Map<Topology, Mesh>>();

/**
 * A mesh at its restPosition, made once for the two. Faces that were turned round since, by a matrix that mirrors, are
 * turned back: the restNormal tells.
 */
function restMesh(mesh: Mesh, { data }: Attribute): Mesh {
  let known = rests.get(data);
  if (!known) rests.set(data, (known = new Map()));
  let rest = known.get(mesh.topology);
  if (!rest) {
    rest = withPositions(mesh, data as Float32Array);
    const normal = findAttribute(mesh, REST_NORMAL, 'point')?.data;
    const faced = normal && normalsOf(rest).reduce((sum, v, i) => sum + (v * normal[i] || 0), 0);
    if (faced !== undefined && faced < 0) rest = turnFaces(rest);
    known.set(mesh.topology, rest);
  }
  return rest;
}

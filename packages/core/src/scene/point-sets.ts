import { withAttribute, type Mesh } from '../geometry/mesh.ts';
import type { PointSet } from '../project/schema.ts';

const known = new WeakMap<readonly PointSet[], { mesh: Mesh; made: Mesh }>();

/**
 * A mesh with its object's point sets as yes-or-no attributes on points, named like the sets. Points that the mesh
 * does not have are left out. The same sets on the same mesh give the same object.
 */
export function withPointSets(mesh: Mesh | undefined, sets: readonly PointSet[]): Mesh | undefined {
  if (!mesh || sets.length === 0) return mesh;
  const before = known.get(sets);
  if (before?.mesh === mesh) return before.made;
  const { pointCount } = mesh.topology;
  let made = mesh;
  for (const { name, points } of sets) {
    const data = new Int32Array(pointCount);
    for (const p of points) if (p < pointCount) data[p] = 1;
    made = withAttribute(made, { name, on: 'point', type: 'toggle', role: 'plain', data });
  }
  known.set(sets, { mesh, made });
  return made;
}

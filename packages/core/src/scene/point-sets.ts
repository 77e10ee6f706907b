import { edgesOf } from '../geometry/edges.ts';
import { withAttribute, type Mesh } from '../geometry/mesh.ts';
import type { Topology } from '../geometry/topology.ts';
import type { PointSet } from '../project/fields.ts';

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

/** Points with all their neighbours along edges. @returns sorted indices */
export function growPoints(topology: Topology, points: readonly number[]): number[] {
  // What is added this round must not grow itself.
  const before = new Set(points);
  const after = new Set(points);
  const edges = edgesOf(topology);
  for (let e = 0; e < edges.count; e++) {
    const [a, b] = [edges.points[e * 2], edges.points[e * 2 + 1]];
    if (before.has(a)) after.add(b);
    if (before.has(b)) after.add(a);
  }
  return [...after].sort((a, b) => a - b);
}

/** Points all of whose neighbours along edges are chosen too. @returns sorted indices */
export function shrinkPoints(topology: Topology, points: readonly number[]): number[] {
  const others = growPoints(topology, invertPoints(topology, points));
  return invertPoints(topology, others);
}

/** All points that are not chosen. @returns sorted indices */
export function invertPoints(topology: Topology, points: readonly number[]): number[] {
  const chosen = new Set(points);
  return Array.from({ length: topology.pointCount }, (_, i) => i).filter((i) => !chosen.has(i));
}

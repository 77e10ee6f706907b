import { isMirroring, transformPacked, type Matrix } from '../maths/matrix.ts';
import type { Mesh } from './mesh.ts';
import { turnFaces } from './turn.ts';

/**
 * The mesh taken through a matrix: positions as points, attributes by their role (DECISIONS 7). A matrix that mirrors
 * turns the faces round, so that what was outside stays outside (DECISIONS 30).
 * @param allocate gives the arrays for the new values (count of numbers → array).
 */
export function transformMesh(mesh: Mesh, m: Readonly<Matrix>, allocate: (count: number) => Float32Array): Mesh {
  const positions = transformPacked(allocate(mesh.positions.length), mesh.positions, m, 'position');
  const attributes = mesh.attributes.map((a) => {
    if (a.role === 'plain' || a.type !== 'vector' || !(a.data instanceof Float32Array)) return a;
    return { ...a, data: transformPacked(allocate(a.data.length), a.data, m, a.role) };
  });
  const moved = { ...mesh, positions, attributes };
  return isMirroring(m) ? turnFaces(moved) : moved;
}

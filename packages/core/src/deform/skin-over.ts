import { emptyMesh, type Mesh } from '../geometry/mesh.ts';
import { gridAround, levelSet, type Grid } from '../geometry/level-set.ts';
import type { Vec3 } from '../maths/vector.ts';
import { SphereField } from './sphere-field.ts';

/** Cells that a skin may be searched in. */
export const MOST_SKIN_CELLS = 8_000_000;

/** How many cells a skin would be searched in. */
export function skinCells(positions: Readonly<Float32Array>, radii: Readonly<Float32Array>, cell: number, blend: number): number {
  const grid = gridOf(positions, radii, cell, blend);
  return grid ? grid.size[0] * grid.size[1] * grid.size[2] : 0;
}

/**
 * A closed mesh round spheres, each reaching its radius from its point, flowing together over `blend` metres: the zero of
 * a `SphereField` with k = blend / 4, its points moved onto the surface itself.
 * @param positions xyz × points. @param radii one each; those not above 0 are left out. @param cell metres.
 */
export function skinOver(
  positions: Readonly<Float32Array>,
  radii: Readonly<Float32Array>,
  cell: number,
  blend: number,
  checkpoint: () => void = () => {},
): Mesh {
  const grid = gridOf(positions, radii, cell, blend);
  if (!grid) return emptyMesh();
  const field = new SphereField(positions, radii, Math.max(blend / 4, cell * 0.05), grid);
  return levelSet(field, grid, checkpoint, (x, y, z) => settled(field, x, y, z, cell));
}

/** How often a point is moved towards the surface. */
const ROUNDS = 4;

/** A place moved onto the surface by Newton's steps along the gradient, by less than a cell altogether. */
function settled(field: SphereField, x: number, y: number, z: number, cell: number): Vec3 {
  let at: Vec3 = [x, y, z];
  for (let round = 0; round < ROUNDS; round++) {
    const f = field.withGradient(...at);
    const { gradientX: gx, gradientY: gy, gradientZ: gz } = field;
    const slope = gx * gx + gy * gy + gz * gz;
    if (Math.abs(f) < cell * 1e-4 || !(slope > 1e-6)) break;
    const way = Math.max(-cell / 2, Math.min(cell / 2, f / Math.sqrt(slope))) / Math.sqrt(slope);
    const next: Vec3 = [at[0] - gx * way, at[1] - gy * way, at[2] - gz * way];
    if (Math.hypot(next[0] - x, next[1] - y, next[2] - z) > cell) break;
    at = next;
  }
  return at;
}

/** The grid round all spheres; undefined when there are none. */
function gridOf(p: Readonly<Float32Array>, radii: Readonly<Float32Array>, cell: number, blend: number): Grid | undefined {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < radii.length; i++) {
    if (!(radii[i] > 0)) continue;
    for (let axis = 0; axis < 3; axis++) {
      low[axis] = Math.min(low[axis], p[i * 3 + axis] - radii[i]);
      high[axis] = Math.max(high[axis], p[i * 3 + axis] + radii[i]);
    }
  }
  return low[0] <= high[0] ? gridAround(low, high, blend * 2 + cell * 2, cell) : undefined;
}

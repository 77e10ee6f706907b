import { emptyMesh, makeMesh, type Mesh } from '../geometry/mesh.ts';
import { sheetsOf, SIDES } from './dual-cells.ts';
import { BLOCK, SphereField, type Grid } from './sphere-field.ts';

/** Cells that a skin may be searched in. */
export const MOST_SKIN_CELLS = 8_000_000;

/** How many cells a skin would be searched in. */
export function skinCells(
  positions: Readonly<Float32Array>,
  radii: Readonly<Float32Array>,
  cell: number,
  blend: number,
): number {
  const { size } = gridOf(positions, radii, cell, blend);
  return size[0] * size[1] * size[2];
}

/**
 * A closed mesh round spheres, each reaching its radius from its point, flowing together over `blend` metres: the zero of
 * a `SphereField` with k = blend / 4, found on a grid. Every sheet of the surface has a point in each cell that it passes
 * (`dual-cells.ts`), which is then moved onto the surface itself, and a quad for each side of the grid that it crosses.
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
  const { low, size } = grid;
  const [nx, ny, nz] = size;
  if (nx === 0) return emptyMesh();
  const field = new SphereField(positions, radii, Math.max(blend / 4, cell * 0.05), grid);
  const { sums, passed } = field.sums(checkpoint);
  const step = [1, nx, nx * ny];
  const corner = Array.from({ length: 8 }, (_, c) => (c & 1) + ((c >> 1) & 1) * nx + (c >> 2) * step[2]);
  // 1. A point for each sheet in a cell with corners on both sides: the mean of where its sides are crossed.
  const points: number[] = [];
  const cellPoint = new Int32Array(nx * ny * nz).fill(-1);
  const several = new Map<number, Int8Array>();
  eachCorner(field, passed, [nx - 1, ny - 1, nz - 1], checkpoint, (x, y, z) => {
    const o = x + nx * (y + ny * z);
    let inside = 0;
    for (let c = 0; c < 8; c++) if (sums[o + corner[c]] > 1) inside |= 1 << c;
    if (inside === 0 || inside === 255) return;
    const [px, py, pz] = [low[0] + x * cell, low[1] + y * cell, low[2] + z * cell];
    const sheets = sheetsOf(inside, (face) => {
      const middle = (bit: number) => (face.reduce((sum, c) => sum + ((c >> bit) & 1), 0) / 4) * cell;
      return field.at(px + middle(0), py + middle(1), pz + middle(2)) < 0;
    });
    cellPoint[o] = points.length / 3;
    if (sheets.count > 1) several.set(o, sheets.of);
    for (let sheet = 0; sheet < sheets.count; sheet++) {
      let ax = 0, ay = 0, az = 0, crossed = 0; // prettier-ignore
      for (let s = 0; s < 12; s++) {
        if (sheets.of[s] !== sheet) continue;
        const [a, b] = SIDES[s];
        const from = logOf(sums[o + corner[a]]);
        const way = from / (from - logOf(sums[o + corner[b]]));
        ax += (a & 1) + (s < 4 ? way : 0);
        ay += ((a >> 1) & 1) + (s >= 4 && s < 8 ? way : 0);
        az += (a >> 2) + (s >= 8 ? way : 0);
        crossed++;
      }
      onto(field, points, px + (ax / crossed) * cell, py + (ay / crossed) * cell, pz + (az / crossed) * cell, cell); // prettier-ignore
    }
  });
  // 2. A quad round each side of the grid that the surface crosses, facing outwards.
  const pointAt = (o: number, side: number) => cellPoint[o] + (several.get(o)?.[side] ?? 0);
  const corners: number[] = [];
  eachCorner(field, passed, [nx - 1, ny - 1, nz - 1], checkpoint, (x, y, z) => {
    if (x === 0 || y === 0 || z === 0) return;
    const o = x + nx * (y + ny * z);
    const inside = sums[o] > 1;
    for (let axis = 0; axis < 3; axis++) {
      if (inside === sums[o + step[axis]] > 1) continue;
      const [u, v] = [step[(axis + 1) % 3], step[(axis + 2) % 3]];
      const s = axis * 4;
      const [p, q] = [pointAt(o - u - v, s + 3), pointAt(o, s)];
      if (inside) corners.push(p, pointAt(o - v, s + 2), q, pointAt(o - u, s + 1));
      else corners.push(p, pointAt(o - u, s + 1), q, pointAt(o - v, s + 2));
    }
  });
  const starts = Int32Array.from({ length: corners.length / 4 + 1 }, (_, i) => i * 4);
  return makeMesh(Float32Array.from(points), starts, Int32Array.from(corners));
}

/** Visits the corners of all blocks that the surface may pass, up to `end` along each axis. */
function eachCorner(
  { blocks }: SphereField,
  passed: Uint8Array,
  end: readonly number[],
  checkpoint: () => void,
  visit: (x: number, y: number, z: number) => void,
): void {
  for (let k = 0, block = 0; k < blocks[2]; k++) {
    checkpoint();
    for (let j = 0; j < blocks[1]; j++) {
      for (let i = 0; i < blocks[0]; i++, block++) {
        if (!passed[block]) continue;
        for (let z = k * BLOCK; z < Math.min((k + 1) * BLOCK, end[2]); z++)
          for (let y = j * BLOCK; y < Math.min((j + 1) * BLOCK, end[1]); y++)
            for (let x = i * BLOCK; x < Math.min((i + 1) * BLOCK, end[0]); x++) visit(x, y, z);
      }
    }
  }
}

/** What a sum is as a distance, in k's, for finding where a side of the grid is crossed. */
const logOf = (sum: number): number => (sum > 1e-30 ? -Math.log(sum) : 30);

/** How often a point is moved towards the surface. */
const ROUNDS = 4;

/** Adds a point, moved onto the surface by Newton's steps along the gradient, by less than a cell altogether. */
function onto(field: SphereField, points: number[], x: number, y: number, z: number, cell: number): void {
  let [px, py, pz] = [x, y, z];
  for (let round = 0; round < ROUNDS; round++) {
    const f = field.at(px, py, pz);
    const { gradientX: gx, gradientY: gy, gradientZ: gz } = field;
    const slope = gx * gx + gy * gy + gz * gz;
    if (Math.abs(f) < cell * 1e-4 || !(slope > 1e-6)) break;
    const way = Math.max(-cell / 2, Math.min(cell / 2, f / Math.sqrt(slope))) / Math.sqrt(slope);
    const [nx, ny, nz] = [px - gx * way, py - gy * way, pz - gz * way];
    if (Math.hypot(nx - x, ny - y, nz - z) > cell) break;
    [px, py, pz] = [nx, ny, nz];
  }
  points.push(px, py, pz);
}

/** The grid round all spheres, standing on whole multiples of the cell so that it does not swim with the points. */
function gridOf(p: Readonly<Float32Array>, radii: Readonly<Float32Array>, cell: number, blend: number): Grid {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < radii.length; i++) {
    if (!(radii[i] > 0)) continue;
    for (let axis = 0; axis < 3; axis++) {
      low[axis] = Math.min(low[axis], p[i * 3 + axis] - radii[i]);
      high[axis] = Math.max(high[axis], p[i * 3 + axis] + radii[i]);
    }
  }
  if (!(low[0] <= high[0])) return { low: [0, 0, 0], size: [0, 0, 0], cell };
  const margin = blend * 2 + cell * 2;
  const first = low.map((v) => Math.floor((v - margin) / cell));
  return {
    cell,
    low: first.map((v) => v * cell),
    size: high.map((v, axis) => Math.ceil((v + margin) / cell) - first[axis] + 1),
  };
}

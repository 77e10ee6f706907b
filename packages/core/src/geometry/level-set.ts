import { sheetsOf, SIDES } from './dual-cells.ts';
import { makeMesh, type Mesh } from './mesh.ts';

/** Cells along a side of a block: what cannot be passed by the surface is left out block by block. */
export const BLOCK = 4;

/** Corners at which a field is looked at: the first at `low`, so many along each axis. */
export interface Grid {
  readonly low: readonly number[];
  readonly size: readonly number[];
  readonly cell: number;
}

/** How many blocks a grid has along each axis; they are numbered along x first, then y, then z. */
export const blocksOf = ({ size }: Grid): number[] => size.map((n) => Math.ceil(n / BLOCK));

/** A function of places, metres: negative inside, 0 on the surface. */
export interface Field {
  /** Its value at a place in a block; on the border of two the same for both. */
  value(x: number, y: number, z: number, block: number): number;
  /** −1 or 1 where everything in the block within `way` of a place of it is surely inside or outside; else 0. */
  side(x: number, y: number, z: number, block: number, way: number): -1 | 0 | 1;
}

/** A grid round a box, standing on whole multiples of the cell so that it does not swim with what is in it. */
export function gridAround(low: readonly number[], high: readonly number[], margin: number, cell: number): Grid {
  const first = low.map((v) => Math.floor((v - margin) / cell));
  return {
    low: first.map((v) => v * cell),
    size: high.map((v, axis) => Math.ceil((v + margin) / cell) - first[axis] + 1),
    cell,
  };
}

/**
 * The surface on which a field is 0, as a closed mesh: a point for each sheet of it in each cell that it passes
 * (`dual-cells.ts`), and a quad round each side of the grid that it crosses, facing outwards. What is finer than a cell
 * is not seen. The surface must stay within the grid.
 * @param settle moves a point onto the surface; left out, points are means of where the sides of their cells are crossed
 */
export function levelSet(
  field: Field,
  grid: Grid,
  checkpoint: () => void = () => {},
  settle: (x: number, y: number, z: number) => readonly [number, number, number] = (x, y, z) => [x, y, z],
): Mesh {
  const { low, size, cell } = grid;
  const [nx, ny, nz] = size;
  const { values, passed } = valuesOn(field, grid, checkpoint);
  const step = [1, nx, nx * ny];
  const corner = Array.from({ length: 8 }, (_, c) => (c & 1) + ((c >> 1) & 1) * nx + (c >> 2) * step[2]);
  // 1. A point for each sheet in a cell with corners on both sides.
  const points: number[] = [];
  const cellPoint = new Int32Array(nx * ny * nz).fill(-1);
  const several = new Map<number, Int8Array>();
  eachCorner(grid, passed, checkpoint, (x, y, z, block) => {
    const o = x + nx * (y + ny * z);
    let inside = 0;
    for (let c = 0; c < 8; c++) if (values[o + corner[c]] < 0) inside |= 1 << c;
    if (inside === 0 || inside === 255) return;
    const [px, py, pz] = [low[0] + x * cell, low[1] + y * cell, low[2] + z * cell];
    const sheets = sheetsOf(inside, (face) => {
      const middle = (bit: number) => (face.reduce((sum, c) => sum + ((c >> bit) & 1), 0) / 4) * cell;
      return field.value(px + middle(0), py + middle(1), pz + middle(2), block) < 0;
    });
    cellPoint[o] = points.length / 3;
    if (sheets.count > 1) several.set(o, sheets.of);
    for (let sheet = 0; sheet < sheets.count; sheet++) {
      let ax = 0,
        ay = 0,
        az = 0,
        crossed = 0;
      for (let s = 0; s < 12; s++) {
        if (sheets.of[s] !== sheet) continue;
        const [a, b] = SIDES[s];
        const from = values[o + corner[a]];
        const way = from / (from - values[o + corner[b]]);
        ax += (a & 1) + (s < 4 ? way : 0);
        ay += ((a >> 1) & 1) + (s >= 4 && s < 8 ? way : 0);
        az += (a >> 2) + (s >= 8 ? way : 0);
        crossed++;
      }
      points.push(...settle(px + (ax / crossed) * cell, py + (ay / crossed) * cell, pz + (az / crossed) * cell));
    }
  });
  // 2. A quad round each side of the grid that is crossed.
  const pointAt = (o: number, side: number) => cellPoint[o] + (several.get(o)?.[side] ?? 0);
  const corners: number[] = [];
  eachCorner(grid, passed, checkpoint, (x, y, z) => {
    if (x === 0 || y === 0 || z === 0) return;
    const o = x + nx * (y + ny * z);
    const inside = values[o] < 0;
    for (let axis = 0; axis < 3; axis++) {
      if (inside === values[o + step[axis]] < 0) continue;
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

/** A field at every corner, and whether the surface may pass each block; where it cannot, values only tell the side. */
function valuesOn(field: Field, grid: Grid, checkpoint: () => void): { values: Float32Array; passed: Uint8Array } {
  const { low, size, cell } = grid;
  const [nx, ny, nz] = size;
  const [bx, by, bz] = blocksOf(grid);
  const values = new Float32Array(nx * ny * nz);
  const passed = new Uint8Array(bx * by * bz);
  /** Fills part of a block, from a corner on; whether the surface may pass it. What it passes is halved once more. */
  const fill = (block: number, wide: number, x: number, y: number, z: number): boolean => {
    const half = (wide / 2) * cell;
    const side = field.side(
      low[0] + x * cell + half,
      low[1] + y * cell + half,
      low[2] + z * cell + half,
      block,
      half * Math.sqrt(3),
    );
    if (side === 0 && wide > 2) {
      const w = wide / 2;
      for (let c = 0; c < 8; c++) fill(block, w, x + (c & 1) * w, y + ((c >> 1) & 1) * w, z + (c >> 2) * w);
      return true;
    }
    for (let w = z; w < Math.min(z + wide, nz); w++)
      for (let v = y; v < Math.min(y + wide, ny); v++)
        for (let u = x, o = u + nx * (v + ny * w); u < Math.min(x + wide, nx); u++, o++)
          values[o] = side !== 0 ? side * cell : field.value(low[0] + u * cell, low[1] + v * cell, low[2] + w * cell, block);
    return side === 0;
  };
  for (let k = 0, block = 0; k < bz; k++) {
    checkpoint();
    for (let j = 0; j < by; j++) {
      for (let i = 0; i < bx; i++, block++) {
        if (fill(block, BLOCK, i * BLOCK, j * BLOCK, k * BLOCK)) passed[block] = 1;
      }
    }
  }
  return { values, passed };
}

/** Visits the corners of all blocks that the surface may pass, but for the last along each axis. */
function eachCorner(
  grid: Grid,
  passed: Uint8Array,
  checkpoint: () => void,
  visit: (x: number, y: number, z: number, block: number) => void,
): void {
  const [ex, ey, ez] = grid.size.map((n) => n - 1);
  const [bx, by, bz] = blocksOf(grid);
  for (let k = 0, block = 0; k < bz; k++) {
    checkpoint();
    for (let j = 0; j < by; j++) {
      for (let i = 0; i < bx; i++, block++) {
        if (!passed[block]) continue;
        for (let z = k * BLOCK; z < Math.min((k + 1) * BLOCK, ez); z++)
          for (let y = j * BLOCK; y < Math.min((j + 1) * BLOCK, ey); y++)
            for (let x = i * BLOCK; x < Math.min((i + 1) * BLOCK, ex); x++) visit(x, y, z, block);
      }
    }
  }
}

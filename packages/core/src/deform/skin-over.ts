import { emptyMesh, makeMesh, type Mesh } from '../geometry/mesh.ts';

/** Cells that a skin may be searched in. */
export const MOST_SKIN_CELLS = 8_000_000;

/** How many k's beyond its surface a sphere still counts. */
const REACH = 7;
const LEAST = Math.exp(-REACH);

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
 * A closed mesh round spheres, each reaching its radius from its point, flowing together over `blend` metres. The field
 * is the smooth minimum −k·ln Σ (e^(−dᵢ/k) − e^−7) of the distances (k = blend / 4); its zero is found on a grid by surface nets
 * (Gibson 1998): one point in each cell the surface crosses, one quad for each side it crosses.
 * @param positions xyz × points. @param radii one each; those not above 0 are left out. @param cell metres.
 */
export function skinOver(
  positions: Readonly<Float32Array>,
  radii: Readonly<Float32Array>,
  cell: number,
  blend: number,
  checkpoint: () => void = () => {},
): Mesh {
  const { low, size } = gridOf(positions, radii, cell, blend);
  const [nx, ny, nz] = size;
  if (nx === 0) return emptyMesh();
  const k = Math.max(blend / 4, cell * 0.05);
  const sums = new Float32Array(nx * ny * nz);
  // 1. Every sphere adds to the corners it reaches: as far as its part is above e⁻⁷ of the surface's, less that much, so
  // that it ends without a step.
  for (let i = 0; i < radii.length; i++) {
    const r = radii[i];
    if (!(r > 0)) continue;
    if ((i & 63) === 0) checkpoint();
    const reach = r + REACH * k;
    const [from, to] = [0, 1].map((side) => [0, 1, 2].map((axis) => {
      const at = (positions[i * 3 + axis] + (side ? reach : -reach) - low[axis]) / cell;
      return side ? Math.min(size[axis] - 1, Math.floor(at)) : Math.max(0, Math.ceil(at));
    })); // prettier-ignore
    for (let z = from[2]; z <= to[2]; z++) {
      const dz = low[2] + z * cell - positions[i * 3 + 2];
      for (let y = from[1]; y <= to[1]; y++) {
        const dy = low[1] + y * cell - positions[i * 3 + 1];
        for (let x = from[0], o = x + nx * (y + ny * z); x <= to[0]; x++, o++) {
          const dx = low[0] + x * cell - positions[i * 3];
          const d = Math.sqrt(dx * dx + dy * dy + dz * dz) - r;
          const part = d < REACH * k ? Math.exp(Math.min(60, -d / k)) - LEAST : 0;
          sums[o] += part;
        }
      }
    }
  }
  // Inside where the sum is above 1, since −k·ln(1) = 0.
  const field = (o: number) => 1e-30 < sums[o] ? -k * Math.log(sums[o]) : 30 * k; // prettier-ignore
  // 2. A point in each cell with corners on both sides: the mean of where its sides are crossed.
  const points: number[] = [];
  const cellPoint = new Int32Array(nx * ny * nz).fill(-1);
  const step = [1, nx, nx * ny];
  for (let z = 0; z + 1 < nz; z++) {
    checkpoint();
    for (let y = 0; y + 1 < ny; y++) {
      for (let x = 0; x + 1 < nx; x++) {
        const o = x + nx * (y + ny * z);
        let inside = 0;
        for (let c = 0; c < 8; c++)
          if (sums[o + (c & 1) + (c & 2 ? nx : 0) + (c & 4 ? step[2] : 0)] > 1) inside++;
        if (inside === 0 || inside === 8) continue;
        const at = [0, 0, 0];
        let crossed = 0;
        for (let axis = 0; axis < 3; axis++) {
          const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
          for (let c = 0; c < 4; c++) {
            const a = o + (c & 1 ? step[u] : 0) + (c & 2 ? step[v] : 0);
            const b = a + step[axis];
            if (sums[a] > 1 === sums[b] > 1) continue;
            const [fa, fb] = [field(a), field(b)];
            at[axis] += fa / (fa - fb);
            at[u] += c & 1 ? 1 : 0;
            at[v] += c & 2 ? 1 : 0;
            crossed++;
          }
        }
        cellPoint[o] = points.length / 3;
        points.push(low[0] + (x + at[0] / crossed) * cell, low[1] + (y + at[1] / crossed) * cell, low[2] + (z + at[2] / crossed) * cell); // prettier-ignore
      }
    }
  }
  // 3. A quad round each side of the grid that the surface crosses, facing outwards.
  const corners: number[] = [];
  for (let z = 1; z + 1 < nz; z++) {
    for (let y = 1; y + 1 < ny; y++) {
      for (let x = 1; x + 1 < nx; x++) {
        const o = x + nx * (y + ny * z);
        for (let axis = 0; axis < 3; axis++) {
          const inside = sums[o] > 1;
          if (inside === sums[o + step[axis]] > 1) continue;
          const [u, v] = [step[(axis + 1) % 3], step[(axis + 2) % 3]];
          const quad = [cellPoint[o - u - v], cellPoint[o - v], cellPoint[o], cellPoint[o - u]];
          corners.push(...(inside ? quad : quad.reverse()));
        }
      }
    }
  }
  const starts = Int32Array.from({ length: corners.length / 4 + 1 }, (_, i) => i * 4);
  return makeMesh(Float32Array.from(points), starts, Int32Array.from(corners));
}

/** The grid round all spheres, standing on whole multiples of the cell so that it does not swim with the points. */
function gridOf(p: Readonly<Float32Array>, radii: Readonly<Float32Array>, cell: number, blend: number) {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < radii.length; i++) {
    if (!(radii[i] > 0)) continue;
    for (let axis = 0; axis < 3; axis++) {
      low[axis] = Math.min(low[axis], p[i * 3 + axis] - radii[i]);
      high[axis] = Math.max(high[axis], p[i * 3 + axis] + radii[i]);
    }
  }
  if (!(low[0] <= high[0])) return { low: [0, 0, 0], size: [0, 0, 0] };
  const margin = blend * 2 + cell * 2;
  const first = low.map((v) => Math.floor((v - margin) / cell));
  return {
    low: first.map((v) => v * cell),
    size: high.map((v, axis) => Math.ceil((v + margin) / cell) - first[axis] + 1),
  };
}

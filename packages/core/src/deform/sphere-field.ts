import { BLOCK, blocksOf, type Field, type Grid } from '../geometry/level-set.ts';

/** How many k's beyond its surface a sphere still counts. */
const REACH = 7;
const LEAST = Math.exp(-REACH);

/**
 * The smooth minimum of the distances to spheres, −k·ln Σ (e^(−dᵢ/k) − e^−7) (Quilez 2013, ended without a step where a
 * sphere's part is e^−7 of the surface's): 0 on the surface, negative inside. Spheres are listed by blocks of the grid.
 */
export class SphereField implements Field {
  private readonly reach: Float64Array;
  private readonly blocks: readonly number[];
  /** Spheres that reach into each block, block by block. */
  private readonly start: Int32Array;
  private readonly listed: Int32Array;

  /** Of the last `withGradient`: the direction in which the field grows, per metre. */
  gradientX = 0;
  gradientY = 0;
  gradientZ = 0;

  /** @param positions xyz × points. @param radii one each; those not above 0 are left out. @param k metres. */
  constructor(
    private readonly positions: Readonly<Float32Array>,
    private readonly radii: Readonly<Float32Array>,
    private readonly k: number,
    private readonly grid: Grid,
  ) {
    this.reach = Float64Array.from(radii, (r) => (r > 0 ? r + REACH * k : -1));
    this.blocks = blocksOf(grid);
    const counts = new Int32Array(this.blocks[0] * this.blocks[1] * this.blocks[2] + 1);
    this.eachReached((block) => counts[block + 1]++);
    for (let i = 1; i < counts.length; i++) counts[i] += counts[i - 1];
    this.start = counts;
    this.listed = new Int32Array(counts[counts.length - 1]);
    const next = counts.slice();
    this.eachReached((block, sphere) => (this.listed[next[block]++] = sphere));
  }

  private eachReached(visit: (block: number, sphere: number) => void): void {
    const { positions, reach, blocks } = this;
    const { low, cell } = this.grid;
    const side = cell * BLOCK;
    const [nx, ny] = blocks;
    for (let i = 0; i < reach.length; i++) {
      if (reach[i] < 0) continue;
      const place = (axis: number, sign: number) => Math.floor((positions[i * 3 + axis] + sign * reach[i] - low[axis]) / side);
      const from = [0, 1, 2].map((axis) => Math.max(0, place(axis, -1)));
      const to = [0, 1, 2].map((axis) => Math.min(blocks[axis] - 1, place(axis, 1)));
      // How far a sphere's middle is from a row of blocks along an axis.
      const beside = (axis: number, n: number) => {
        const first = low[axis] + n * side;
        return Math.max(0, first - positions[i * 3 + axis], positions[i * 3 + axis] - first - side);
      };
      for (let z = from[2]; z <= to[2]; z++)
        for (let y = from[1]; y <= to[1]; y++)
          for (let x = from[0]; x <= to[0]; x++)
            if (beside(0, x) ** 2 + beside(1, y) ** 2 + beside(2, z) ** 2 <= reach[i] ** 2) visit(x + nx * (y + ny * z), i);
    }
  }

  value(x: number, y: number, z: number, block: number): number {
    const { k } = this;
    const sum = this.sumAt(block, x, y, z, REACH * k, LEAST);
    return sum > 1e-30 ? -k * Math.log(sum) : 30 * k;
  }

  /** Without the ends of its parts the field changes by no more than the way (it is 1-Lipschitz). */
  side(x: number, y: number, z: number, block: number, way: number): -1 | 0 | 1 {
    const spheres = this.start[block + 1] - this.start[block];
    if (spheres === 0) return 1;
    const middle = -this.k * Math.log(this.sumAt(block, x, y, z, Infinity, 0));
    if (middle > way) return 1;
    return middle < -way - this.k * Math.log(1 + spheres * LEAST) ? -1 : 0;
  }

  /** The sum of the parts, each less `least`, of the spheres of a block that are nearer than `within`. */
  private sumAt(block: number, x: number, y: number, z: number, within: number, least: number): number {
    const { positions, radii, k, start, listed } = this;
    let sum = 0;
    for (let n = start[block]; n < start[block + 1]; n++) {
      const i = listed[n];
      const dx = x - positions[i * 3],
        dy = y - positions[i * 3 + 1],
        dz = z - positions[i * 3 + 2];
      const d = Math.sqrt(dx * dx + dy * dy + dz * dz) - radii[i];
      if (d < within) sum += Math.exp(Math.min(60, -d / k)) - least;
    }
    return sum;
  }

  /** The field at a place, metres, and its gradient. Far from everything it is 30 k. */
  withGradient(x: number, y: number, z: number): number {
    const { positions, radii, k, start, listed } = this;
    this.gradientX = this.gradientY = this.gradientZ = 0;
    const block = this.blockAt(x, 0) + this.blocks[0] * (this.blockAt(y, 1) + this.blocks[1] * this.blockAt(z, 2));
    let sum = 0;
    let gx = 0,
      gy = 0,
      gz = 0;
    for (let n = start[block]; n < start[block + 1]; n++) {
      const i = listed[n];
      const dx = x - positions[i * 3],
        dy = y - positions[i * 3 + 1],
        dz = z - positions[i * 3 + 2];
      const l = Math.sqrt(dx * dx + dy * dy + dz * dz);
      const d = l - radii[i];
      if (d >= REACH * k) continue;
      const part = Math.exp(Math.min(60, -d / k));
      sum += part - LEAST;
      if (l < 1e-12) continue;
      gx += (part * dx) / l;
      gy += (part * dy) / l;
      gz += (part * dz) / l;
    }
    if (!(sum > 1e-30)) return 30 * k;
    this.gradientX = gx / sum;
    this.gradientY = gy / sum;
    this.gradientZ = gz / sum;
    return -k * Math.log(sum);
  }

  private blockAt(v: number, axis: number): number {
    const { low, cell } = this.grid;
    return Math.max(0, Math.min(this.blocks[axis] - 1, Math.floor((v - low[axis]) / (cell * BLOCK))));
  }
}

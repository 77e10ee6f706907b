import { makeMesh, type Mesh } from './mesh.ts';

/** A tube round the y axis from y = 0 to `height`; the ring at the bottom comes first. Faces are quads facing outwards. */
export function makeTube(radius: number, height: number, rings: number, sides: number, caps: boolean): Mesh {
  const positions = new Float32Array((rings + 1) * sides * 3);
  for (let r = 0, o = 0; r <= rings; r++) {
    for (let s = 0; s < sides; s++) {
      const angle = (s / sides) * 2 * Math.PI;
      positions[o++] = Math.cos(angle) * radius;
      positions[o++] = (r / rings) * height;
      positions[o++] = Math.sin(angle) * radius;
    }
  }
  const starts = [0];
  const corners: number[] = [];
  const face = (...points: number[]) => {
    corners.push(...points);
    starts.push(corners.length);
  };
  const at = (r: number, s: number) => r * sides + (s % sides);
  for (let r = 0; r < rings; r++) for (let s = 0; s < sides; s++) face(at(r, s), at(r + 1, s), at(r + 1, s + 1), at(r, s + 1));
  if (caps) {
    face(...Array.from({ length: sides }, (_, s) => at(0, s)));
    face(...Array.from({ length: sides }, (_, s) => at(rings, sides - 1 - s)));
  }
  return makeMesh(positions, Int32Array.from(starts), Int32Array.from(corners));
}

/** A closed box about the origin; each point once, those on edges shared. Faces are quads facing outwards. */
export function makeBox(size: readonly [number, number, number], cells: readonly [number, number, number]): Mesh {
  const known = new Map<string, number>();
  const positions: number[] = [];
  const point = (grid: readonly number[]) => {
    const key = grid.join();
    let at = known.get(key);
    if (at === undefined) {
      at = positions.length / 3;
      known.set(key, at);
      for (let axis = 0; axis < 3; axis++) positions.push((grid[axis] / cells[axis] - 0.5) * size[axis]);
    }
    return at;
  };
  const corners: number[] = [];
  for (let axis = 0; axis < 3; axis++) {
    const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
    for (const side of [0, cells[axis]]) {
      for (let i = 0; i < cells[u]; i++) {
        for (let j = 0; j < cells[v]; j++) {
          const at = (a: number, b: number) => {
            const grid = [0, 0, 0];
            grid[axis] = side;
            grid[u] = i + a;
            grid[v] = j + b;
            return point(grid);
          };
          const quad = [at(0, 0), at(1, 0), at(1, 1), at(0, 1)];
          corners.push(...(side > 0 ? quad : quad.reverse()));
        }
      }
    }
  }
  const starts = Int32Array.from({ length: corners.length / 4 + 1 }, (_, i) => i * 4);
  return makeMesh(Float32Array.from(positions), starts, Int32Array.from(corners));
}

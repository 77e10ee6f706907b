import { makeMesh, type Mesh } from './mesh.ts';

/**
 * A flat grid of quads in the xz plane, facing up, centred on the origin. Points run along x first, then z.
 * @param size metres along x and z; @param cells numbers of cells along x and z, at least 1.
 */
export function makeGrid(size: readonly [number, number], cells: readonly [number, number]): Mesh {
  const [nx, nz] = cells;
  const positions = new Float32Array((nx + 1) * (nz + 1) * 3);
  for (let j = 0, o = 0; j <= nz; j++) {
    for (let i = 0; i <= nx; i++) {
      positions[o++] = (i / nx - 0.5) * size[0];
      positions[o++] = 0;
      positions[o++] = (j / nz - 0.5) * size[1];
    }
  }
  const corners = new Int32Array(nx * nz * 4);
  for (let j = 0, o = 0; j < nz; j++) {
    for (let i = 0; i < nx; i++) {
      const p = j * (nx + 1) + i;
      corners[o++] = p;
      corners[o++] = p + nx + 1;
      corners[o++] = p + nx + 2;
      corners[o++] = p + 1;
    }
  }
  return makeMesh(positions, everyFace(nx * nz, 4), corners);
}

/**
 * A round disc in the xz plane, facing up: a point in the middle, then rings outwards; triangles at the middle,
 * quads beyond. @param radius metres; @param rings at least 1; @param spokes at least 3.
 */
export function makeDisc(radius: number, rings: number, spokes: number): Mesh {
  const positions = new Float32Array((1 + rings * spokes) * 3);
  for (let r = 0, o = 3; r < rings; r++) {
    for (let s = 0; s < spokes; s++) {
      const angle = (s / spokes) * 2 * Math.PI;
      positions[o++] = (Math.cos(angle) * radius * (r + 1)) / rings;
      positions[o++] = 0;
      positions[o++] = (Math.sin(angle) * radius * (r + 1)) / rings;
    }
  }
  const starts = [0];
  const corners: number[] = [];
  const at = (r: number, s: number) => 1 + r * spokes + (s % spokes);
  for (let s = 0; s < spokes; s++) {
    corners.push(0, at(0, s + 1), at(0, s));
    starts.push(corners.length);
  }
  for (let r = 0; r + 1 < rings; r++) {
    for (let s = 0; s < spokes; s++) {
      corners.push(at(r, s), at(r, s + 1), at(r + 1, s + 1), at(r + 1, s));
      starts.push(corners.length);
    }
  }
  return makeMesh(positions, Int32Array.from(starts), Int32Array.from(corners));
}

/**
 * A sphere of rings and segments about the y axis: a point at each pole, triangles there, quads between.
 * @param radius metres; @param rings of quads and triangles from pole to pole, at least 2; @param segments at least 3.
 */
export function makeSphere(radius: number, rings: number, segments: number): Mesh {
  const inner = rings - 1;
  const positions = new Float32Array((2 + inner * segments) * 3);
  positions[1] = radius;
  for (let r = 0, o = 3; r < inner; r++) {
    const tilt = ((r + 1) / rings) * Math.PI;
    for (let s = 0; s < segments; s++) {
      const angle = (s / segments) * 2 * Math.PI;
      positions[o++] = radius * Math.sin(tilt) * Math.cos(angle);
      positions[o++] = radius * Math.cos(tilt);
      positions[o++] = radius * Math.sin(tilt) * Math.sin(angle);
    }
  }
  const last = 1 + inner * segments;
  positions[last * 3 + 1] = -radius;
  const starts = [0];
  const corners: number[] = [];
  const face = (...points: number[]) => {
    corners.push(...points);
    starts.push(corners.length);
  };
  const at = (r: number, s: number) => 1 + r * segments + (s % segments);
  for (let s = 0; s < segments; s++) face(0, at(0, s + 1), at(0, s));
  for (let r = 0; r + 1 < inner; r++) {
    for (let s = 0; s < segments; s++) face(at(r, s), at(r, s + 1), at(r + 1, s + 1), at(r + 1, s));
  }
  for (let s = 0; s < segments; s++) face(last, at(inner - 1, s), at(inner - 1, s + 1));
  return makeMesh(positions, Int32Array.from(starts), Int32Array.from(corners));
}

function everyFace(count: number, corners: number): Int32Array {
  return Int32Array.from({ length: count + 1 }, (_, i) => i * corners);
}

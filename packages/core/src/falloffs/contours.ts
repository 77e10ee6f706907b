import { boundsOf } from '../geometry/bounds.ts';
import { gridAround, levelSet, type Field } from '../geometry/level-set.ts';
import { trianglesOf } from '../geometry/triangles.ts';
import type { Mesh } from '../geometry/mesh.ts';
import { add, cross, normalize, scale, subtract, type Vec3 } from '../maths/vector.ts';
import { distanceOf, placesOf, type DistanceFalloff } from './distance.ts';

/** Cells along the longest side of the grid that a boundary is looked for in. */
const CELLS = 28;
/** Where the boundary is cut along each axis, as shares of its extent. */
const CUTS = [0.1, 0.3, 0.5, 0.7, 0.9];

/**
 * Lines on the boundary where the distance of a falloff is `size`: the surface of that distance, cut along each axis.
 * @returns pairs of xyz, world space; none where there is no such place
 */
export function contoursAt(f: DistanceFalloff, size: number): number[] {
  const { positions, widest } = placesOf(f);
  const { low, high } = boundsOf(positions);
  const reach = Math.max(0, size) * widest;
  const extent = Math.max(...high.map((v, axis) => v - low[axis])) + 2 * reach;
  if (!(extent > 0) || !Number.isFinite(extent) || (size <= 0 && !(f.type === 'surface' && f.signed))) return [];
  const cell = extent / CELLS;
  const distance = distanceOf(f);
  // What is beyond a few cells only has to be known to be so.
  const value = (x: number, y: number, z: number, within = size + 2 * cell) => Math.min(extent, distance(x, y, z, within) - size);
  // Distances change by no more than the way; those in widths of a curve may, so they are looked at everywhere.
  const isPlain = !(f.type === 'curve' && f.useWidth);
  const field: Field = {
    value: (x, y, z) => value(x, y, z),
    side(x, y, z, _, way) {
      const v = isPlain ? value(x, y, z, size + way) : 0;
      return v > way ? 1 : v < -way ? -1 : 0;
    },
  };
  return cutsOf(levelSet(field, gridAround(low, high, reach + 2 * cell, cell)), value, cell);
}

/** Where a mesh is cut by planes across each axis, as pairs of places, each moved onto the surface where `value` is 0. */
function cutsOf(mesh: Mesh, value: (x: number, y: number, z: number) => number, cell: number): number[] {
  const { low, high } = boundsOf(mesh.positions);
  const { points } = trianglesOf(mesh.topology);
  const p = mesh.positions;
  const { pointCount } = mesh.topology;
  const lines: number[] = [];
  for (let axis = 0; axis < 3; axis++) {
    for (const cut of CUTS) {
      const at = low[axis] + (high[axis] - low[axis]) * cut;
      // Both triangles at an edge are cut in the same place.
      const known = new Map<number, Vec3>();
      for (let t = 0; t < points.length; t += 3) {
        for (let k = 0; k < 3; k++) {
          const [a, b] = [points[t + k], points[t + ((k + 1) % 3)]];
          if (p[a * 3 + axis] < at === p[b * 3 + axis] < at) continue;
          const edge = Math.min(a, b) * pointCount + Math.max(a, b);
          let place = known.get(edge);
          if (!place) {
            const way = (at - p[a * 3 + axis]) / (p[b * 3 + axis] - p[a * 3 + axis]);
            const on = [0, 1, 2].map((c) => p[a * 3 + c] + (p[b * 3 + c] - p[a * 3 + c]) * way);
            place = settled(value, on as unknown as Vec3, normalOf(p, points, t), cell);
            known.set(edge, place);
          }
          lines.push(...place);
        }
      }
    }
  }
  return lines;
}

const pointOf = (p: Readonly<Float32Array>, i: number): Vec3 => [p[i * 3], p[i * 3 + 1], p[i * 3 + 2]];

function normalOf(p: Readonly<Float32Array>, points: Readonly<Int32Array>, t: number): Vec3 {
  const [a, b, c] = [0, 1, 2].map((k) => pointOf(p, points[t + k]));
  return normalize(cross(subtract(b, a), subtract(c, a)));
}

/** A place moved along a direction to where a field is 0, by secants that begin as for a distance; by less than a cell. */
function settled(value: (x: number, y: number, z: number) => number, place: Vec3, direction: Vec3, cell: number): Vec3 {
  let [way, slope] = [0, 1];
  let v = value(...place);
  for (let round = 0; round < 3 && Math.abs(v) > cell * 1e-3; round++) {
    const next = way - v / slope;
    if (!(Math.abs(next) < cell)) break;
    const w = value(...add(place, scale(direction, next)));
    if (Math.abs(w) >= Math.abs(v)) break;
    slope = (w - v) / (next - way);
    [way, v] = [next, w];
  }
  return add(place, scale(direction, way));
}

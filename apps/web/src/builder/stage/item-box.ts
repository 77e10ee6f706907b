import { boundsOf, type Bounds } from '@umberfish/core';
import { Box3, Matrix4, Vector3 } from 'three';
import type { DrawnItem } from './drawn-items.ts';

/** Bounds of positions, found once for each array. */
const known = new WeakMap<Float32Array, Bounds>();

/** The box of an item in its own space; empty where no place of it is finite. */
function ownBox({ mesh }: DrawnItem): Box3 {
  const bounds = known.get(mesh.positions) ?? boundsOf(mesh.positions);
  known.set(mesh.positions, bounds);
  return new Box3(new Vector3(...bounds.low), new Vector3(...bounds.high));
}

/** The box of an item in the world: round its own box as it stands. */
export function itemBox(item: DrawnItem): Box3 {
  const box = ownBox(item);
  if (item.matrix?.every(Number.isFinite) === false) return new Box3();
  return item.matrix && !box.isEmpty() ? box.applyMatrix4(new Matrix4().fromArray(item.matrix)) : box;
}

/** The twelve edges of a box, each two corners; a corner takes the low (0) or the high (1) of each axis. */
const EDGES = [0, 1, 2].flatMap((axis) =>
  [0, 1, 2, 3].flatMap((k) => {
    const [a, b] = [(axis + 1) % 3, (axis + 2) % 3];
    return [0, 1].map((end) => {
      const corner = [0, 0, 0];
      corner[axis] = end;
      corner[a] = k & 1;
      corner[b] = k >> 1;
      return corner;
    });
  }),
);

/** Lines round the boxes of items as they stand, turned with them; xyz of two ends for each line. */
export function boxLines(items: readonly DrawnItem[]): Float32Array {
  const out = new Float32Array(items.length * EDGES.length * 3);
  const at = new Vector3();
  const world = new Matrix4();
  let o = 0;
  for (const item of items) {
    const box = ownBox(item);
    if (box.isEmpty() || item.matrix?.every(Number.isFinite) === false) continue;
    if (item.matrix) world.fromArray(item.matrix);
    else world.identity();
    for (const [x, y, z] of EDGES) {
      at.set(x ? box.max.x : box.min.x, y ? box.max.y : box.min.y, z ? box.max.z : box.min.z).applyMatrix4(world);
      at.toArray(out, o);
      o += 3;
    }
  }
  return out.subarray(0, o);
}

import type { Mesh } from './mesh.ts';

/** How a new version of a mesh fits the one it replaces. */
export interface MeshFit {
  readonly points: { readonly before: number; readonly after: number };
  readonly faces: { readonly before: number; readonly after: number };
  /** Faces of the same points in the same order: everything kept by point number still fits. */
  readonly sameOrder: boolean;
  /** Of points both have, how many stand elsewhere (by more than a micrometre). */
  readonly moved: number;
  /** Attributes the old one had and the new one has not. */
  readonly lostAttributes: readonly string[];
}

/** Compares a mesh with the one that is to replace it. */
export function fitOf(before: Mesh, after: Mesh): MeshFit {
  const [a, b] = [before.topology, after.topology];
  const same = (x: Readonly<Int32Array>, y: Readonly<Int32Array>) => x.length === y.length && x.every((v, i) => v === y[i]);
  let moved = 0;
  for (let i = 0; i < Math.min(a.pointCount, b.pointCount); i++) {
    const by = [0, 1, 2].map((axis) => after.positions[i * 3 + axis] - before.positions[i * 3 + axis]);
    if (Math.hypot(...by) > 1e-6) moved++;
  }
  return {
    points: { before: a.pointCount, after: b.pointCount },
    faces: { before: a.faceCount, after: b.faceCount },
    sameOrder: same(a.faceStarts, b.faceStarts) && same(a.cornerPoints, b.cornerPoints),
    moved,
    lostAttributes: before.attributes
      .filter((x) => !after.attributes.some((y) => y.name === x.name && y.on === x.on))
      .map((x) => x.name),
  };
}

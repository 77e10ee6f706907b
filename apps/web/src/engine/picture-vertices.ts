import {
  charged,
  derivedFrom,
  findAttribute,
  memoizeWithin,
  normalsOf,
  SHADE_NORMAL,
  shadingVertices,
  type Mesh,
  type ShadingVertices,
} from '@umberfish/core';
import type { PictureRequest } from './protocol.ts';

/** Vertices as the graphics card wants them: split where shading breaks and, where something lies by uv, where uvs do. */
export interface PictureVertices extends ShadingVertices {
  /** Two numbers per vertex, and the vertex of the shading that each stands for; undefined where nothing lies by uv. */
  readonly byUv?: { readonly uvs: Float32Array; readonly shading: Int32Array };
}

/** Whether something lies on a mesh by its uvs: the picture of a material, or a checker that is asked for. */
export const liesByUv = ({ paint }: Pick<PictureRequest, 'paint'>, mesh: Mesh): boolean =>
  (paint?.as === 'checker' && paint.name === 'uv') || mesh.materials.some((m) => m.picture);

/** The vertices of a mesh. @param byUv whether something lies by its uvs */
export function pictureVertices(mesh: Mesh, byUv: boolean): PictureVertices {
  const shading = shadingVertices(mesh);
  const uv = byUv ? findAttribute(mesh, 'uv', 'corner')?.data : undefined;
  return uv ? splitByUv(shading, uv) : shading;
}

const MOST_STEPS = 32;

/** Worked out once per shading and uvs. The first vertex of every point keeps the point's index. */
const splitByUv = memoizeWithin((shading: ShadingVertices, uv: Readonly<Float32Array | Int32Array>): PictureVertices => {
  const { cornerVertices, vertexPoints, count } = shading;
  const corners = cornerVertices.length;
  // Of each vertex of the shading the ones it was split into, as a chain.
  const next: number[] = new Array<number>(count).fill(-1);
  const shadingOf: number[] = Array.from({ length: count }, (_, i) => i);
  const uvs: number[] = new Array<number>(count * 2).fill(0);
  const used = new Uint8Array(count);
  const split = new Int32Array(corners);
  for (let c = 0; c < corners; c++) {
    const s = cornerVertices[c];
    const [u, v] = [uv[c * 2], uv[c * 2 + 1]];
    let at = s;
    let steps = 0;
    if (used[s] === 0) {
      used[s] = 1;
      uvs[s * 2] = u;
      uvs[s * 2 + 1] = v;
    }
    while (!(Object.is(uvs[at * 2], u) && Object.is(uvs[at * 2 + 1], v))) {
      // A chain that became long is not walked to its end: the same pair may stand in it twice.
      if (next[at] >= 0 && ++steps < MOST_STEPS) at = next[at];
      else {
        next.push(next[s]);
        next[s] = at = next.length - 1;
        shadingOf.push(s);
        uvs.push(u, v);
      }
    }
    split[c] = at;
  }
  const byUv = { uvs: Float32Array.from(uvs), shading: Int32Array.from(shadingOf) };
  const vertices = { vertexPoints: byUv.shading.map((s) => vertexPoints[s]), cornerVertices: split };
  for (const part of [byUv, vertices]) charged(uv.buffer, part);
  return { count: shadingOf.length, ...vertices, byUv };
});

/** Gives arrays all numbers of which are then written. */
type Room = (count: number) => Float32Array;

/** Positions per vertex, kept with the mesh's: its own array where no point is split. */
export function vertexPositions(mesh: Mesh, vertices: PictureVertices, room: Room): Readonly<Float32Array> {
  const { positions } = mesh;
  if (vertices.count === mesh.topology.pointCount) return positions;
  return derivedFrom(positions, ['split', vertices], () => gather(room(vertices.count * 3), positions, vertices.vertexPoints));
}

/** Normals per vertex, by area (for looking at, where quickness counts), kept with the mesh's positions. */
export function vertexNormals(mesh: Mesh, vertices: PictureVertices, room: Room, checkpoint: () => void): Readonly<Float32Array> {
  const { cornerVertices: of, count } = shadingVertices(mesh);
  const stored = count === mesh.topology.pointCount ? findAttribute(mesh, SHADE_NORMAL, 'point') : undefined;
  const { byUv } = vertices;
  const normals = (stored?.data as Float32Array | undefined) ?? normalsOf(mesh, 'area', checkpoint, room, { of, count });
  if (!byUv) return normals;
  const split = () => gather(room(vertices.count * 3), normals, byUv.shading);
  return derivedFrom(mesh.positions, ['split', vertices, normals], split);
}

/** Three numbers of each of some elements, one after the other. */
export function gather<T extends Float32Array>(
  out: T,
  from: Readonly<Float32Array | Int32Array>,
  which: Readonly<Int32Array>,
): T {
  for (let v = 0, o = 0; v < which.length; v++, o += 3) {
    const p = which[v] * 3;
    out[o] = from[p];
    out[o + 1] = from[p + 1];
    out[o + 2] = from[p + 2];
  }
  return out;
}

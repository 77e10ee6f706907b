import { findHardEdges, untoldEdges } from './hard-edges.ts';
import { needFinite } from './finite.ts';
import { computeNormals, edgesOf, findAttribute, shadingVertices, type Mesh } from '@umberfish/core';

/** A mesh to write, with the name of its `o` line. */
export interface NamedMesh {
  readonly name: string;
  readonly mesh: Mesh;
}

/**
 * Writes meshes as Wavefront OBJ: every point in order, every polygon corner by corner, uvs, groups, materials,
 * and shading breaks as `s` groups and `vn`; hard edges that those cannot tell are remarks, `# hard 12 13`, by the points
 * of the file. Numbers are the shortest that read back to the same Float32. Names lose their line breaks.
 * @param materialFile name for the `mtllib` line; left out when no mesh has materials.
 * @throws FormatError when a position or uv is not finite
 */
export function writeObj(meshes: readonly NamedMesh[], materialFile = 'materials.mtl'): string {
  const out: string[] = ['# Umberfish, metres, y up'];
  if (meshes.some((m) => m.mesh.materials.length > 0)) out.push(`mtllib ${inLine(materialFile)}`);
  const base = { point: 1, uv: 1, normal: 1 };
  for (const { name, mesh } of meshes) {
    needFinite(name, mesh);
    writeOne(out, name, mesh, base);
  }
  out.push('');
  return out.join('\n');
}

/** The material library that goes with `writeObj`. */
export function writeMtl(meshes: readonly NamedMesh[]): string {
  const seen = new Map(meshes.flatMap((m) => m.mesh.materials).map((m) => [m.name, m]));
  return [...seen.values()].map((m) => `newmtl ${inLine(m.name)}\nKd ${m.baseColour.map(shortest).join(' ')}\n`).join('\n');
}

/** The shortest decimal that is the same Float32. */
export function shortest(v: number): string {
  const f = Math.fround(v);
  for (let digits = 6; digits < 9; digits++) {
    const text = f.toPrecision(digits);
    if (Math.fround(Number(text)) === f) return String(Number(text));
  }
  return String(Number(f.toPrecision(9)));
}

function writeOne(out: string[], name: string, mesh: Mesh, base: { point: number; uv: number; normal: number }): void {
  const { topology, positions } = mesh;
  out.push(`o ${inLine(name)}`);
  for (let i = 0; i < positions.length; i += 3)
    out.push(`v ${shortest(positions[i])} ${shortest(positions[i + 1])} ${shortest(positions[i + 2])}`);
  const uv = writeUvs(out, mesh);
  const smoothing = smoothingGroups(mesh);
  const vertices = shadingVertices(mesh);
  const normals = new Float32Array(smoothing ? vertices.count * 3 : 0);
  if (smoothing) {
    computeNormals(normals, positions, topology, vertices.cornerVertices, 'angle');
    for (let i = 0; i < normals.length; i += 3)
      out.push(`vn ${shortest(normals[i])} ${shortest(normals[i + 1])} ${shortest(normals[i + 2])}`);
  } else out.push('s 1');
  const materials = findAttribute(mesh, 'material', 'face')?.data;
  const groups = findAttribute(mesh, 'group', 'face')?.data;
  let material = -1,
    group = -1,
    smooth = -1;
  for (let f = 0; f < topology.faceCount; f++) {
    if (groups && groups[f] !== group) out.push(`g ${inLine(mesh.groups[(group = groups[f])] ?? 'default')}`);
    if (materials && materials[f] !== material)
      out.push(`usemtl ${inLine(mesh.materials[(material = materials[f])]?.name ?? 'Default')}`);
    if (smoothing && smoothing[f] !== smooth) out.push(`s ${(smooth = smoothing[f])}`);
    let face = 'f';
    for (let c = topology.faceStarts[f]; c < topology.faceStarts[f + 1]; c++) {
      face += ` ${base.point + topology.cornerPoints[c]}`;
      if (uv || smoothing) face += `/${uv ? base.uv + uv.corners[c] : ''}`;
      if (smoothing) face += `/${base.normal + vertices.cornerVertices[c]}`;
    }
    out.push(face);
  }
  const hard = findAttribute(mesh, 'hard', 'edge')?.data;
  const perCorner = smoothing && spread(normals, vertices.cornerVertices);
  const told = hard ? findHardEdges(topology, perCorner, smoothing) : undefined;
  const untold = untoldEdges(topology, hard, told);
  for (let i = 0; i < untold.length; i += 2) out.push(`# hard ${base.point + untold[i]} ${base.point + untold[i + 1]}`);
  base.point += topology.pointCount;
  base.uv += uv?.count ?? 0;
  base.normal += smoothing ? vertices.count : 0;
}

/** A name as it can stand in a line. */
const inLine = (name: string) => name.replace(/\s+/g, ' ').trim();

/** Normals of vertices as normals of corners. */
export function spread(normals: Readonly<Float32Array>, cornerVertices: Readonly<Int32Array>): Float32Array {
  const out = new Float32Array(cornerVertices.length * 3);
  cornerVertices.forEach((v, c) => out.set(normals.subarray(v * 3, v * 3 + 3), c * 3));
  return out;
}

function writeUvs(out: string[], mesh: Mesh): { corners: Int32Array; count: number } | undefined {
  const uv = findAttribute(mesh, 'uv', 'corner')?.data;
  if (!uv) return undefined;
  const known = new Map<string, number>();
  const corners = new Int32Array(mesh.topology.cornerCount);
  for (let c = 0; c < corners.length; c++) {
    const line = `vt ${shortest(uv[c * 2])} ${shortest(uv[c * 2 + 1])}`;
    let i = known.get(line);
    if (i === undefined) {
      known.set(line, (i = known.size));
      out.push(line);
    }
    corners[c] = i;
  }
  return { corners, count: known.size };
}

/** Faces joined across soft edges share a number from 1; undefined when no edge is hard. */
function smoothingGroups(mesh: Mesh): Int32Array | undefined {
  const hard = findAttribute(mesh, 'hard', 'edge')?.data;
  if (!hard || !hard.some((h) => h !== 0)) return undefined;
  const { faceStarts, faceCount } = mesh.topology;
  const { count, cornerEdges } = edgesOf(mesh.topology);
  const parent = Int32Array.from({ length: faceCount }, (_, i) => i);
  const find = (f: number): number => {
    while (parent[f] !== f) f = parent[f] = parent[parent[f]];
    return f;
  };
  const faceOfEdge = new Int32Array(count).fill(-1);
  for (let f = 0; f < faceCount; f++) {
    for (let c = faceStarts[f]; c < faceStarts[f + 1]; c++) {
      const edge = cornerEdges[c];
      if (hard[edge] !== 0) continue;
      if (faceOfEdge[edge] < 0) faceOfEdge[edge] = f;
      else parent[find(f)] = find(faceOfEdge[edge]);
    }
  }
  const numbers = new Map<number, number>();
  return Int32Array.from({ length: faceCount }, (_, f) => {
    const root = find(f);
    if (!numbers.has(root)) numbers.set(root, numbers.size + 1);
    return numbers.get(root) as number;
  });
}

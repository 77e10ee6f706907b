import {
  computeNormals,
  edgesOf,
  findAttribute,
  shadingVertices,
  trianglesOf,
  type Column,
  type Mesh,
} from '@umberfish/core';
import type { PictureMesh, PictureTopology } from './protocol.ts';

/** Identity of what the card needs to know of a mesh besides positions. */
export function pictureTopologyId(mesh: Mesh): string {
  const hard = findAttribute(mesh, 'hard', 'edge') ? 'h' : '';
  return `${mesh.topology.id}${hard}/${mesh.materials.map((m) => m.name + m.baseColour.join()).join(';')}`;
}

export function makePictureTopology(mesh: Mesh): PictureTopology {
  const triangles = trianglesOf(mesh.topology);
  const { vertexPoints, cornerVertices } = shadingVertices(mesh);
  const materials = findAttribute(mesh, 'material', 'face')?.data;
  // 1. Triangles by material, each material one run.
  const counts = new Map<number, number>();
  const materialOf = (t: number) => (materials ? materials[triangles.faces[t]] : 0);
  for (let t = 0; t < triangles.count; t++) counts.set(materialOf(t), (counts.get(materialOf(t)) ?? 0) + 1);
  const groups: { start: number; count: number; material: number }[] = [];
  const next = new Map<number, number>();
  let start = 0;
  for (const [material, count] of [...counts].sort((a, b) => a[0] - b[0])) {
    groups.push({ start: start * 3, count: count * 3, material });
    next.set(material, start);
    start += count;
  }
  const sorted = new Uint32Array(triangles.count * 3);
  const triangleFaces = new Int32Array(triangles.count);
  for (let t = 0; t < triangles.count; t++) {
    const to = next.get(materialOf(t)) as number;
    next.set(materialOf(t), to + 1);
    triangleFaces[to] = triangles.faces[t];
    for (let k = 0; k < 3; k++) sorted[to * 3 + k] = cornerVertices[triangles.corners[t * 3 + k]];
  }
  // 2. Edges between first vertices of points.
  const edges = Uint32Array.from(edgesOf(mesh.topology).points);
  return {
    id: pictureTopologyId(mesh),
    pointCount: mesh.topology.pointCount,
    faceCount: mesh.topology.faceCount,
    vertexPoints,
    triangles: sorted,
    triangleFaces,
    groups,
    edges,
    materials: mesh.materials,
  };
}

/** Positions per vertex: the mesh's own array where no point is split. */
export function vertexPositions(mesh: Mesh, floats: (n: number) => Float32Array): Float32Array {
  const { vertexPoints, count } = shadingVertices(mesh);
  if (count === mesh.topology.pointCount) return mesh.positions as Float32Array;
  const out = floats(count * 3);
  for (let v = 0; v < count; v++) {
    const p = vertexPoints[v] * 3;
    out[v * 3] = mesh.positions[p];
    out[v * 3 + 1] = mesh.positions[p + 1];
    out[v * 3 + 2] = mesh.positions[p + 2];
  }
  return out;
}

/** Normals per vertex, by area: for looking at, where quickness counts. */
export function vertexNormals(
  mesh: Mesh,
  floats: (n: number) => Float32Array,
  checkpoint: () => void,
): Float32Array {
  const { cornerVertices, count } = shadingVertices(mesh);
  return computeNormals(floats(count * 3), mesh.positions, mesh.topology, cornerVertices, 'area', checkpoint);
}

/** A gradient from sunk paper through clay to umber ink, rgb linear; readable in grey too (it only darkens). */
export function gradientAt(t: number): [number, number, number] {
  const stops: readonly (readonly [number, number, number])[] = [
    [0.86, 0.78, 0.62],
    [0.8, 0.42, 0.16],
    [0.42, 0.1, 0.045],
    [0.09, 0.02, 0.05],
  ];
  const at = Math.max(0, Math.min(1, t)) * (stops.length - 1);
  const i = Math.min(stops.length - 2, Math.floor(at));
  const f = at - i;
  return [0, 1, 2].map((c) => stops[i][c] + (stops[i + 1][c] - stops[i][c]) * f) as [number, number, number];
}

/** A previewed column on its mesh: numbers as colours from lowest to highest, vectors as needles from the points. */
export function paint(mesh: Mesh, column: Column, label: string): Pick<PictureMesh, 'colours' | 'needles'> {
  const { vertexPoints, count } = shadingVertices(mesh);
  if (column.kind === 'vector') {
    if (column.role === 'position') return {};
    const points = column.count;
    const data = new Float32Array(points * 6);
    const step = column.role === 'normal' || column.role === 'direction' ? 0.06 : 1;
    for (let i = 0; i < points; i++) {
      for (let axis = 0; axis < 3; axis++) {
        const p = mesh.positions[i * 3 + axis];
        data[i * 6 + axis] = p;
        data[i * 6 + 3 + axis] = p + column.data[i * 3 + axis] * step;
      }
    }
    return { needles: { data, label: step === 1 ? label : `${label} (directions, drawn 6 cm long)` } };
  }
  let from = Infinity;
  let to = -Infinity;
  for (let i = 0; i < column.count; i++) {
    const v = column.data[i];
    if (v - v !== 0) continue;
    if (v < from) from = v;
    if (v > to) to = v;
  }
  if (from > to) from = to = 0;
  const data = new Float32Array(count * 3);
  for (let v = 0; v < count; v++) {
    const value = column.data[vertexPoints[v]];
    data.set(gradientAt(to > from ? (value - from) / (to - from) : 0.5), v * 3);
  }
  return { colours: { data, from, to, label } };
}

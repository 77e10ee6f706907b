import {
  computeNormals,
  edgesOf,
  compileGradient,
  findAttribute,
  hashArrays,
  memoize,
  meshColumn,
  moveValues,
  readGradient,
  copyPositions,
  outlineOf,
  SHADE_NORMAL,
  shadingVertices,
  tracksOf,
  trianglesOf,
  weigh,
  UMBER_GRADIENT,
  type Column,
  type Copies,
  type Curves,
  type Evaluation,
  type Falloff,
  type Mesh,
} from '@umberfish/core';
import type { Paint, PictureLines, PictureMesh, PictureRequest, PictureTopology } from './protocol.ts';

/** What is in an attribute that is drawn; worked out once per array. */
const contentOf = memoize((data: Readonly<Float32Array | Int32Array>) => hashArrays(data));

/** Identity of what the card needs to know of a mesh besides positions. */
export function pictureTopologyId(mesh: Mesh): string {
  const hard = findAttribute(mesh, 'hard', 'edge')?.data;
  const materials = findAttribute(mesh, 'material', 'face')?.data;
  const drawn = `${hard ? contentOf(hard) : ''}/${materials ? contentOf(materials) : ''}`;
  return `${mesh.topology.id}/${drawn}/${mesh.materials.map((m) => m.name + m.baseColour.join()).join(';')}`;
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
export function vertexNormals(mesh: Mesh, floats: (n: number) => Float32Array, checkpoint: () => void): Float32Array {
  const { cornerVertices, count } = shadingVertices(mesh);
  const shade = findAttribute(mesh, SHADE_NORMAL, 'point');
  if (shade && count === mesh.topology.pointCount) return shade.data as Float32Array;
  return computeNormals(floats(count * 3), mesh.positions, mesh.topology, cornerVertices, 'area', checkpoint);
}

const GRADIENT = compileGradient(UMBER_GRADIENT);

/** A column as it is drawn: the stage colours points, so values on faces, corners or edges are averaged there. */
export function onPoints(mesh: Mesh, column: Column): Column {
  if (column.on === 'point' || column.on === 'copy') return column;
  const width = column.kind === 'vector' ? 3 : 1;
  const data = moveValues(mesh.topology, column.data, width, column.on, 'point');
  return { ...column, on: 'point', count: mesh.topology.pointCount, data };
}

/** A previewed column on its mesh: numbers as colours from lowest to highest, vectors as needles from the points. */
export function paint(
  mesh: Mesh,
  column: Column,
  label: string,
  range?: { from: number; to: number },
): Pick<PictureMesh, 'colours' | 'needles'> {
  const { vertexPoints, count } = shadingVertices(mesh);
  if (column.kind === 'vector') {
    if (column.role === 'position') return {};
    const points = column.count;
    const data = new Float32Array(points * 6);
    const step = column.role === 'normal' ? 0.06 : 1;
    for (let i = 0; i < points; i++) {
      for (let axis = 0; axis < 3; axis++) {
        const p = mesh.positions[i * 3 + axis];
        data[i * 6 + axis] = p;
        data[i * 6 + 3 + axis] = p + column.data[i * 3 + axis] * step;
      }
    }
    return { needles: { data, label: step === 1 ? label : `${label} (drawn 6 cm long)` } };
  }
  const { from, to } = range ?? rangeOf(column.data);
  const data = new Float32Array(count * 3);
  for (let v = 0; v < count; v++) {
    const value = column.data[vertexPoints[v]];
    readGradient(data, v * 3, GRADIENT, to > from ? (value - from) / (to - from) : 0.5);
  }
  return { colours: { data, from, to, label } };
}

/** Lowest and highest finite number; 0 and 0 when there is none. */
function rangeOf(data: Readonly<Float32Array | Int32Array>): { from: number; to: number } {
  let from = Infinity;
  let to = -Infinity;
  for (let i = 0; i < data.length; i++) {
    const v = data[i];
    if (v - v !== 0) continue;
    if (v < from) from = v;
    if (v > to) to = v;
  }
  return from > to ? { from: 0, to: 0 } : { from, to };
}

/**
 * An attribute of a mesh as colours or needles; colours as they are. Nothing when the mesh does not have it.
 * @param brought the mesh as it was brought in, whose places are its rest where it remembers none
 */
export function paintAttribute(
  mesh: Mesh,
  { name, as, unsaid }: Paint & { unsaid?: boolean },
  brought?: Mesh,
): Pick<PictureMesh, 'colours' | 'needles'> {
  const source = as === 'checker' && name === 'restPosition' ? restSource(mesh, brought) : mesh;
  const column = meshColumn(source, source === mesh ? name : 'position', 'point');
  if (!column) return {};
  const isColour = mesh.attributes.some((a) => a.name === name && a.type === 'colour');
  if (column.kind !== 'vector' || (as === 'needles' && !isColour)) {
    return paint(mesh, column.role === 'position' ? offsetsFrom(mesh, column) : column, name);
  }
  const { vertexPoints, count } = shadingVertices(mesh);
  if (as === 'checker')
    return { colours: { data: perVertex(column.data, vertexPoints, count), from: 0, to: 1, label: '', places: true } };
  const { from, to } = isColour ? { from: 0, to: 1 } : rangeOf(column.data);
  const data = perVertex(column.data, vertexPoints, count);
  for (let i = 0; i < data.length; i++) data[i] = to > from ? (data[i] - from) / (to - from) : 0.5;
  return { colours: { data, from, to, label: unsaid ? '' : name, rgb: isColour ? 'stored' : 'axes' } };
}

/** Where a mesh remembers its rest: itself, or the mesh as it was brought in that has the same faces. */
const restSource = (mesh: Mesh, brought: Mesh | undefined): Mesh =>
  findAttribute(mesh, 'restPosition', 'point') || brought?.topology.id !== mesh.topology.id ? mesh : brought;

/** Three numbers of points as those of the vertices that show them. */
function perVertex(data: Readonly<Float32Array | Int32Array>, vertexPoints: Readonly<Int32Array>, count: number): Float32Array {
  const out = new Float32Array(count * 3);
  for (let v = 0; v < count; v++) for (let axis = 0; axis < 3; axis++) out[v * 3 + axis] = data[vertexPoints[v] * 3 + axis];
  return out;
}

/** A position such as restPosition is drawn by needles from where the points are to where it is. */
function offsetsFrom(mesh: Mesh, column: Column): Column {
  const data = new Float32Array(column.data.length);
  for (let i = 0; i < data.length; i++) data[i] = column.data[i] - mesh.positions[i];
  return { ...column, data, role: 'plain' };
}

/** Needles from every point of one mesh to the same point of another. */
export function needlesBetween(a: Mesh, b: Mesh, label: string): PictureMesh['needles'] {
  const points = Math.min(a.topology.pointCount, b.topology.pointCount);
  const data = new Float32Array(points * 6);
  for (let i = 0; i < points; i++) {
    data.set(a.positions.subarray(i * 3, i * 3 + 3), i * 6);
    data.set(b.positions.subarray(i * 3, i * 3 + 3), i * 6 + 3);
  }
  return { data, label };
}

/** The weights of a falloff on a mesh, as colours from 0 to 1. @param positions of the mesh in world space */
export function paintFalloff(
  mesh: Mesh,
  falloff: Falloff,
  label: string,
  positions: Readonly<Float32Array>,
): Pick<PictureMesh, 'colours'> {
  const weights = weigh(falloff, positions, new Float32Array(mesh.topology.pointCount));
  const { vertexPoints, count } = shadingVertices(mesh);
  const data = new Float32Array(count * 3);
  for (let v = 0; v < count; v++) readGradient(data, v * 3, GRADIENT, weights[vertexPoints[v]]);
  return { colours: { data, from: 0, to: 1, label } };
}

/** Splines as lines through their samples. */
function curveLines(key: string, curves: Curves): PictureLines {
  const tracks = tracksOf(curves);
  const data = new Float32Array(tracks.reduce((n, t) => n + Math.max(0, t.count - 1), 0) * 6);
  let o = 0;
  for (const t of tracks) {
    for (let i = 0; i + 1 < t.count; i++, o += 6) data.set(t.positions.subarray(i * 3, i * 3 + 6), o);
  }
  return { key, as: 'curve', data };
}

/** Where a falloff begins and ends, as lines. */
function falloffLines(key: string, falloff: Falloff): PictureLines[] {
  const { inner, outer } = outlineOf(falloff);
  return [
    { key: `${key} inner`, as: 'inner', data: inner },
    { key: `${key} outer`, as: 'outer', data: outer },
  ];
}

/** The copies of one source: their matrices, and a colour each by a column, a falloff or their own attribute. */
export function instancesOf(
  copies: Copies,
  source: number,
  by: { column?: Column; falloff?: Falloff },
): NonNullable<PictureMesh['instances']> {
  const mine: number[] = [];
  for (let i = 0; i < copies.count; i++) if (copies.which[i] === source) mine.push(i);
  const matrices = new Float32Array(mine.length * 16);
  mine.forEach((i, k) => matrices.set(copies.matrices.subarray(i * 16, i * 16 + 16), k * 16));
  const own = copies.attributes.find((a) => a.name === 'colour')?.data;
  let numbers: Readonly<Float32Array | Int32Array> | undefined;
  let range = { from: 0, to: 1 };
  if (by.falloff) numbers = weigh(by.falloff, copyPositions(copies), new Float32Array(copies.count));
  else if (by.column && by.column.kind !== 'vector') {
    numbers = by.column.data;
    range = rangeOf(numbers);
  }
  if (!numbers && !own) return { matrices };
  const colours = new Float32Array(mine.length * 3);
  mine.forEach((i, k) => {
    if (!numbers) for (let axis = 0; axis < 3; axis++) colours[k * 3 + axis] = (own as Float32Array)[i * 3 + axis];
    else
      readGradient(colours, k * 3, GRADIENT, range.to > range.from ? (numbers[i] - range.from) / (range.to - range.from) : 0.5);
  });
  return { matrices, colours };
}

/** Curves that are shown, and the boundaries of falloffs that are looked at. */
export function linesOf(request: PictureRequest, evaluation: Evaluation): PictureLines[] {
  const curves = request.shown.flatMap(({ key, ref }) => {
    const value = evaluation.value(ref);
    return value?.form === 'curves' ? [curveLines(key, value.curves)] : [];
  });
  const falloffs = request.falloffs.flatMap((ref) => {
    const value = evaluation.value(ref);
    return value?.form === 'falloff' ? falloffLines(ref.node, value.falloff) : [];
  });
  return [...curves, ...falloffs];
}

/** The memory of pictures, to be handed over instead of copied. */
export function buffersOf(meshes: readonly PictureMesh[]): ArrayBuffer[] {
  const all = meshes.flatMap((m) => [m.positions, m.normals, m.colours?.data, m.needles?.data]);
  return all.filter((a) => a !== undefined).map((a) => a.buffer as ArrayBuffer);
}

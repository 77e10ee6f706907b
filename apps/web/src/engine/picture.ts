import {
  edgesOf,
  compileGradient,
  findAttribute,
  hashArrays,
  materialKey,
  memoize,
  meshColumn,
  moveValues,
  readGradient,
  copyPositions,
  outlineOf,
  pictureId,
  isMeshPlace,
  tracksOf,
  trianglesOf,
  weigh,
  weightsOf,
  UMBER_GRADIENT,
  type Chain,
  type Column,
  type Copies,
  type Curves,
  type Evaluation,
  type Falloff,
  type Mesh,
} from '@umberfish/core';
import { jointColours } from '../ui/joint-colours.ts';
import { gather, type PictureVertices } from './picture-vertices.ts';
import type { Paint, PictureLines, PictureMesh, PictureRequest, PictureTopology } from './protocol.ts';

/** What is in an attribute that is drawn; worked out once per array. */
const contentOf = memoize((data: Readonly<Float32Array | Int32Array>) => hashArrays(data));

/** Identity of what the card needs to know of a mesh besides positions. @param byUv whether something lies by its uvs */
export function pictureTopologyId(mesh: Mesh, byUv: boolean): string {
  const hard = findAttribute(mesh, 'hard', 'edge')?.data;
  const materials = findAttribute(mesh, 'material', 'face')?.data;
  const uv = byUv ? findAttribute(mesh, 'uv', 'corner')?.data : undefined;
  const drawn = [hard, materials, uv].map((data) => (data ? contentOf(data) : '')).join('/');
  return `${mesh.topology.id}/${drawn}/${mesh.materials.map(materialKey).join(';')}`;
}

export function makePictureTopology(mesh: Mesh, id: string, vertices: PictureVertices): PictureTopology {
  const triangles = trianglesOf(mesh.topology);
  const { vertexPoints, cornerVertices, byUv } = vertices;
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
    id,
    pointCount: mesh.topology.pointCount,
    faceCount: mesh.topology.faceCount,
    vertexPoints,
    uvs: byUv?.uvs,
    triangles: sorted,
    triangleFaces,
    groups,
    edges,
    materials: mesh.materials.map(({ name, baseColour, picture }) => ({
      name,
      baseColour,
      ...(picture && byUv && { picture: { id: pictureId(picture), ...picture } }),
    })),
  };
}

const GRADIENT = compileGradient(UMBER_GRADIENT);

/** A column as it is drawn: the stage colours points, so values on faces, corners or edges are averaged there. */
export function onPoints(mesh: Mesh, column: Column): Column {
  if (column.on === 'point' || !isMeshPlace(column.on)) return column;
  const width = column.kind === 'vector' ? 3 : 1;
  const data = moveValues(mesh.topology, column.data, width, column.on, 'point');
  return { ...column, on: 'point', count: mesh.topology.pointCount, data };
}

/** A previewed column on its mesh: numbers as colours from lowest to highest, vectors as needles from the points. */
export function paint(
  mesh: Mesh,
  { vertexPoints, count }: PictureVertices,
  column: Column,
  label: string,
  /** What the ends of the colours stand for; left out: the least and the greatest number. */
  range?: readonly [number, number],
): Pick<PictureMesh, 'colours' | 'needles'> {
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
  const { from, to } = range ? { from: range[0], to: range[1] } : rangeOf(column.data);
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
  vertices: PictureVertices,
  { name, as, unsaid, range }: Paint & { unsaid?: boolean },
  brought?: Mesh,
): Pick<PictureMesh, 'colours' | 'needles'> {
  // A checker by uv lies by the uvs of the vertices.
  if (as === 'checker' && name === 'uv') return {};
  if (as === 'joints') return paintJoints(mesh, vertices);
  const source = as === 'checker' && name === 'restPosition' ? restSource(mesh, brought) : mesh;
  const column = meshColumn(source, source === mesh ? name : 'position', 'point');
  if (!column) return {};
  const isColour = mesh.attributes.some((a) => a.name === name && a.type === 'colour');
  if (column.kind !== 'vector' || (as === 'needles' && !isColour)) {
    return paint(mesh, vertices, column.role === 'position' ? offsetsFrom(mesh, column) : column, name, range);
  }
  const perVertex = () => gather(new Float32Array(vertices.count * 3), column.data, vertices.vertexPoints);
  if (as === 'checker') return { colours: { data: perVertex(), from: 0, to: 1, label: '', places: true } };
  const { from, to } = isColour ? { from: 0, to: 1 } : rangeOf(column.data);
  const data = perVertex();
  for (let i = 0; i < data.length; i++) data[i] = to > from ? (data[i] - from) / (to - from) : 0.5;
  return { colours: { data, from, to, label: unsaid ? '' : name, rgb: isColour ? 'stored' : 'axes' } };
}

/** Weights as colours: each joint has its own, mixed by how much it moves the point. */
function paintJoints(mesh: Mesh, { vertexPoints, count }: PictureVertices): Pick<PictureMesh, 'colours'> {
  const weights = weightsOf(mesh);
  if (weights.length === 0) return {};
  const colourFor = jointColours(weights.map((w) => w.name));
  const mixed = new Float32Array(mesh.topology.pointCount * 3);
  for (const { name, data } of weights) {
    const [r, g, b] = colourFor(name);
    for (let p = 0; p < data.length; p++) {
      const w = data[p];
      if (!(w > 0)) continue;
      mixed[p * 3] += w * r;
      mixed[p * 3 + 1] += w * g;
      mixed[p * 3 + 2] += w * b;
    }
  }
  const data = gather(new Float32Array(count * 3), mixed, vertexPoints);
  return { colours: { data, from: 0, to: 1, label: 'weights', rgb: 'joints' } };
}

/** Where a mesh remembers its rest: itself, or the mesh as it was brought in that has the same faces. */
const restSource = (mesh: Mesh, brought: Mesh | undefined): Mesh =>
  findAttribute(mesh, 'restPosition', 'point') || brought?.topology.id !== mesh.topology.id ? mesh : brought;

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
  { vertexPoints, count }: PictureVertices,
  falloff: Falloff,
  label: string,
  positions: Readonly<Float32Array>,
): Pick<PictureMesh, 'colours'> {
  const weights = weigh(falloff, positions, new Float32Array(mesh.topology.pointCount));
  const data = new Float32Array(count * 3);
  for (let v = 0; v < count; v++) readGradient(data, v * 3, GRADIENT, weights[vertexPoints[v]]);
  return { colours: { data, from: 0, to: 1, label } };
}

/** Bones from joint to joint. */
function chainLines(key: string, { parents, posed }: Chain): PictureLines {
  const data: number[] = [];
  parents.forEach((p, j) => {
    if (p >= 0) data.push(...posed.subarray(p * 16 + 12, p * 16 + 15), ...posed.subarray(j * 16 + 12, j * 16 + 15));
  });
  return { key, data: Float32Array.from(data), as: 'curve' };
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
    if (value?.form === 'chain') return [chainLines(key, value.chain)];
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

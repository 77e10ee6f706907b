import { WebIO, type Document, type GLTF, type Node, type Primitive } from '@gltf-transform/core';
import { identity, makeMesh, makeTopology, type Attribute, type Material, type Mesh } from '@umberfish/core';
import { hierarchyOf } from './gltf-motion.ts';
import { findHardEdges } from './hard-edges.ts';
import { FormatError, MOST_ELEMENTS, type Imported, type ImportedMesh } from './imported.ts';

/** Name of the vertex attribute that tells which point a vertex was split from. */
export const POINT_ATTRIBUTE = '_POINT';

/**
 * Reads a GLB, or a glTF text with its buffers inside it or among `resources` (by uri). Every node with a mesh
 * gives one mesh. Vertices that normals or uvs had split are welded back: by the point numbers this program
 * writes, else where positions are equal, in order of first use. Units are metres, y up, as the format says.
 * @throws FormatError with a sentence for what cannot be read.
 */
export async function readGltf(
  bytes: Uint8Array,
  resources: Readonly<Record<string, Uint8Array>> = {},
): Promise<Imported> {
  const notes = new Set<string>();
  const document = await open(bytes, resources);
  const meshes: ImportedMesh[] = [];
  const meshOf = new Map<Node, number>();
  for (const node of document.getRoot().listNodes()) {
    const source = node.getMesh();
    if (!source) continue;
    const name = node.getName() || source.getName() || 'Mesh';
    const mesh = convertMesh(source.listPrimitives(), name, notes);
    if (mesh) meshOf.set(node, meshes.push({ name, mesh, matrix: worldOf(node) }) - 1);
  }
  const objects = hierarchyOf(document, meshOf, notes);
  if (meshes.length === 0 && objects.length === 0)
    throw new FormatError(
      'The file has no mesh with triangles that stands in a scene, and no other objects.',
    );
  const metres = 'Read as metres with y up, as glTF files are.';
  return { meshes, objects, notes: [metres, ...notes] };
}

async function open(bytes: Uint8Array, resources: Readonly<Record<string, Uint8Array>>): Promise<Document> {
  const isBinary =
    bytes.length >= 4 && bytes[0] === 0x67 && bytes[1] === 0x6c && bytes[2] === 0x54 && bytes[3] === 0x46;
  const io = new WebIO();
  try {
    if (isBinary) {
      const parts = await io.binaryToJSON(new Uint8Array(bytes));
      checkAccessors(parts.json);
      return await io.readJSON(parts);
    }
    const json = JSON.parse(new TextDecoder().decode(bytes)) as GLTF.IGLTF;
    if (typeof json !== 'object' || json === null || !json.asset) throw new Error('it has no "asset" entry.');
    const all: Record<string, Uint8Array<ArrayBuffer>> = {};
    for (const [uri, data] of Object.entries(resources)) all[uri] = new Uint8Array(data);
    for (const [i, b] of (json.buffers ?? []).entries()) {
      if (!b.uri) continue;
      const embedded = /^data:[^,]*;base64,(.*)$/s.exec(b.uri);
      if (embedded) all[b.uri] = Uint8Array.from(atob(embedded[1]), (c) => c.charCodeAt(0));
      else if (!Object.hasOwn(all, b.uri))
        throw new FormatError(
          `buffers[${i}] is in the file "${b.uri}". Choose both files together, or use a GLB.`,
        );
    }
    for (const image of json.images ?? [])
      if (image.uri && !Object.hasOwn(all, image.uri)) all[image.uri] = new Uint8Array(0);
    checkAccessors(json);
    return await io.readJSON({ json, resources: all });
  } catch (error) {
    if (error instanceof FormatError) throw error;
    throw new FormatError(`The glTF file cannot be read: ${(error as Error).message}`);
  }
}

const COMPONENT_BYTES: Record<number, number> = { 5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4 };
const TYPE_WIDTH: Record<string, number> = {
  SCALAR: 1,
  VEC2: 2,
  VEC3: 3,
  VEC4: 4,
  MAT2: 4,
  MAT3: 9,
  MAT4: 16,
};

/** Every accessor must lie inside its buffer view, and every view inside its buffer. @throws FormatError with the path */
function checkAccessors(json: GLTF.IGLTF): void {
  for (const [i, view] of (json.bufferViews ?? []).entries()) {
    const length = json.buffers?.[view.buffer]?.byteLength;
    if (length === undefined || (view.byteOffset ?? 0) + view.byteLength > length) {
      throw new FormatError(`bufferViews[${i}] reaches beyond its buffer. Was the file cut short?`);
    }
  }
  for (const [i, a] of (json.accessors ?? []).entries()) {
    if (a.bufferView === undefined) continue;
    const view = json.bufferViews?.[a.bufferView];
    const size = COMPONENT_BYTES[a.componentType] * TYPE_WIDTH[a.type];
    const stride = view?.byteStride ?? size;
    const end = (a.byteOffset ?? 0) + (a.count > 0 ? (a.count - 1) * stride + size : 0);
    if (!view || !(end <= view.byteLength)) {
      throw new FormatError(
        `accessors[${i}] says ${a.count} elements, which is more than its buffer view holds.`,
      );
    }
  }
}

function worldOf(node: Node) {
  const out = identity();
  out.set(node.getWorldMatrix());
  return out.every(Number.isFinite) ? out : identity();
}

interface Gathered {
  positions: number[];
  normals: number[] | undefined;
  uvs: number[] | undefined;
  points: number[] | undefined;
  /** Three vertices per triangle. */
  triangles: number[];
  faceMaterials: number[];
  materials: Material[];
}

function convertMesh(primitives: readonly Primitive[], name: string, notes: Set<string>): Mesh | undefined {
  const g: Gathered = {
    positions: [],
    normals: [],
    uvs: [],
    points: [],
    triangles: [],
    faceMaterials: [],
    materials: [],
  };
  const bases = new Map<unknown, number>();
  for (const [i, primitive] of primitives.entries())
    gather(g, primitive, `${name}, primitive ${i}`, bases, notes);
  if (g.triangles.length === 0) return undefined;
  const { pointOfVertex, positions } = weld(g, name, notes);
  const corners = Int32Array.from(g.triangles, (v) => pointOfVertex[v]);
  const starts = Int32Array.from({ length: corners.length / 3 + 1 }, (_, i) => i * 3);
  const attributes: Attribute[] = [];
  if (g.uvs) {
    const uvs = g.uvs;
    const data = Float32Array.from(g.triangles.flatMap((v) => [uvs[v * 2], 1 - uvs[v * 2 + 1]]));
    attributes.push({ name: 'uv', on: 'corner', type: 'pair', role: 'plain', data });
  }
  if (g.materials.length > 0)
    attributes.push({
      name: 'material',
      on: 'face',
      type: 'integer',
      role: 'plain',
      data: Int32Array.from(g.faceMaterials),
    });
  if (g.normals) {
    const normals = g.normals;
    const perCorner = new Float32Array(corners.length * 3);
    g.triangles.forEach((v, c) => {
      for (let axis = 0; axis < 3; axis++) perCorner[c * 3 + axis] = normals[v * 3 + axis];
    });
    const hard = findHardEdges(makeTopology(starts, corners, positions), perCorner, undefined);
    if (hard) attributes.push({ name: 'hard', on: 'edge', type: 'toggle', role: 'plain', data: hard });
  }
  return makeMesh(positions, starts, corners, { attributes, materials: g.materials });
}

function gather(
  g: Gathered,
  primitive: Primitive,
  place: string,
  bases: Map<unknown, number>,
  notes: Set<string>,
): void {
  const position = primitive.getAttribute('POSITION');
  const mode = primitive.getMode();
  if (!position || mode < 4) {
    notes.add(`${place}: lines and points were left out.`);
    return;
  }
  const count = position.getCount();
  // 1. Vertices, once for primitives that share them.
  let base = bases.get(position);
  if (base === undefined) {
    base = g.positions.length / 3;
    if (base + count > MOST_ELEMENTS) throw new FormatError(`${place}: more than ${MOST_ELEMENTS} vertices.`);
    bases.set(position, base);
    const element: number[] = [];
    const normal = primitive.getAttribute('NORMAL');
    const uv = primitive.getAttribute('TEXCOORD_0');
    const point = primitive.getAttribute(POINT_ATTRIBUTE);
    if (!normal) g.normals = undefined;
    if (!uv) g.uvs = undefined;
    if (!point) g.points = undefined;
    let lost = 0;
    for (let i = 0; i < count; i++) {
      for (const v of position.getElement(i, element).slice(0, 3)) {
        if (!Number.isFinite(v)) lost++;
        g.positions.push(Number.isFinite(v) ? v : 0);
      }
      if (normal && g.normals) g.normals.push(...normal.getElement(i, element).slice(0, 3));
      if (uv && g.uvs) g.uvs.push(...uv.getElement(i, element).slice(0, 2));
      if (point && g.points) g.points.push(Math.round(point.getElement(i, element)[0]));
    }
    if (lost > 0) notes.add(`${place}: ${lost} numbers were not finite and became 0.`);
  }
  // 2. Triangles; strips and fans are taken apart.
  const indices = primitive.getIndices();
  const n = indices ? indices.getCount() : count;
  const at = (i: number): number => {
    const v = indices ? indices.getScalar(i) : i;
    if (!(v >= 0 && v < count))
      throw new FormatError(`${place}: index ${i} names vertex ${v}, but there are ${count}.`);
    return (base as number) + v;
  };
  const material = materialIndex(g, primitive);
  const emit = (a: number, b: number, c: number) => {
    g.triangles.push(a, b, c);
    g.faceMaterials.push(material);
  };
  if (mode === 4) for (let i = 0; i + 2 < n; i += 3) emit(at(i), at(i + 1), at(i + 2));
  else if (mode === 5) for (let i = 0; i + 2 < n; i++) emit(at(i), at(i + 1 + (i % 2)), at(i + 2 - (i % 2)));
  else for (let i = 1; i + 1 < n; i++) emit(at(0), at(i), at(i + 1));
}

function materialIndex(g: Gathered, primitive: Primitive): number {
  const material = primitive.getMaterial();
  const name = material?.getName() || (material ? `Material ${g.materials.length + 1}` : 'Default');
  const found = g.materials.findIndex((m) => m.name === name);
  if (found >= 0) return found;
  const [r, gr, b] = material?.getBaseColorFactor() ?? [0.6, 0.55, 0.5];
  return g.materials.push({ name, baseColour: [r, gr, b] }) - 1;
}

function weld(
  g: Gathered,
  name: string,
  notes: Set<string>,
): { pointOfVertex: Int32Array; positions: Float32Array } {
  const vertexCount = g.positions.length / 3;
  const pointOfVertex = new Int32Array(vertexCount);
  if (g.points && g.points.every((p) => p >= 0 && p < vertexCount)) {
    let pointCount = 0;
    for (const p of g.points) if (p >= pointCount) pointCount = p + 1;
    const positions = new Float32Array(pointCount * 3);
    // Backwards, so that the first vertex of a point has the last word.
    for (let v = vertexCount - 1; v >= 0; v--) {
      const p = (pointOfVertex[v] = g.points[v]);
      for (let axis = 0; axis < 3; axis++) positions[p * 3 + axis] = g.positions[v * 3 + axis];
    }
    return { pointOfVertex, positions };
  }
  const known = new Map<string, number>();
  const kept: number[] = [];
  for (let v = 0; v < vertexCount; v++) {
    const [x, y, z] = [g.positions[v * 3], g.positions[v * 3 + 1], g.positions[v * 3 + 2]];
    const key = `${x + 0},${y + 0},${z + 0}`;
    let p = known.get(key);
    if (p === undefined) {
      known.set(key, (p = known.size));
      kept.push(x, y, z);
    }
    pointOfVertex[v] = p;
  }
  if (known.size < vertexCount)
    notes.add(`${name}: ${vertexCount} vertices were welded to ${known.size} points.`);
  return { pointOfVertex, positions: Float32Array.from(kept) };
}

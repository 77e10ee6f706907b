import { WebIO, type Accessor, type GLTF } from '@gltf-transform/core';
import {
  counted,
  freeMaterialName,
  makeMesh,
  makeTopology,
  materialKey,
  placesOf,
  type Attribute,
  type Material,
  type Mesh,
} from '@umberfish/core';
import {
  checkBytes,
  openGltf,
  TYPE_WIDTH,
  type Accessors,
  type CheckedFile,
  type GltfFile,
  type GltfPrimitive,
} from './gltf-file.ts';
import { motionsOf } from './gltf-motion.ts';
import { jointsOfFile, weightAttributes, withChains, type FileJoints } from './gltf-skin.ts';
import { sceneOf } from './gltf-scene.ts';
import { PictureReader } from './gltf-picture.ts';
import { findHardEdges, withEdges } from './hard-edges.ts';
import { FormatError, MOST_ELEMENTS, type Imported, type ImportedMesh } from './imported.ts';
import { spread } from './obj-write.ts';

/** Name of the vertex attribute that tells which point a vertex was split from. */
export const POINT_ATTRIBUTE = '_POINT';

/**
 * Reads a GLB, or a glTF text with its buffers inside it or among `resources` (by file name). The nodes of its scene
 * become objects, and every one with a mesh gives one mesh; nodes that share a mesh in the file share it here.
 * Vertices that normals or uvs had split are welded back: by the point numbers this program writes, else where
 * positions are equal, in order of first use. Units are metres, y up, as the format says.
 * @throws FormatError with a sentence for what cannot be read.
 */
export async function readGltf(bytes: Uint8Array, resources: ReadonlyMap<string, Uint8Array> = new Map()): Promise<Imported> {
  const notes = new Set<string>();
  const file = openGltf(bytes, resources);
  const { json } = file;
  const placed = sceneOf(json, notes);
  const accessors = await readAccessors(file, usedAccessors(json, new Set(placed.map((p) => p.node.mesh))));
  const joints = jointsOfFile(json, placed, accessors, notes);
  const read = new MeshReader(json, accessors, joints, new PictureReader(file, notes), notes);
  const meshes: ImportedMesh[] = [];
  const motions = motionsOf(json, accessors, notes);
  const standing = placed.map(({ number, node, parent, matrix, world }) => {
    const { mesh: m } = node;
    const mesh = m === undefined ? undefined : read.mesh(m, node.skin);
    const name = node.name || (m !== undefined && json.meshes[m].name) || (m === undefined ? 'Object' : 'Mesh');
    return {
      name,
      parent,
      mesh: mesh ? meshes.push({ name, mesh, matrix: world }) - 1 : null,
      matrix,
      motion: motions.get(number) ?? null,
    };
  });
  const objects = withChains(standing, placed, joints, json.skins);
  if (objects.length === 0)
    throw new FormatError('The file has no mesh with triangles that stands in a scene, and no other objects.');
  const metres = 'Read as metres with y up, as glTF files are.';
  return { meshes, objects, notes: [metres, ...notes] };
}

/** Numbers of the accessors that meshes and the first animation need. */
function usedAccessors(json: GltfFile, meshes: ReadonlySet<number | undefined>): number[] {
  const used = new Set<number>();
  json.meshes.forEach((m, i) => {
    if (!meshes.has(i)) return;
    for (const { attributes, indices, mode } of m.primitives) {
      if (mode < 4 || attributes.POSITION === undefined) continue;
      for (const a of [...Object.values(attributes), indices]) if (a !== undefined) used.add(a);
    }
  });
  for (const { inverseBindMatrices: b } of json.skins) if (b !== undefined && json.accessors[b].type === 'MAT4') used.add(b);
  for (const s of json.animations.slice(0, 1).flatMap((a) => a.samplers)) used.add(s.input).add(s.output);
  return [...used];
}

async function readAccessors({ json, buffers }: CheckedFile, used: readonly number[]): Promise<Accessors> {
  checkBytes(json, used);
  const reduced = {
    asset: { version: '2.0' },
    accessors: used.map((i) => json.accessors[i]),
    bufferViews: json.bufferViews,
    buffers: buffers.map((b, i) => ({ byteLength: b.length, uri: `${i}` })),
  };
  const resources = Object.fromEntries(buffers.map((b, i) => [`${i}`, b]));
  try {
    const document = await new WebIO().readJSON({ json: reduced as GLTF.IGLTF, resources });
    const read = document.getRoot().listAccessors();
    return new Map(used.map((i, n) => [i, read[n]]));
  } catch (error) {
    if (error instanceof RangeError) throw new FormatError('it needs more memory than there is.');
    throw new FormatError('its numbers cannot be read.');
  }
}

/** What the primitives of a mesh bring, in arrays as long as they will be. */
interface Gathered {
  readonly positions: Float32Array;
  readonly normals: Float32Array | undefined;
  readonly uvs: Float32Array | undefined;
  readonly points: Int32Array | undefined;
  /** Three vertices per triangle. */
  readonly triangles: Int32Array;
  readonly faceMaterials: Int32Array;
  readonly materials: Material[];
  /** Where the vertices of each primitive begin, and how many there are. */
  readonly parts: { primitive: GltfPrimitive; base: number; count: number }[];
}

/** Makes meshes of a file's meshes, each once. */
class MeshReader {
  private readonly made = new Map<string, Mesh | undefined>();
  private vertexCount = 0;
  private cornerCount = 0;

  constructor(
    private readonly json: GltfFile,
    private readonly accessors: Accessors,
    private readonly joints: FileJoints,
    private readonly pictures: PictureReader,
    private readonly notes: Set<string>,
  ) {}

  /** The mesh of this number, with the weights of a skin; undefined when it has no triangles. */
  mesh(number: number, skin?: number): Mesh | undefined {
    const key = `${number} ${skin ?? ''}`;
    if (!this.made.has(key)) this.made.set(key, this.make(number, skin));
    return this.made.get(key);
  }

  private make(number: number, skin: number | undefined): Mesh | undefined {
    const { primitives, name: own } = this.json.meshes[number];
    const name = own || `meshes[${number}]`;
    const solid = primitives.filter((p, i) => {
      if (p.targets.length > 0) this.notes.add(`${name}: its morph targets were left out.`);
      if (p.mode >= 4 && p.attributes.POSITION !== undefined) return true;
      this.notes.add(`${name}, primitive ${i}: lines and points were left out.`);
      return false;
    });
    if (solid.length === 0) return undefined;
    const g = this.gather(solid, name);
    if (g.triangles.length === 0) return undefined;
    const { pointOfVertex, positions } = weld(g, name, this.notes);
    const mesh = meshFrom(g, pointOfVertex, positions, this.json.meshes[number].extras?.hardEdges ?? []);
    if (skin === undefined) return mesh;
    const names = this.json.skins[skin].joints.map((j) => this.joints.names.get(j));
    const weights = weightAttributes(name, mesh.topology, pointOfVertex, g.parts, names, this.accessors, this.notes);
    return { ...mesh, attributes: [...mesh.attributes, ...weights] };
  }

  private accessor(i: number, types: readonly string[], path: string): Accessor {
    const { type, componentType } = this.json.accessors[i];
    if (!types.includes(type)) throw new FormatError(`${path} is of type ${type}, not ${types.join(' or ')}.`);
    if (types[0] === 'SCALAR' && path.endsWith('indices') && ![5121, 5123, 5125].includes(componentType))
      throw new FormatError(`${path} are not whole numbers.`);
    return this.accessors.get(i) as Accessor;
  }

  private gather(primitives: readonly GltfPrimitive[], name: string): Gathered {
    // 1. How much there is: vertices once for primitives that share them all.
    const { json } = this;
    const shared = (p: GltfPrimitive) =>
      [p.attributes.POSITION, p.attributes.NORMAL, p.attributes.TEXCOORD_0, p.attributes._POINT, p.attributes.JOINTS_0].join();
    const countOf = (p: GltfPrimitive) => json.accessors[p.attributes.POSITION as number].count;
    const cornersOf = (p: GltfPrimitive) => {
      const n = p.indices === undefined ? countOf(p) : json.accessors[p.indices].count;
      return p.mode === 4 ? n - (n % 3) : Math.max(0, n - 2) * 3;
    };
    const bases = new Map<string, number>();
    let vertexCount = 0;
    let cornerCount = 0;
    for (const p of primitives) {
      cornerCount += cornersOf(p);
      if (bases.has(shared(p))) continue;
      bases.set(shared(p), vertexCount);
      vertexCount += countOf(p);
    }
    this.vertexCount += vertexCount;
    this.cornerCount += cornerCount;
    if (this.vertexCount > MOST_ELEMENTS || this.cornerCount > MOST_ELEMENTS)
      throw new FormatError(`${name}: more than ${MOST_ELEMENTS} vertices or corners in all.`);
    // 2. Vertices. What only some primitives have stays 0 for the others.
    const some = (key: keyof GltfPrimitive['attributes']) => primitives.some((p) => p.attributes[key] !== undefined);
    const every = (key: keyof GltfPrimitive['attributes']) => primitives.every((p) => p.attributes[key] !== undefined);
    const g: Gathered = {
      positions: new Float32Array(vertexCount * 3),
      normals: some('NORMAL') ? new Float32Array(vertexCount * 3) : undefined,
      uvs: some('TEXCOORD_0') ? new Float32Array(vertexCount * 2) : undefined,
      points: every(POINT_ATTRIBUTE) ? new Int32Array(vertexCount) : undefined,
      triangles: new Int32Array(cornerCount),
      faceMaterials: new Int32Array(cornerCount / 3),
      materials: [],
      parts: [],
    };
    if (g.uvs && !every('TEXCOORD_0')) this.notes.add(`${name}: some of its primitives have no uvs; theirs are 0.`);
    const written = new Set<string>();
    const materials = new Map<number | undefined, number>();
    let corner = 0;
    primitives.forEach((p, i) => {
      const path = `${name}, primitive ${i}`;
      const base = bases.get(shared(p)) as number;
      if (!written.has(shared(p))) {
        this.vertices(g, p, base, path);
        g.parts.push({ primitive: p, base, count: countOf(p) });
      }
      written.add(shared(p));
      const end = corner + cornersOf(p);
      g.faceMaterials.fill(this.material(g, materials, p), corner / 3, end / 3);
      this.triangles(g.triangles, corner, p, base, path);
      corner = end;
    });
    return g;
  }

  private vertices(g: Gathered, { attributes }: GltfPrimitive, base: number, path: string): void {
    const { POSITION, NORMAL, TEXCOORD_0, _POINT } = attributes;
    const { count } = this.json.accessors[POSITION as number];
    const copy = (
      i: number | undefined,
      out: Float32Array | Int32Array | undefined,
      type: keyof typeof TYPE_WIDTH,
      key: string,
    ) => {
      if (i === undefined || !out) return 0;
      const from = this.accessor(i, [type], `${path}: ${key}`);
      if (this.json.accessors[i].count !== count)
        throw new FormatError(`${path}: ${key} is for ${this.json.accessors[i].count} vertices, but there are ${count}.`);
      const width = TYPE_WIDTH[type];
      const element: number[] = [];
      let lost = 0;
      for (let v = 0, o = base * width; v < count; v++, o += width) {
        from.getElement(v, element);
        for (let k = 0; k < width; k++) {
          if (Number.isFinite(element[k])) out[o + k] = element[k];
          else lost++;
        }
      }
      return lost;
    };
    let lost = copy(POSITION, g.positions, 'VEC3', 'POSITION');
    lost += copy(TEXCOORD_0, g.uvs, 'VEC2', 'TEXCOORD_0');
    copy(NORMAL, g.normals, 'VEC3', 'NORMAL');
    copy(_POINT, g.points, 'SCALAR', POINT_ATTRIBUTE);
    if (lost > 0) this.notes.add(`${path}: made 0: ${counted(lost, 'number')} that ${lost === 1 ? 'is' : 'are'} not finite.`);
  }

  /** Triangles of a primitive; strips and fans are taken apart. */
  private triangles(out: Int32Array, first: number, p: GltfPrimitive, base: number, path: string): void {
    const { count } = this.json.accessors[p.attributes.POSITION as number];
    const indices = p.indices === undefined ? undefined : this.accessor(p.indices, ['SCALAR'], `${path}: indices`).getArray();
    const n = indices ? indices.length : count;
    const at = (i: number): number => {
      const v = indices ? indices[i] : i;
      if (v >= count) throw new FormatError(`${path}: index ${i} names vertex ${v}, but there are ${count}.`);
      return base + v;
    };
    let o = first;
    const emit = (a: number, b: number, c: number) => {
      out[o++] = at(a);
      out[o++] = at(b);
      out[o++] = at(c);
    };
    if (p.mode === 4) for (let i = 0; i + 2 < n; i += 3) emit(i, i + 1, i + 2);
    else if (p.mode === 5) for (let i = 0; i + 2 < n; i++) emit(i, i + 1 + (i % 2), i + 2 - (i % 2));
    else for (let i = 1; i + 1 < n; i++) emit(0, i, i + 1);
  }

  /** The number of a primitive's material among those of the mesh; others of a name that is taken get a number after it. */
  private material(g: Gathered, known: Map<number | undefined, number>, { material: m }: GltfPrimitive): number {
    const found = known.get(m);
    if (found !== undefined) return found;
    const material = m === undefined ? undefined : this.json.materials[m];
    const name = material?.name || (m === undefined ? 'Default' : `Material ${m + 1}`);
    const surface = material?.pbrMetallicRoughness;
    const [red, green, blue] = material ? (surface?.baseColorFactor ?? [1, 1, 1]) : [0.6, 0.55, 0.5];
    const picture = surface?.baseColorTexture && this.pictures.read(surface.baseColorTexture, name);
    const number = addMaterial(g.materials, { name, baseColour: [red, green, blue], ...(picture && { picture }) });
    known.set(m, number);
    return number;
  }
}

/** The number of a material in a list, which it is put into where no equal one is there, under a name that is free. */
function addMaterial(list: Material[], material: Material): number {
  const equal = list.findIndex((m) => materialKey(m) === materialKey(material));
  if (equal >= 0) return equal;
  return list.push({ ...material, name: freeMaterialName(material.name, (n) => list.some((m) => m.name === n)) }) - 1;
}

function meshFrom(g: Gathered, pointOfVertex: Int32Array, positions: Float32Array, untold: readonly number[]): Mesh {
  const { triangles, uvs, normals } = g;
  const corners = triangles.map((v) => pointOfVertex[v]);
  const starts = new Int32Array(corners.length / 3 + 1).map((_, i) => i * 3);
  const attributes: Attribute[] = [];
  if (uvs) {
    const data = new Float32Array(corners.length * 2);
    triangles.forEach((v, c) => {
      data[c * 2] = uvs[v * 2];
      data[c * 2 + 1] = 1 - uvs[v * 2 + 1];
    });
    attributes.push({ name: 'uv', on: 'corner', type: 'pair', role: 'plain', data });
  }
  attributes.push({ name: 'material', on: 'face', type: 'integer', role: 'plain', data: g.faceMaterials });
  const topology = makeTopology(starts, corners, positions);
  const shaded = normals && findHardEdges(topology, spread(normals, triangles), undefined);
  const hard = withEdges(topology, shaded, untold);
  if (hard) attributes.push({ name: 'hard', on: 'edge', type: 'toggle', role: 'plain', data: hard });
  return makeMesh(positions, starts, corners, { attributes, materials: g.materials });
}

function weld(
  { positions: all, points }: Gathered,
  name: string,
  notes: Set<string>,
): { pointOfVertex: Int32Array; positions: Float32Array } {
  const vertexCount = all.length / 3;
  if (points && points.every((p) => p >= 0 && p < vertexCount)) {
    let pointCount = 0;
    for (const p of points) if (p >= pointCount) pointCount = p + 1;
    const positions = new Float32Array(pointCount * 3);
    // Backwards, so that the first vertex of a point has the last word.
    for (let v = vertexCount - 1; v >= 0; v--) positions.set(all.subarray(v * 3, v * 3 + 3), points[v] * 3);
    return { pointOfVertex: points, positions };
  }
  const { places } = placesOf(all);
  const pointOfVertex = new Int32Array(vertexCount);
  let pointCount = 0;
  for (let v = 0; v < vertexCount; v++) {
    const first = places ? places[v] : v;
    pointOfVertex[v] = first === v ? pointCount++ : pointOfVertex[first];
  }
  const positions = new Float32Array(pointCount * 3);
  for (let v = vertexCount - 1; v >= 0; v--) positions.set(all.subarray(v * 3, v * 3 + 3), pointOfVertex[v] * 3);
  if (pointCount < vertexCount)
    notes.add(`${name}: ${counted(vertexCount, 'vertex')} welded to ${counted(pointCount, 'point')}.`);
  return { pointOfVertex, positions };
}

import { Document, WebIO, type Buffer, type Mesh as GltfMesh, type Scene, type Texture } from '@gltf-transform/core';
import {
  computeNormals,
  findAttribute,
  pictureId,
  shadingVertices,
  trianglesOf,
  type Mesh,
  type SurfacePicture,
} from '@umberfish/core';
import { needFinite } from './finite.ts';
import { POINT_ATTRIBUTE } from './gltf-read.ts';
import { findHardEdges, untoldEdges } from './hard-edges.ts';
import { FormatError } from './imported.ts';
import { spread, type NamedMesh } from './obj-write.ts';

/**
 * Writes meshes as one GLB, a node each, metres, y up. Vertex i of the first pointCount vertices is point i;
 * further vertices are appended where hard edges or uvs split a point, and `_POINT` tells the point of each, so
 * that reading it back gives the points in their order and number. Polygons become triangles.
 */
export async function writeGlb(meshes: readonly NamedMesh[]): Promise<Uint8Array> {
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene('Scene');
  for (const { name, mesh } of meshes) scene.addChild(document.createNode(name).setMesh(addMesh(document, buffer, name, mesh)));
  return finish(document, buffer, scene);
}

/** Writes a document with its only scene to bytes. A buffer that nothing is in has no place in the format. @throws FormatError without nodes */
export async function finish(document: Document, buffer: Buffer, scene: Scene): Promise<Uint8Array> {
  if (scene.listChildren().length === 0) throw new FormatError('There is nothing to write.');
  document.getRoot().setDefaultScene(scene);
  document.getRoot().getAsset().generator = 'Umberfish';
  if (document.getRoot().listAccessors().length === 0) buffer.dispose();
  return new WebIO().writeBinary(document);
}

/** Numbers of points that floats hold exactly. */
const MOST_EXACT = 2 ** 24;

/**
 * Puts a mesh into a document, a primitive for each material; one without faces as points, one without points as
 * nothing. @throws FormatError when a position or uv is not finite
 */
export function addMesh(document: Document, buffer: Buffer, name: string, mesh: Mesh): GltfMesh | null {
  needFinite(name, mesh);
  if (mesh.topology.pointCount === 0) return null;
  const v = splitVertices(mesh);
  const accessor = (type: 'VEC3' | 'VEC2' | 'SCALAR', data: Float32Array | Uint32Array) =>
    document
      .createAccessor()
      .setType(type)
      .setArray(data as Float32Array<ArrayBuffer>)
      .setBuffer(buffer);
  const position = accessor('VEC3', v.positions);
  const normal = accessor('VEC3', v.normals);
  const point = mesh.topology.pointCount > MOST_EXACT ? null : accessor('SCALAR', Float32Array.from(v.points));
  const uv = v.uvs ? accessor('VEC2', v.uvs) : null;
  const target = document.createMesh(name);
  if (v.untold.length > 0) target.setExtras({ hardEdges: v.untold });
  const lists = trianglesByMaterial(mesh, v.cornerVertices);
  if (lists.size === 0) {
    normal.dispose();
    uv?.dispose();
    const dots = document.createPrimitive().setMode(0).setAttribute('POSITION', position);
    return target.addPrimitive(dots.setAttribute(POINT_ATTRIBUTE, point));
  }
  for (const [material, indices] of lists) {
    const primitive = document
      .createPrimitive()
      .setAttribute('POSITION', position)
      .setAttribute('NORMAL', normal)
      .setAttribute('TEXCOORD_0', uv)
      .setAttribute(POINT_ATTRIBUTE, point)
      .setIndices(accessor('SCALAR', Uint32Array.from(indices)));
    const source = mesh.materials[material];
    if (source) {
      const made = document.createMaterial(source.name).setBaseColorFactor([...source.baseColour, 1]);
      // Where there are no uvs, the format has no place for it.
      if (source.picture && uv) made.setBaseColorTexture(textureOf(document, source.picture));
      primitive.setMaterial(made.setMetallicFactor(0).setRoughnessFactor(0.8));
    }
    target.addPrimitive(primitive);
  }
  return target;
}

/** A picture in a document, there once however many materials have it. */
function textureOf(document: Document, picture: SurfacePicture): Texture {
  const name = pictureId(picture);
  const known = document
    .getRoot()
    .listTextures()
    .find((t) => t.getName() === name);
  return (
    known ??
    document
      .createTexture(name)
      .setMimeType(picture.type)
      .setImage(picture.bytes as Uint8Array<ArrayBuffer>)
  );
}

interface SplitVertices {
  positions: Float32Array;
  normals: Float32Array;
  uvs: Float32Array | undefined;
  points: Int32Array;
  cornerVertices: Int32Array;
  /** Hard edges that the normals cannot tell, as pairs of points. */
  untold: number[];
}

/** Vertices that differ by shading or uv; the first of every point keeps the point's index. */
function splitVertices(mesh: Mesh): SplitVertices {
  const { topology } = mesh;
  const shading = shadingVertices(mesh);
  const shadingNormals = new Float32Array(shading.count * 3);
  computeNormals(shadingNormals, mesh.positions, topology, shading.cornerVertices, 'angle');
  const uv = findAttribute(mesh, 'uv', 'corner')?.data;
  const hard = findAttribute(mesh, 'hard', 'edge')?.data;
  const points: number[] = Array.from({ length: topology.pointCount }, (_, i) => i);
  const shadingOf: number[] = points.slice();
  const uvs: number[] = new Array<number>(topology.pointCount * 2).fill(0);
  const taken = new Uint8Array(topology.pointCount);
  const known = new Map<string, number>();
  const cornerVertices = new Int32Array(topology.cornerCount);
  for (let c = 0; c < topology.cornerCount; c++) {
    const s = shading.cornerVertices[c];
    const u = uv ? uv[c * 2] : 0;
    const w = uv ? uv[c * 2 + 1] : 0;
    const key = `${s},${u},${w}`;
    let vertex = known.get(key);
    if (vertex === undefined) {
      const p = topology.cornerPoints[c];
      vertex = taken[p] ? points.length : p;
      taken[p] = 1;
      known.set(key, vertex);
      points[vertex] = p;
      shadingOf[vertex] = s;
      uvs[vertex * 2] = u;
      uvs[vertex * 2 + 1] = 1 - w;
    }
    cornerVertices[c] = vertex;
  }
  const positions = new Float32Array(points.length * 3);
  const normals = new Float32Array(points.length * 3);
  points.forEach((p, v) => {
    for (let axis = 0; axis < 3; axis++) positions[v * 3 + axis] = mesh.positions[p * 3 + axis];
    for (let axis = 0; axis < 3; axis++) normals[v * 3 + axis] = shadingNormals[shadingOf[v] * 3 + axis];
    // A point without faces has no direction, but the format wants unit length.
    if (!normals[v * 3] && !normals[v * 3 + 1] && !normals[v * 3 + 2]) normals[v * 3 + 1] = 1;
  });
  return {
    positions,
    normals,
    uvs: uv ? Float32Array.from(uvs) : undefined,
    points: Int32Array.from(points),
    cornerVertices,
    untold: untoldEdges(
      topology,
      hard,
      hard && findHardEdges(topology, spread(shadingNormals, shading.cornerVertices), undefined),
    ),
  };
}

function trianglesByMaterial(mesh: Mesh, cornerVertices: Int32Array): Map<number, number[]> {
  const triangles = trianglesOf(mesh.topology);
  const materials = findAttribute(mesh, 'material', 'face')?.data;
  const lists = new Map<number, number[]>();
  for (let t = 0; t < triangles.count; t++) {
    const m = materials ? materials[triangles.faces[t]] : -1;
    let list = lists.get(m);
    if (!list) lists.set(m, (list = []));
    for (let k = 0; k < 3; k++) list.push(cornerVertices[triangles.corners[t * 3 + k]]);
  }
  return lists;
}

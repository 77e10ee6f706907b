import base64 from 'base64-js';
import { z } from 'zod';
import { ATTRIBUTE_PLACES, ATTRIBUTE_ROLES, ATTRIBUTE_TYPES, type Attribute } from '../geometry/attributes.ts';
import { PICTURE_TYPES, type Material, type SurfacePicture } from '../geometry/materials.ts';
import { makeMesh, type Mesh } from '../geometry/mesh.ts';
import { wrongShape } from '../wrong-shape.ts';
import { attributeName } from './fields.ts';

/** Why data is no mesh, in a sentence. */
export class MeshDataError extends Error {}

type Numbers = Float32Array | Int32Array;

const inText = z.object({ type: z.enum(['float32', 'int32']), base64: z.string() });
/** Numbers as they stand in files, or as a store keeps them that knows arrays. */
const packed = z.union([inText, z.instanceof(Float32Array), z.instanceof(Int32Array)]);
const materialSchema = z.object({
  name: z.string().max(500),
  baseColour: z.tuple([z.number(), z.number(), z.number()]),
  picture: z.object({ type: z.enum(PICTURE_TYPES), base64: z.union([z.string(), z.instanceof(Uint8Array)]) }).optional(),
});
const meshSchema = z.object({
  positions: packed,
  faceStarts: packed,
  cornerPoints: packed,
  attributes: z.array(
    z.object({
      name: attributeName,
      on: z.enum(ATTRIBUTE_PLACES),
      type: z.enum(ATTRIBUTE_TYPES),
      role: z.enum(ATTRIBUTE_ROLES),
      data: packed,
    }),
  ),
  materials: z.array(materialSchema),
  groups: z.array(z.string().max(500)),
});

type MeshData = z.infer<typeof meshSchema>;

/** A mesh as plain data with its arrays in base64 (little-endian), as it stands in project files. */
export const meshToData = (mesh: Mesh): MeshData =>
  dataOf(mesh, packText, ({ bytes }) => base64.fromByteArray(bytes as Uint8Array));

/** A mesh as plain data with arrays of its own, for a store that keeps arrays as they are: nothing is written as text. */
export const meshToArrays = (mesh: Mesh): MeshData =>
  dataOf(
    mesh,
    (data) => data.slice(),
    ({ bytes }) => bytes.slice(),
  );

function dataOf(
  mesh: Mesh,
  pack: (data: Readonly<Numbers>) => z.infer<typeof packed>,
  packPicture: (picture: SurfacePicture) => string | Uint8Array<ArrayBuffer>,
): MeshData {
  return {
    positions: pack(mesh.positions),
    faceStarts: pack(mesh.topology.faceStarts),
    cornerPoints: pack(mesh.topology.cornerPoints),
    attributes: mesh.attributes.map((a) => ({
      name: a.name,
      on: a.on,
      type: a.type,
      role: a.role,
      data: pack(a.data),
    })),
    materials: mesh.materials.map(({ name, baseColour, picture }) => ({
      name,
      baseColour: [...baseColour] as [number, number, number],
      ...(picture && { picture: { type: picture.type, base64: packPicture(picture) } }),
    })),
    groups: [...mesh.groups],
  };
}

/** Reads what `meshToData` or `meshToArrays` made. @throws MeshError or MeshDataError with a sentence. */
export function meshFromData(data: unknown): Mesh {
  const read = meshSchema.safeParse(data);
  if (!read.success) throw new MeshDataError(wrongShape(read.error, 'mesh'));
  const d = read.data;
  const attributes = d.attributes.map((a): Attribute => ({ ...a, data: unpack(a.data) }));
  const positions = unpack(d.positions);
  const starts = unpack(d.faceStarts);
  const corners = unpack(d.cornerPoints);
  if (!(positions instanceof Float32Array) || !(starts instanceof Int32Array) || !(corners instanceof Int32Array)) {
    throw new MeshDataError('Positions must be float32, faces int32.');
  }
  const materials = d.materials.map(({ picture, ...m }): Material =>
    picture ? { ...m, picture: { type: picture.type, bytes: bytesOf(picture.base64) } } : m,
  );
  return makeMesh(positions, starts, corners, { attributes, materials, groups: d.groups });
}

function packText(data: Readonly<Numbers>): z.infer<typeof inText> {
  const bytes = new Uint8Array(data.byteLength);
  bytes.set(new Uint8Array(data.buffer, data.byteOffset, data.byteLength));
  return { type: data instanceof Float32Array ? 'float32' : 'int32', base64: base64.fromByteArray(bytes) };
}

function bytesOf(text: string | Uint8Array<ArrayBuffer>): Uint8Array<ArrayBuffer> {
  if (typeof text !== 'string') return text;
  if (text.length % 4 !== 0 || !/^[A-Za-z0-9+/]*={0,2}$/.test(text)) {
    throw new MeshDataError('An array is not valid base64.');
  }
  return new Uint8Array(base64.toByteArray(text));
}

function unpack(p: z.infer<typeof packed>): Numbers {
  if (!('base64' in p)) return p;
  const { buffer, length } = bytesOf(p.base64);
  if (length % 4 !== 0) throw new MeshDataError(`An array has ${length} bytes, not whole 32-bit numbers.`);
  return p.type === 'float32' ? new Float32Array(buffer) : new Int32Array(buffer);
}

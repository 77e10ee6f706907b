import type { Accessor } from '@gltf-transform/core';
import { wrongShape } from '@umberfish/core';
import { z } from 'zod';
import { FormatError } from './imported.ts';

/**
 * The parts of a glTF file that are read, checked against the bytes that are really there before anything is made of
 * them (glTF 2.0, chapters 3 and 4). What is not named here is left out.
 */
const index = z.int().min(0);
const numbers = (count: number) => z.array(z.number()).length(count);
const named = { name: z.string().optional() };

const sparse = z.object({
  count: index,
  indices: z.object({
    bufferView: index,
    byteOffset: index.default(0),
    componentType: z.literal([5121, 5123, 5125]),
  }),
  values: z.object({ bufferView: index, byteOffset: index.default(0) }),
});
const accessor = z.object({
  bufferView: index.optional(),
  byteOffset: index.default(0),
  componentType: z.literal([5120, 5121, 5122, 5123, 5125, 5126]),
  normalized: z.boolean().default(false),
  count: index,
  type: z.literal(['SCALAR', 'VEC2', 'VEC3', 'VEC4', 'MAT2', 'MAT3', 'MAT4']),
  sparse: sparse.optional(),
});
const primitive = z.object({
  attributes: z.object({
    POSITION: index.optional(),
    NORMAL: index.optional(),
    TEXCOORD_0: index.optional(),
    _POINT: index.optional(),
    JOINTS_0: index.optional(),
    WEIGHTS_0: index.optional(),
    JOINTS_1: index.optional(),
    WEIGHTS_1: index.optional(),
  }),
  indices: index.optional(),
  material: index.optional(),
  mode: z.int().min(0).max(6).default(4),
  targets: z.array(z.unknown()).default([]),
});
const node = z.object({
  ...named,
  children: z.array(index).default([]),
  mesh: index.optional(),
  skin: index.optional(),
  matrix: numbers(16).optional(),
  translation: numbers(3).default([0, 0, 0]),
  rotation: numbers(4).default([0, 0, 0, 1]),
  scale: numbers(3).default([1, 1, 1]),
});
const animation = z.object({
  samplers: z.array(
    z.object({
      input: index,
      output: index,
      interpolation: z.enum(['LINEAR', 'STEP', 'CUBICSPLINE']).default('LINEAR'),
    }),
  ),
  channels: z.array(z.object({ sampler: index, target: z.object({ node: index.optional(), path: z.string() }) })),
});
/** Pairs of points with a hard edge between them, as this program writes them; other extras are passed over. */
const hardEdges = z
  .object({ hardEdges: z.array(index) })
  .optional()
  .catch(undefined);
const file = z.object({
  asset: z.object({ version: z.string(), minVersion: z.string().optional() }),
  extensionsRequired: z.array(z.string()).default([]),
  scene: index.default(0),
  scenes: z.array(z.object({ nodes: z.array(index).default([]) })).optional(),
  nodes: z.array(node).default([]),
  skins: z.array(z.object({ ...named, joints: z.array(index).max(10_000), inverseBindMatrices: index.optional() })).default([]),
  meshes: z.array(z.object({ ...named, primitives: z.array(primitive), extras: hardEdges })).default([]),
  materials: z
    .array(
      z.object({
        ...named,
        pbrMetallicRoughness: z
          .object({
            baseColorFactor: numbers(4).optional(),
            baseColorTexture: z
              .object({ index, texCoord: index.default(0), extensions: z.record(z.string(), z.unknown()).default({}) })
              .optional(),
          })
          .optional(),
      }),
    )
    .default([]),
  textures: z.array(z.object({ source: index.optional() })).default([]),
  images: z.array(z.object({ ...named, uri: z.string().optional(), bufferView: index.optional() })).default([]),
  animations: z.array(animation).default([]),
  accessors: z.array(accessor).default([]),
  bufferViews: z
    .array(
      z.object({
        buffer: index,
        byteOffset: index.default(0),
        byteLength: index,
        byteStride: index.optional().transform((stride) => stride || undefined),
      }),
    )
    .default([]),
  buffers: z.array(z.object({ uri: z.string().optional(), byteLength: index })).default([]),
});

export type GltfFile = z.infer<typeof file>;
export type GltfNode = GltfFile['nodes'][number];
export type GltfPrimitive = z.infer<typeof primitive>;
export type GltfAccessor = z.infer<typeof accessor>;

/** Accessors by number, with what is sparse or woven into others taken apart. */
export type Accessors = ReadonlyMap<number, Accessor>;

/** A checked file with the bytes of each of its buffers, and of the files beside it. */
export interface CheckedFile {
  readonly json: GltfFile;
  readonly buffers: readonly Uint8Array<ArrayBuffer>[];
  readonly resources: ReadonlyMap<string, Uint8Array>;
}

/** Extensions that a file may require without anything of its geometry being lost. */
const HARMLESS = /^(KHR_mesh_quantization|KHR_materials_.*|KHR_texture_.*|EXT_texture_.*|KHR_lights_punctual|KHR_xmp.*)$/;

const COMPONENT_BYTES = { 5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4 } as const;
export const TYPE_WIDTH = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 } as const;

/** Most bytes of all accessors that are read, together. */
const MOST_BYTES = 2 ** 32;
/** Most elements of an accessor that has no bytes of its own, all 0. */
const MOST_EMPTY = 1_000_000;

/**
 * Opens a GLB, or a glTF text with its buffers inside it or among `resources` (by file name).
 * @throws FormatError with the path of what is wrong
 */
export function openGltf(bytes: Uint8Array, resources: ReadonlyMap<string, Uint8Array>): CheckedFile {
  const { text, binary } = partsOf(bytes);
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (error) {
    const place = /at position \d+|line \d+ column \d+/.exec((error as Error).message)?.[0];
    throw new FormatError(`its text is not JSON${place ? ` (${place})` : ''}. Was the file cut short or changed?`);
  }
  const result = file.safeParse(data);
  if (!result.success) throw new FormatError(wrongShape(result.error));
  const json = result.data;
  if (!json.asset.version.startsWith('2.') || (json.asset.minVersion ?? '2.0') !== '2.0')
    throw new FormatError(`it is glTF ${json.asset.minVersion ?? json.asset.version}; glTF 2.0 can be read.`);
  const needed = json.extensionsRequired.find((name) => !HARMLESS.test(name));
  if (needed)
    throw new FormatError(
      `it cannot be read without the extension "${needed.slice(0, 60)}", which is not known here. Write it without.`,
    );
  const buffers = json.buffers.map((_, i) => bufferOf(json, i, binary, resources));
  checkReferences(json);
  json.bufferViews.forEach((view, i) => {
    if (view.byteOffset + view.byteLength > json.buffers[view.buffer].byteLength)
      throw new FormatError(`bufferViews[${i}] reaches beyond its buffer. Was the file cut short?`);
  });
  json.accessors.forEach((a, i) => {
    checkAccessor(json, a, `accessors[${i}]`);
    checkSparse(json, buffers, a, `accessors[${i}]`);
  });
  return { json, buffers, resources };
}

/** The text and the bytes of a GLB (glTF 2.0, 4.4), or the text alone. */
function partsOf(bytes: Uint8Array): { text: string; binary: Uint8Array | undefined } {
  const decoder = new TextDecoder();
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 4 || view.getUint32(0, true) !== 0x46546c67) return { text: decoder.decode(bytes), binary: undefined };
  if (bytes.length < 12) throw new FormatError('it ends in its header. Was the file cut short?');
  if (view.getUint32(4, true) !== 2)
    throw new FormatError(`it is a GLB of version ${view.getUint32(4, true)}; version 2 can be read.`);
  let text: string | undefined;
  for (let at = 12, number = 0; at + 8 <= bytes.length; number++) {
    const length = view.getUint32(at, true);
    const kind = view.getUint32(at + 4, true);
    if (at + 8 + length > bytes.length)
      throw new FormatError(
        `part ${number} says ${length} bytes, but only ${bytes.length - at - 8} follow. Was the file cut short?`,
      );
    const part = bytes.subarray(at + 8, at + 8 + length);
    if (number === 0) {
      if (kind !== 0x4e4f534a) throw new FormatError('its first part is not text.');
      text = decoder.decode(part);
    } else if (kind === 0x004e4942) return { text: text as string, binary: part };
    at += 8 + length;
  }
  if (text === undefined) throw new FormatError('it ends in its header. Was the file cut short?');
  return { text, binary: undefined };
}

function bufferOf(
  { buffers }: GltfFile,
  i: number,
  binary: Uint8Array | undefined,
  resources: ReadonlyMap<string, Uint8Array>,
): Uint8Array<ArrayBuffer> {
  const { uri, byteLength } = buffers[i];
  let bytes: Uint8Array | undefined;
  if (uri === undefined) {
    if (i > 0 || !binary) throw new FormatError(`buffers[${i}] has no bytes: neither a uri nor a part of a GLB.`);
    bytes = binary;
  } else if (uri.startsWith('data:')) {
    bytes = embedded(uri);
    if (!bytes) throw new FormatError(`buffers[${i}] is written in its uri, but not as base64.`);
  } else {
    bytes = fileOf(uri, resources);
    if (!bytes)
      throw new FormatError(`buffers[${i}] is in the file "${uri.slice(0, 200)}". Choose both files together, or use a GLB.`);
  }
  if (bytes.length < byteLength)
    throw new FormatError(`buffers[${i}] says ${byteLength} bytes, but there are ${bytes.length}. Was the file cut short?`);
  return new Uint8Array(bytes);
}

/** The bytes in a data uri, or undefined when they are not base64. */
export function embedded(uri: string): Uint8Array | undefined {
  try {
    const text = atob(
      uri.slice(uri.indexOf(',') + 1).replace(/%([0-9a-f]{2})/gi, (_, hex: string) => String.fromCharCode(parseInt(hex, 16))),
    );
    const bytes = new Uint8Array(text.length);
    for (let i = 0; i < bytes.length; i++) bytes[i] = text.charCodeAt(i);
    return bytes;
  } catch {
    return undefined;
  }
}

/** The file a uri names: as it is written, with its escapes read, without `./`, or by its last part alone. */
export function fileOf(uri: string, resources: ReadonlyMap<string, Uint8Array>): Uint8Array | undefined {
  const plain = (name: string) =>
    name
      .normalize('NFC')
      .replaceAll('\\', '/')
      .replace(/^(\.\/)+/, '');
  const last = (name: string) => plain(name).replace(/^.*\//, '');
  let read = uri;
  try {
    read = decodeURIComponent(uri);
  } catch {
    // Not escaped: a name with a percent sign.
  }
  const found = (of: (name: string) => string) =>
    [...resources].find(([name]) => of(name) === of(read) || of(name) === of(uri))?.[1];
  return resources.get(uri) ?? found(plain) ?? found(last);
}

function checkReferences(json: GltfFile): void {
  const check = (path: string, i: number | undefined, list: keyof GltfFile) => {
    const { length } = (json[list] ?? []) as readonly unknown[];
    if (i !== undefined && i >= length) throw new FormatError(`${path} names ${list}[${i}], but there are ${length}.`);
  };
  json.bufferViews.forEach((v, i) => check(`bufferViews[${i}]`, v.buffer, 'buffers'));
  json.accessors.forEach((a, i) => {
    check(`accessors[${i}]`, a.bufferView, 'bufferViews');
    check(`accessors[${i}].sparse.indices`, a.sparse?.indices.bufferView, 'bufferViews');
    check(`accessors[${i}].sparse.values`, a.sparse?.values.bufferView, 'bufferViews');
  });
  json.meshes.forEach((m, i) =>
    m.primitives.forEach((p, k) => {
      const path = `meshes[${i}].primitives[${k}]`;
      check(`${path}.indices`, p.indices, 'accessors');
      check(`${path}.material`, p.material, 'materials');
      for (const [name, a] of Object.entries(p.attributes)) check(`${path}.${name}`, a, 'accessors');
    }),
  );
  json.nodes.forEach((n, i) => {
    check(`nodes[${i}].mesh`, n.mesh, 'meshes');
    check(`nodes[${i}].skin`, n.skin, 'skins');
    n.children.forEach((c) => check(`nodes[${i}].children`, c, 'nodes'));
  });
  json.skins.forEach((s, i) => {
    check(`skins[${i}].inverseBindMatrices`, s.inverseBindMatrices, 'accessors');
    s.joints.forEach((j) => check(`skins[${i}].joints`, j, 'nodes'));
  });
  json.materials.forEach((m, i) =>
    check(`materials[${i}].pbrMetallicRoughness.baseColorTexture`, m.pbrMetallicRoughness?.baseColorTexture?.index, 'textures'),
  );
  json.textures.forEach((t, i) => check(`textures[${i}]`, t.source, 'images'));
  json.images.forEach((m, i) => check(`images[${i}]`, m.bufferView, 'bufferViews'));
  json.scenes?.forEach((s, i) => s.nodes.forEach((n) => check(`scenes[${i}]`, n, 'nodes')));
  if (json.scenes?.length) check('scene', json.scene, 'scenes');
  json.animations.slice(0, 1).forEach((a, i) => {
    a.samplers.forEach((s, k) => {
      check(`animations[${i}].samplers[${k}].input`, s.input, 'accessors');
      check(`animations[${i}].samplers[${k}].output`, s.output, 'accessors');
    });
    a.channels.forEach((c, k) => {
      check(`animations[${i}].channels[${k}].target`, c.target.node, 'nodes');
      if (c.sampler >= a.samplers.length)
        throw new FormatError(`animations[${i}].channels[${k}] names sampler ${c.sampler}, but there are ${a.samplers.length}.`);
    });
  });
}

const sizeOf = ({ componentType, type }: GltfAccessor) => COMPONENT_BYTES[componentType] * TYPE_WIDTH[type];

function checkAccessor(json: GltfFile, a: GltfAccessor, path: string): void {
  const holds = (view: number | undefined, byteOffset: number, count: number, size: number, stride = size) =>
    view !== undefined && (count === 0 || byteOffset + (count - 1) * stride + size <= json.bufferViews[view].byteLength);
  const tooMany = () => new FormatError(`${path} says ${a.count} elements, which is more than its buffer view holds.`);
  const size = sizeOf(a);
  if (a.bufferView !== undefined) {
    const stride = json.bufferViews[a.bufferView].byteStride ?? size;
    if (stride < size) throw new FormatError(`${path}: its elements of ${size} bytes overlap, ${stride} apart.`);
    if (!holds(a.bufferView, a.byteOffset, a.count, size, stride)) throw tooMany();
  } else if (a.count > MOST_EMPTY) {
    throw new FormatError(`${path} says ${a.count} elements, but the file has no bytes for them.`);
  }
  if (!a.sparse) return;
  const { count, indices, values } = a.sparse;
  const indexBytes = COMPONENT_BYTES[indices.componentType];
  if (
    count > a.count ||
    !holds(indices.bufferView, indices.byteOffset, count, indexBytes) ||
    !holds(values.bufferView, values.byteOffset, count, size)
  )
    throw new FormatError(`${path}.sparse says ${count} elements, which is more than there are.`);
}

/** The elements that a sparse part replaces are in order and among those that there are (glTF 2.0, 3.6.2.3). */
function checkSparse(json: GltfFile, buffers: readonly Uint8Array[], a: GltfAccessor, path: string): void {
  if (!a.sparse || a.sparse.count === 0) return;
  const { count, indices } = a.sparse;
  const view = json.bufferViews[indices.bufferView];
  const bytes = buffers[view.buffer];
  const data = new DataView(bytes.buffer, bytes.byteOffset + view.byteOffset + indices.byteOffset);
  const size = COMPONENT_BYTES[indices.componentType];
  const at = (i: number) =>
    size === 1 ? data.getUint8(i) : size === 2 ? data.getUint16(i * 2, true) : data.getUint32(i * 4, true);
  for (let i = 0, before = -1; i < count; i++) {
    const element = at(i);
    if (element >= a.count)
      throw new FormatError(`${path}.sparse replaces element ${element}, but there are ${a.count}, from 0 on.`);
    if (element <= before) throw new FormatError(`${path}.sparse replaces element ${element} after ${before}; they must rise.`);
    before = element;
  }
}

/** How many bytes the accessors hold once they are read. @throws FormatError when it is more than can be held */
export function checkBytes(json: GltfFile, accessors: Iterable<number>): void {
  let bytes = 0;
  for (const i of accessors) bytes += json.accessors[i].count * sizeOf(json.accessors[i]);
  if (bytes > MOST_BYTES)
    throw new FormatError(`it holds ${(bytes / 2 ** 30).toFixed(1)} GB of numbers; ${MOST_BYTES / 2 ** 30} GB can be read.`);
}

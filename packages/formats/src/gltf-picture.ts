import { ImageUtils } from '@gltf-transform/core';
import { grouped, PICTURE_TYPES, type SurfacePicture } from '@umberfish/core';
import { embedded, fileOf, type CheckedFile, type GltfFile } from './gltf-file.ts';

type PictureUse = NonNullable<NonNullable<GltfFile['materials'][number]['pbrMetallicRoughness']>['baseColorTexture']>;

/** Larger pictures are left out: most cards refuse them. Pixels either way. */
export const MOST_PIXELS = 16_384;

/** Pictures of a glTF file, each read once. What cannot be read is told, and the mesh goes without it. */
export class PictureReader {
  private readonly known = new Map<number, SurfacePicture | string>();

  constructor(
    private readonly file: CheckedFile,
    private readonly notes: Set<string>,
  ) {}

  /** The picture of a material; undefined, with a note, where there is none that can be used. */
  read({ index, texCoord, extensions }: PictureUse, material: string): SurfacePicture | undefined {
    const { source } = this.file.json.textures[index];
    const picture = source === undefined ? 'it is of a kind that is not read' : this.image(source);
    const leftOut = (why: string) => void this.notes.add(`${material}: its picture was left out, ${why}.`);
    if (typeof picture === 'string') return leftOut(picture);
    if (texCoord > 0) return leftOut('since it lies by other uvs than the first');
    if ('KHR_texture_transform' in extensions)
      this.notes.add(`${material}: its picture lies as its uvs tell; what else moves it was left out.`);
    return picture;
  }

  private image(number: number): SurfacePicture | string {
    let picture = this.known.get(number);
    if (picture === undefined) this.known.set(number, (picture = this.readImage(number)));
    return picture;
  }

  /** The picture, or why there is none. */
  private readImage(number: number): SurfacePicture | string {
    const { json, buffers, resources } = this.file;
    const { uri, bufferView } = json.images[number];
    let bytes: Uint8Array | undefined;
    if (bufferView !== undefined) {
      const { buffer, byteOffset, byteLength } = json.bufferViews[bufferView];
      bytes = buffers[buffer].slice(byteOffset, byteOffset + byteLength);
    } else if (uri?.startsWith('data:')) {
      bytes = embedded(uri);
    } else if (uri !== undefined) {
      bytes = fileOf(uri, resources);
      if (!bytes) return `since it is in the file "${uri.slice(0, 200)}"; choose both files together, or use a GLB`;
    }
    return bytes ? pictureFrom(bytes) : 'since it has no bytes';
  }
}

/** A picture of the bytes of a file, or why it is none. */
function pictureFrom(bytes: Uint8Array): SurfacePicture | string {
  const mime = ImageUtils.getMimeType(bytes);
  const type = PICTURE_TYPES.find((t) => t === mime);
  if (!type) return 'since it is neither PNG nor JPEG';
  let size: readonly number[] | null = null;
  try {
    size = ImageUtils.getSize(bytes, type);
  } catch {
    // Cut short within its header.
  }
  if (!size || !size.every((s) => s > 0)) return 'since its file is broken';
  if (Math.max(...size) > MOST_PIXELS)
    return `since it is ${size.map(grouped).join(' × ')} pixels large; ${grouped(MOST_PIXELS)} either way can be used`;
  return { type, bytes };
}

import { useThree } from '@react-three/fiber';
import { useEffect, useState } from 'react';
import { RepeatWrapping, SRGBColorSpace, Texture } from 'three';
import type { PictureTopology } from '../../engine/protocol.ts';
import { remarked } from '../../state/ui-slice.ts';
import { store } from '../../state/store.ts';

/** A larger picture is drawn smaller; pixels either way. */
const MOST_DRAWN = 4096;
/** So many are kept for meshes that come back. */
const MOST_KEPT = 64;

type Picture = NonNullable<PictureTopology['materials'][number]['picture']>;

/** Pictures by their content, each sent to the card once. */
const kept = new Map<string, Promise<Texture | undefined>>();

/** How many pictures were drawn so far, for tests. */
export const drawnPictures = { count: 0 };

const NONE: ReadonlyMap<string, Texture> = new Map();

/** The pictures of a mesh's materials by id, as soon as they can be drawn. */
export function usePictures({ materials }: PictureTopology): ReadonlyMap<string, Texture> {
  const invalidate = useThree((s) => s.invalidate);
  const [pictures, setPictures] = useState(NONE);
  useEffect(() => {
    const wanted = materials.flatMap((m) => m.picture ?? []);
    let wants = wanted.length > 0;
    if (!wants) return setPictures(NONE);
    void Promise.all(wanted.map(async (p) => [p.id, await textureOf(p)] as const)).then((read) => {
      if (wants) setPictures(new Map(read.flatMap(([id, texture]) => (texture ? [[id, texture] as const] : []))));
      invalidate();
    });
    return () => void (wants = false);
  }, [materials, invalidate]);
  return pictures;
}

function textureOf(picture: Picture): Promise<Texture | undefined> {
  const known = kept.get(picture.id);
  if (known) return known;
  const made = makeTexture(picture);
  kept.set(picture.id, made);
  if (kept.size > MOST_KEPT) {
    const [oldest, texture] = [...kept][0];
    kept.delete(oldest);
    void texture.then((t) => t?.dispose());
  }
  return made;
}

/** Undefined, and told, where the browser cannot read it: the mesh is then drawn in its colour. */
async function makeTexture({ type, bytes }: Picture): Promise<Texture | undefined> {
  try {
    const blob = new Blob([bytes.slice()], { type });
    const plain = await createImageBitmap(blob, { imageOrientation: 'flipY', premultiplyAlpha: 'none' });
    const texture = new Texture(plain.width > MOST_DRAWN || plain.height > MOST_DRAWN ? await smaller(plain) : plain);
    texture.flipY = false;
    texture.colorSpace = SRGBColorSpace;
    texture.wrapS = texture.wrapT = RepeatWrapping;
    texture.needsUpdate = true;
    drawnPictures.count++;
    return texture;
  } catch {
    const text = 'A picture of a material cannot be read by this browser; the mesh is drawn in its colour instead.';
    store.dispatch(remarked({ text, kind: 'wrong' }));
    return undefined;
  }
}

async function smaller(plain: ImageBitmap): Promise<ImageBitmap> {
  const scale = MOST_DRAWN / Math.max(plain.width, plain.height);
  const made = await createImageBitmap(plain, {
    resizeWidth: Math.max(1, Math.round(plain.width * scale)),
    resizeHeight: Math.max(1, Math.round(plain.height * scale)),
    resizeQuality: 'medium',
  });
  plain.close();
  return made;
}

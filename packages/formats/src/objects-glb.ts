import { Document, type Accessor, type Mesh as GltfMesh, type Node } from '@gltf-transform/core';
import {
  factorise,
  quaternionFromRotation,
  samplesNeeded,
  halfTurnBetween,
  type Mesh,
  type ObjectSamples,
  type Quaternion,
  largest,
} from '@umberfish/core';
import { addSkin, type WrittenSkin } from './gltf-skin-write.ts';
import { addMesh, finish } from './gltf-write.ts';
import { FormatError } from './imported.ts';

/** A written file, and what it could not hold, each a sentence. */
export interface WrittenObjects {
  readonly bytes: Uint8Array;
  readonly notes: readonly string[];
}

/**
 * Writes objects with what they hang under as nodes of one GLB, metres, y up, and their motion as samples of translate,
 * rotate and scale; samples that lie on the straight way between others are left out. Shear has no place in the format
 * and is told in the notes.
 * @param frames those of the samples. @param meshes by object; one of several objects is written once.
 * @param skins meshes that joints among the objects move: written as they rest, with weights.
 * @throws FormatError when something is not finite
 */
export async function writeObjectsGlb(
  samples: readonly ObjectSamples[],
  frames: readonly number[],
  frameRate: number,
  meshes: ReadonlyMap<string, Mesh>,
  skins: readonly WrittenSkin[] = [],
): Promise<WrittenObjects> {
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene('Scene');
  const animation = frames.length > 1 ? document.createAnimation('Motion') : undefined;
  const nodes = new Map<string, Node>();
  const notes: string[] = [];
  // The first frame is at 0 seconds, so that the file begins with the motion.
  const seconds = frames.map((f) => (f - frames[0]) / frameRate);
  const accessor = (type: 'SCALAR' | 'VEC3' | 'VEC4', data: Float32Array): Accessor =>
    document
      .createAccessor()
      .setType(type)
      .setArray(data as Float32Array<ArrayBuffer>)
      .setBuffer(buffer);
  const written = new Map<Mesh, GltfMesh | null>();
  const made = (mesh: Mesh, name: string): GltfMesh | null => {
    const known = written.get(mesh);
    if (known !== undefined) return known;
    const fresh = addMesh(document, buffer, name, mesh);
    written.set(mesh, fresh);
    return fresh;
  };
  for (const { object, parent, matrices } of samples) {
    const node = document.createNode(object.name);
    nodes.set(object.id, node);
    const above = parent === null ? undefined : nodes.get(parent);
    if (above) above.addChild(node);
    else scene.addChild(node);
    const mesh = meshes.get(object.id);
    if (mesh) node.setMesh(made(mesh, object.name));
    const bad = matrices.findIndex((m) => !m.every(Number.isFinite));
    if (bad >= 0)
      throw new FormatError(`"${object.name}" at frame ${frames[bad]}: its matrix is not finite, and files hold only such.`);
    const factors = matrices.map((m) => factorise(m));
    const shear = largest(factors.flatMap((f) => f.shear.map(Math.abs)));
    if (shear > 1e-6) notes.push(`"${object.name}" is sheared by up to ${shear.toPrecision(2)}; GLB has no place for that.`);
    const rotations = alongside(factors.map((f) => quaternionFromRotation(f.rotation)));
    node
      .setTranslation([...factors[0].translate])
      .setScale([...factors[0].scale])
      .setRotation([...rotations[0]]);
    if (!animation) continue;
    const parts = [
      { path: 'translation', type: 'VEC3', values: factors.map((f) => f.translate), away: straight },
      {
        path: 'rotation',
        type: 'VEC4',
        values: rotations,
        away: shortest,
      },
      { path: 'scale', type: 'VEC3', values: factors.map((f) => f.scale), away: straight },
    ] satisfies { path: string; type: string; values: readonly (readonly number[])[]; away: Away }[];
    for (const { path, type, values, away } of parts) {
      const size = largest(
        values.flatMap((v) => v.map(Math.abs)),
        1e-9,
      );
      const kept = samplesNeeded(seconds, (a, b) => away(values[a], values[b]), size * 1e-7);
      // What never changes stands in the node alone.
      if (kept.length === 2 && values[kept[0]].every((v, k) => Math.abs(v - values[kept[1]][k]) < 1e-12)) continue;
      const sampler = document
        .createAnimationSampler()
        .setInterpolation('LINEAR')
        .setInput(
          accessor(
            'SCALAR',
            Float32Array.from(kept, (i) => seconds[i]),
          ),
        )
        .setOutput(accessor(type as 'VEC3', Float32Array.from(kept.flatMap((i) => [...values[i]]))));
      const channel = document
        .createAnimationChannel()
        .setTargetNode(node)
        .setTargetPath(path as 'scale')
        .setSampler(sampler);
      animation.addSampler(sampler).addChannel(channel);
    }
  }
  for (const skin of skins) notes.push(...addSkin(document, buffer, scene, nodes, skin));
  if (animation?.listChannels().length === 0) animation.dispose();
  return { bytes: await finish(document, buffer, scene), notes };
}

type Away = (a: readonly number[], b: readonly number[]) => readonly number[] | undefined;
const straight: Away = (a, b) => b.map((v, k) => v - a[k]);

/** The short way between rotations; of a third of a turn and more it is not relied on, since rounding may turn it round. */
const shortest: Away = (a, b) => {
  const half = halfTurnBetween(a as unknown as Quaternion, b as unknown as Quaternion);
  return Math.hypot(...half) > Math.PI / 3 ? undefined : half;
};

/** Quaternions with the sign that keeps each beside the one before: the way between them is then the short one. */
function alongside(all: readonly Quaternion[]): Quaternion[] {
  const out: Quaternion[] = [];
  for (const q of all) {
    const before = out[out.length - 1] as Quaternion | undefined;
    const cosine = before ? before.reduce((s, v, i) => s + v * q[i], 0) : 1;
    out.push(cosine < 0 ? [-q[0], -q[1], -q[2], -q[3]] : q);
  }
  return out;
}

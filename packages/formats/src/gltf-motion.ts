import type { Animation, AnimationChannel, Document, Node } from '@gltf-transform/core';
import {
  assemble,
  identity,
  rotationFromQuaternion,
  slerp,
  type Matrix,
  type Quaternion,
  type Vec3,
} from '@umberfish/core';
import type { ImportedMotion, ImportedObject } from './imported.ts';

/** Most moments of one object's motion. */
const MOST_MOMENTS = 100_000;

/**
 * The nodes of a file as objects, parents first, with their motion: matrices at all moments at which one of their
 * samplers has a value. Cubic samplers are read at their values and go straight between them.
 */
export function hierarchyOf(
  document: Document,
  meshes: ReadonlyMap<Node, number>,
  notes: Set<string>,
): ImportedObject[] {
  const objects: ImportedObject[] = [];
  const animation: Animation | undefined = document.getRoot().listAnimations()[0];
  if (document.getRoot().listAnimations().length > 1)
    notes.add('Only the first animation of the file was read.');
  const channels = new Map<Node, AnimationChannel[]>();
  for (const c of animation?.listChannels() ?? []) {
    const node = c.getTargetNode();
    if (node) channels.set(node, [...(channels.get(node) ?? []), c]);
  }
  const visit = (node: Node, parent: number | null, depth: number) => {
    if (depth > 500) return;
    const mine = channels.get(node) ?? [];
    const number = objects.push({
      name: node.getName() || 'Object',
      parent,
      mesh: meshes.get(node) ?? null,
      matrix: finite(Float64Array.from(node.getMatrix())),
      motion: motionOf(node, mine, notes),
    });
    for (const child of node.listChildren()) visit(child, number - 1, depth + 1);
  };
  for (const scene of document.getRoot().listScenes().slice(0, 1))
    for (const node of scene.listChildren()) visit(node, null, 0);
  return objects;
}

const finite = (m: Matrix): Matrix => (m.every(Number.isFinite) ? m : identity());

/** Numbers over time. */
interface Sampled {
  readonly times: ArrayLike<number>;
  readonly values: ArrayLike<number>;
  readonly width: 3 | 4;
  readonly steps: boolean;
}

function motionOf(
  node: Node,
  channels: readonly AnimationChannel[],
  notes: Set<string>,
): ImportedMotion | null {
  const parts: Partial<Record<string, Sampled>> = {};
  for (const c of channels) {
    const path = c.getTargetPath();
    const sampler = c.getSampler();
    const times = sampler?.getInput()?.getArray();
    const all = sampler?.getOutput()?.getArray();
    if (!times || !all || !path || times.length === 0) continue;
    if (path === 'weights') {
      notes.add(`${node.getName()}: morph targets were left out.`);
      continue;
    }
    const width = path === 'rotation' ? 4 : 3;
    const cubic = sampler?.getInterpolation() === 'CUBICSPLINE';
    if (cubic)
      notes.add(`${node.getName()}: its curves were read at their keys and go straight between them.`);
    const values = cubic ? middles(all, width) : all;
    if (values.length < times.length * width) {
      notes.add(`${node.getName()}: a ${path} with too few values was left out.`);
      continue;
    }
    parts[path] = { times, values, width, steps: sampler?.getInterpolation() === 'STEP' };
  }
  const sampled = Object.values(parts).filter((p) => p !== undefined);
  if (sampled.length === 0) return null;
  const all = [...new Set(sampled.flatMap((p) => Array.from(p.times)))].filter(Number.isFinite);
  const seconds = withTurns(all.sort((a, b) => a - b), parts.rotation).slice(0, MOST_MOMENTS); // prettier-ignore
  const matrices = seconds.map((t) => {
    const translate = (parts.translation
      ? at(parts.translation, t)
      : node.getTranslation()) as unknown as Vec3;
    const scale = (parts.scale ? at(parts.scale, t) : node.getScale()) as unknown as Vec3;
    const q = (parts.rotation ? at(parts.rotation, t) : node.getRotation()) as unknown as Quaternion;
    return finite(assemble({ translate, rotation: rotationFromQuaternion(q), scale, shear: [0, 0, 0] }));
  });
  return { seconds, matrices, steps: sampled.every((p) => p.steps) };
}

/** Moments with others between them where it turns far, so that no step turns by more than this. */
const MOST_TURN = Math.PI / 18;

function withTurns(seconds: readonly number[], rotation: Sampled | undefined): number[] {
  if (!rotation || rotation.steps) return [...seconds];
  return seconds.flatMap((t, i) => {
    const next = seconds[i + 1];
    if (next === undefined) return [t];
    const [a, b] = [at(rotation, t), at(rotation, next)];
    const cosine = Math.abs(a.reduce((sum, v, k) => sum + v * b[k], 0));
    const turns = Math.min(60, Math.ceil((2 * Math.acos(Math.min(1, cosine))) / MOST_TURN));
    return Array.from({ length: Math.max(1, turns) }, (_, k) => t + ((next - t) * k) / Math.max(1, turns));
  });
}

/** Of cubic samplers, the values without their tangents. */
function middles(all: ArrayLike<number>, width: number): Float32Array {
  const count = Math.floor(all.length / (width * 3));
  const out = new Float32Array(count * width);
  for (let i = 0; i < count; i++)
    for (let k = 0; k < width; k++) out[i * width + k] = all[(i * 3 + 1) * width + k];
  return out;
}

/** Values at a moment: straight between two, rotations the shortest way, or held. */
function at({ times, values, width, steps }: Sampled, t: number): number[] {
  let i = 0;
  while (i < times.length - 1 && times[i + 1] <= t) i++;
  const value = (n: number) => Array.from({ length: width }, (_, k) => values[n * width + k]);
  const next = Math.min(i + 1, times.length - 1);
  const span = times[next] - times[i];
  const part = steps || span <= 0 ? 0 : Math.max(0, Math.min(1, (t - times[i]) / span));
  const [a, b] = [value(i), value(next)];
  if (width === 4) return [...slerp(a as unknown as Quaternion, b as unknown as Quaternion, part)];
  return a.map((v, k) => v + (b[k] - v) * part);
}

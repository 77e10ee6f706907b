import { counted, grouped, slerp, type Quaternion } from '@umberfish/core';
import type { Accessors, GltfFile, GltfNode } from './gltf-file.ts';
import { localOf } from './gltf-scene.ts';
import type { ImportedMotion } from './imported.ts';

/** Most moments of one object's motion. */
const MOST_MOMENTS = 100_000;

const WIDTHS = { translation: 3, rotation: 4, scale: 3 } as const;
type Path = keyof typeof WIDTHS;

/** Numbers over time: rising seconds, and a vector for each. */
interface Sampled {
  readonly times: Float64Array;
  readonly values: Float64Array;
  readonly width: number;
  readonly steps: boolean;
}

/**
 * How nodes move, by number: matrices at all moments at which one of their samplers has a value. Cubic samplers are
 * read at their values and go straight between them. Only the first animation is read.
 */
export function motionsOf(json: GltfFile, accessors: Accessors, notes: Set<string>): Map<number, ImportedMotion> {
  const { animations, nodes } = json;
  if (animations.length > 1) notes.add('Only the first animation of the file was read.');
  const parts = new Map<number, Partial<Record<Path, Sampled>>>();
  for (const { sampler, target } of animations[0]?.channels ?? []) {
    if (target.node === undefined) continue;
    const name = nodes[target.node].name || 'Object';
    if (!Object.hasOwn(WIDTHS, target.path)) {
      notes.add(
        target.path === 'weights'
          ? `${name}: morph targets were left out.`
          : `${name}: how its "${target.path.slice(0, 40)}" changes was left out.`,
      );
      continue;
    }
    const path = target.path as Path;
    const read = sampledOf(animations[0].samplers[sampler], path, accessors, name, notes);
    if (read) parts.set(target.node, { ...parts.get(target.node), [path]: read });
  }
  return new Map([...parts].map(([number, of]) => [number, motionOf(nodes[number], of, notes)]));
}

/** The values of a sampler; undefined, with a note, for what cannot be one. */
function sampledOf(
  { input, output, interpolation }: GltfFile['animations'][number]['samplers'][number],
  path: Path,
  accessors: Accessors,
  name: string,
  notes: Set<string>,
): Sampled | undefined {
  const width = WIDTHS[path];
  const cubic = interpolation === 'CUBICSPLINE';
  const [from, to] = [accessors.get(input), accessors.get(output)];
  const all = from?.getCount() ?? 0;
  if (!from || !to || all === 0 || to.getElementSize() !== width || to.getCount() < all * (cubic ? 3 : 1)) {
    notes.add(`${name}: a ${path} with too few values was left out.`);
    return undefined;
  }
  if (cubic) notes.add(`${name}: its curves were read at their keys and go straight between them.`);
  if (all > MOST_MOMENTS)
    notes.add(`${name}: of ${counted(all, 'key')} of its ${path} the first ${grouped(MOST_MOMENTS)} were read.`);
  const times = new Float64Array(Math.min(all, MOST_MOMENTS));
  const values = new Float64Array(times.length * width);
  const element: number[] = [];
  let count = 0;
  for (let i = 0; i < times.length; i++) {
    const t = from.getElement(i, element)[0];
    to.getElement(cubic ? i * 3 + 1 : i, element);
    const length = path === 'rotation' ? Math.hypot(...element) : 1;
    if (!Number.isFinite(t) || !(length > 0) || !element.every((v) => Number.isFinite(v / length))) continue;
    if (count > 0 && t <= times[count - 1]) continue;
    times[count] = t;
    for (let k = 0; k < width; k++) values[count * width + k] = element[k] / length;
    count++;
  }
  if (count < times.length)
    notes.add(`${name}: left out ${counted(times.length - count, 'key')} of its ${path}, not finite or not in order.`);
  if (count === 0) return undefined;
  return { times: times.subarray(0, count), values: values.subarray(0, count * width), width, steps: interpolation === 'STEP' };
}

function motionOf(node: GltfNode, parts: Partial<Record<Path, Sampled>>, notes: Set<string>): ImportedMotion {
  const sampled = Object.values(parts);
  const seconds = momentsOf(sampled, parts.rotation);
  if (seconds.length > MOST_MOMENTS) {
    notes.add(
      `${node.name || 'Object'}: of ${counted(seconds.length, 'moment')} of its motion the first ${grouped(MOST_MOMENTS)} were read.`,
    );
    seconds.length = MOST_MOMENTS;
  }
  const translate = follow(parts.translation, node.translation);
  const rotate = follow(parts.rotation, node.rotation);
  const scale = follow(parts.scale, node.scale);
  const still = localOf(node.translation, node.rotation, node.scale) ?? localOf([0, 0, 0], [0, 0, 0, 1], [1, 1, 1]);
  let last = still as Float64Array;
  const matrices = seconds.map((t) => (last = localOf(translate(t), rotate(t), scale(t)) ?? last));
  return { seconds, matrices, steps: sampled.every((p) => p.steps) };
}

/** Moments with others between them where it turns far, so that no step turns by more than this. */
const MOST_TURN = Math.PI / 18;

/** All moments of the parts, in order, with those between. */
function momentsOf(sampled: readonly Sampled[], rotation: Sampled | undefined): number[] {
  const seconds = [...new Set(sampled.flatMap((p) => Array.from(p.times)))].sort((a, b) => a - b);
  if (!rotation || rotation.steps) return seconds;
  const turn = follow(rotation, []);
  const turns = seconds.map(turn);
  return seconds.flatMap((t, i) => {
    const next = seconds[i + 1];
    if (next === undefined) return [t];
    const cosine = Math.abs(turns[i].reduce((sum, v, k) => sum + v * turns[i + 1][k], 0));
    const steps = Math.max(1, Math.min(60, Math.ceil((2 * Math.acos(Math.min(1, cosine))) / MOST_TURN)));
    return Array.from({ length: steps }, (_, k) => t + ((next - t) * k) / steps);
  });
}

/**
 * Values at moments that are asked for in order: straight between two, rotations the shortest way, or held; without
 * samples the value that stands.
 */
function follow(sampled: Sampled | undefined, still: readonly number[]): (t: number) => readonly number[] {
  if (!sampled) return () => still;
  const { times, values, width, steps } = sampled;
  const value = (n: number) => Array.from(values.subarray(n * width, (n + 1) * width));
  let i = 0;
  return (t) => {
    while (i < times.length - 1 && times[i + 1] <= t) i++;
    const a = value(i);
    const next = i + 1;
    if (steps || next === times.length || t <= times[i]) return a;
    const part = (t - times[i]) / (times[next] - times[i]);
    const b = value(next);
    if (width === 4) return slerp(a as unknown as Quaternion, b as unknown as Quaternion, part);
    return a.map((v, k) => v + (b[k] - v) * part);
  };
}

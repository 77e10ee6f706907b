import {
  counted,
  identity,
  invert,
  multiply,
  product,
  weightName,
  type Attribute,
  type Matrix,
  type Topology,
} from '@umberfish/core';
import type { Accessors, GltfFile, GltfPrimitive } from './gltf-file.ts';
import type { PlacedNode } from './gltf-scene.ts';
import type { ImportedObject } from './imported.ts';

/** A file's joints: what they are called here, and where each rests in the world, by number of the node. */
export interface FileJoints {
  readonly names: ReadonlyMap<number, string>;
  readonly rests: ReadonlyMap<number, Matrix>;
}

/** More joints a vertex than two sets of four are not read. */
export const WEIGHT_SETS = ['0', '1'] as const;

/**
 * The joints of a file's skins, with all nodes between them: each has a name of its own, by which weights are known. A
 * joint rests where the skin's inverse bind matrix says; without one, or with one that has no inverse, where its node is.
 */
export function jointsOfFile(
  json: GltfFile,
  placed: readonly PlacedNode[],
  accessors: Accessors,
  notes: Set<string>,
): FileJoints {
  const byNumber = new Map(placed.map((p) => [p.number, p]));
  const rests = new Map<number, Matrix>();
  const joints = new Set<number>();
  let flat = 0;
  let apart = 0;
  for (const skin of json.skins) {
    const bind = skin.inverseBindMatrices === undefined ? undefined : accessors.get(skin.inverseBindMatrices);
    const element: number[] = [];
    skin.joints.forEach((number, i) => {
      if (!byNumber.has(number)) return;
      joints.add(number);
      if (!bind || i >= bind.getCount()) return;
      bind.getElement(i, element);
      const rest = identity();
      if (!element.every(Number.isFinite) || !invert(rest, Float64Array.from(element))) {
        flat++;
        return;
      }
      const known = rests.get(number);
      if (known?.some((v, k) => Math.abs(v - rest[k]) > 1e-4 * Math.max(1, Math.abs(v)))) apart++;
      else rests.set(number, rest);
    });
  }
  if (flat > 0) notes.add(`${counted(flat, 'rest')} of joints cannot be inverted; they rest where their nodes are.`);
  if (apart > 0)
    notes.add(`${counted(apart, 'joint')} of several skins rest at different places; those of the first skin count.`);
  // What stands between two joints is one too, so that chains have no gaps.
  for (const number of [...joints]) {
    const between: number[] = [];
    for (let at = byNumber.get(number)?.parent ?? null; at !== null; at = placed[at].parent) {
      if (joints.has(placed[at].number)) {
        for (const b of between) joints.add(b);
        break;
      }
      between.push(placed[at].number);
    }
  }
  const names = new Map<number, string>();
  const taken = new Set<string>();
  for (const { number, node } of placed) {
    if (!joints.has(number)) continue;
    const wanted = (node.name || `Joint ${number}`).slice(0, 180);
    let name = wanted;
    for (let k = 2; taken.has(weightName(name)); k++) name = `${wanted} ${k}`;
    taken.add(weightName(name));
    names.set(number, name);
    const p = byNumber.get(number) as PlacedNode;
    if (rests.has(number)) continue;
    const above = p.parent === null ? undefined : placed[p.parent];
    const under = above && rests.get(above.number);
    rests.set(number, under ? product(under, p.matrix) : p.world);
  }
  return { names, rests };
}

/**
 * Weights of a mesh's points as attributes, one for each joint that has any; those of the first vertex of a point count.
 * What does not sum to 1 is made to; joints that the skin does not have are left out. Both are told.
 */
export function weightAttributes(
  name: string,
  topology: Topology,
  pointOfVertex: Int32Array,
  parts: readonly { readonly primitive: GltfPrimitive; readonly base: number; readonly count: number }[],
  joints: readonly (string | undefined)[],
  accessors: Accessors,
  notes: Set<string>,
): Attribute[] {
  const columns = new Map<string, Float32Array>();
  const told = new Uint8Array(topology.pointCount);
  const [joint, weight]: number[][] = [[], []];
  let off = 0;
  let strange = 0;
  for (const { primitive, base, count } of parts) {
    const sets = WEIGHT_SETS.flatMap((k) => {
      const [j, w] = [primitive.attributes[`JOINTS_${k}`], primitive.attributes[`WEIGHTS_${k}`]];
      const [from, by] = [j === undefined ? undefined : accessors.get(j), w === undefined ? undefined : accessors.get(w)];
      return from &&
        by &&
        from.getElementSize() === 4 &&
        by.getElementSize() === 4 &&
        from.getCount() >= count &&
        by.getCount() >= count
        ? [{ from, by }]
        : [];
    });
    for (let v = 0; v < count; v++) {
      const p = pointOfVertex[base + v];
      if (told[p]) continue;
      told[p] = 1;
      const mine: [string, number][] = [];
      let sum = 0;
      for (const { from, by } of sets) {
        from.getElement(v, joint);
        by.getElement(v, weight);
        for (let k = 0; k < 4; k++) {
          if (!(weight[k] > 0 && weight[k] < Infinity)) continue;
          const of = joints[joint[k]];
          if (of === undefined) strange++;
          else {
            mine.push([of, weight[k]]);
            sum += weight[k];
          }
        }
      }
      if (mine.length > 0 && Math.abs(sum - 1) > 1e-2) off++;
      for (const [of, w] of mine) {
        let column = columns.get(of);
        if (!column) columns.set(of, (column = new Float32Array(topology.pointCount)));
        column[p] += w / sum;
      }
    }
  }
  if (off > 0) notes.add(`${name}: the weights of ${counted(off, 'point')} did not sum to 1, and were made to.`);
  if (strange > 0)
    notes.add(`${name}: ${counted(strange, 'weight')} named joints that its skin does not have, and were left out.`);
  return [...columns].map(([of, data]) => ({ name: weightName(of), on: 'point', type: 'number', role: 'plain', data }));
}

/**
 * The objects of a file with its joints under chains: a joint that hangs under none gets a chain above it; a mesh with a skin
 * stands by itself, as it fits the joints' rest, since the format says that its own place does not count.
 */
export function withChains(
  objects: readonly ImportedObject[],
  placed: readonly PlacedNode[],
  { names, rests }: FileJoints,
  skins: GltfFile['skins'],
): ImportedObject[] {
  if (names.size === 0) return [...objects];
  const out: ImportedObject[] = [];
  const place: number[] = [];
  const chainOf: (number | undefined)[] = [];
  const skinned: { at: number; skin: number }[] = [];
  objects.forEach((o, i) => {
    const { number, node } = placed[i];
    const parent = o.parent === null ? null : place[o.parent];
    if (!names.has(number)) {
      const hasSkin = o.mesh !== null && node.skin !== undefined && node.skin < skins.length;
      place[i] = out.push({ ...o, parent, ...(hasSkin ? { mesh: null } : {}) }) - 1;
      if (hasSkin) {
        const isLeaf = node.children.length === 0;
        const standing: ImportedObject = { ...o, parent: null, matrix: identity(), motion: null };
        if (isLeaf) out[place[i]] = standing;
        skinned.push({ at: isLeaf ? place[i] : out.push(standing) - 1, skin: node.skin as number });
      }
      return;
    }
    const isTop = o.parent === null || !names.has(placed[o.parent].number);
    let above = parent;
    if (isTop) {
      const world = o.parent === null ? identity() : placed[o.parent].world;
      above =
        out.push({
          name: `${names.get(number) as string} chain`,
          parent,
          mesh: null,
          matrix: identity(),
          motion: null,
          kind: 'chain',
        }) - 1;
      chainOf[above] = above;
      place[i] =
        out.push({
          ...o,
          name: names.get(number) as string,
          parent: above,
          kind: 'joint',
          rest: under(world, rests.get(number)),
        }) - 1;
    } else {
      const rest = under(rests.get(placed[o.parent as number].number) ?? identity(), rests.get(number));
      place[i] = out.push({ ...o, name: names.get(number) as string, parent, kind: 'joint', rest }) - 1;
    }
    chainOf[place[i]] = chainOf[above as number];
  });
  const numberAt = new Map(placed.map((p, i) => [p.number, i]));
  for (const { at, skin } of skinned) {
    const first = skins[skin].joints.map((j) => numberAt.get(j)).find((j) => j !== undefined);
    const chain = first === undefined ? undefined : chainOf[place[first]];
    if (chain !== undefined) out[at] = { ...out[at], chain };
  }
  return out;
}

const under = (above: Matrix, world: Matrix | undefined): Matrix => {
  const back = identity();
  return world && invert(back, above) ? multiply(back, back, world) : Float64Array.from(world ?? identity());
};

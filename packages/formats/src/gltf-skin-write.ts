import type { Buffer, Document, Node, Scene } from '@gltf-transform/core';
import { counted, identity, invert, matrixAt, packWeights, type Chain, type Mesh } from '@umberfish/core';
import { POINT_ATTRIBUTE } from './gltf-read.ts';
import { addMesh } from './gltf-write.ts';

/** A mesh that a chain moves. */
export interface WrittenSkin {
  readonly name: string;
  /** With weights of the joints, where it fits their rest. */
  readonly mesh: Mesh;
  readonly chain: Chain;
  /** The object of each joint of the chain. */
  readonly joints: readonly string[];
}

/** The most weights of a vertex: two sets of four. */
const MOST = 8;

/**
 * Puts a mesh with its skin into a document: joints are nodes that are there, inverse bind matrices those of the chain's
 * rest, and each vertex has the weights of its point, the largest eight, as shares. @returns what the format does not hold
 */
export function addSkin(
  document: Document,
  buffer: Buffer,
  scene: Scene,
  nodes: ReadonlyMap<string, Node>,
  { name, mesh, chain, joints }: WrittenSkin,
): string[] {
  const target = addMesh(document, buffer, name, mesh);
  if (!target) return [];
  const notes = [`"${name}": skins of GLB are linear; by dual quaternions it may look another way.`];
  const inverse = new Float32Array(chain.count * 16);
  const m = identity();
  const skin = document.createSkin(name);
  joints.forEach((id, j) => {
    const node = nodes.get(id);
    if (node) skin.addJoint(node);
    if (!invert(m, matrixAt(chain.rest, j))) m.set(identity());
    inverse.set(m, j * 16);
    // The last row is exact, as the format wants it.
    for (const k of [3, 7, 11]) inverse[j * 16 + k] = 0;
    inverse[j * 16 + 15] = 1;
  });
  skin.setInverseBindMatrices(document.createAccessor().setType('MAT4').setArray(inverse).setBuffer(buffer));
  const packed = packWeights(mesh, chain);
  if (packed.without > 0) notes.push(`"${name}": ${counted(packed.without, 'point')} without weights hang on the first joint.`);
  if (packed.most > MOST) notes.push(`"${name}": of ${packed.most} weights of a point the ${MOST} largest are written.`);
  const sets = packed.most > 4 ? 2 : 1;
  const made = new Map<unknown, { joints: Uint16Array<ArrayBuffer>[]; weights: Float32Array<ArrayBuffer>[] }>();
  const accessors = new Map<unknown, (readonly [string, ReturnType<Document['createAccessor']>])[]>();
  for (const primitive of target.listPrimitives()) {
    const position = primitive.getAttribute('POSITION');
    const points = primitive.getAttribute(POINT_ATTRIBUTE)?.getArray();
    if (!position) continue;
    let all = accessors.get(position);
    if (!all) {
      const count = position.getCount();
      const arrays = weightsOfVertices(packed, count, points ?? undefined, sets);
      made.set(position, arrays);
      all = Array.from({ length: sets }, (_, k) => [
        [`JOINTS_${k}`, document.createAccessor().setType('VEC4').setArray(arrays.joints[k]).setBuffer(buffer)] as const,
        [`WEIGHTS_${k}`, document.createAccessor().setType('VEC4').setArray(arrays.weights[k]).setBuffer(buffer)] as const,
      ]).flat();
      accessors.set(position, all);
    }
    for (const [key, accessor] of all) primitive.setAttribute(key, accessor);
  }
  scene.addChild(document.createNode(name).setMesh(target).setSkin(skin));
  return notes;
}

function weightsOfVertices(
  { starts, joints, weights }: ReturnType<typeof packWeights>,
  count: number,
  points: ArrayLike<number> | undefined,
  sets: number,
) {
  const out = {
    joints: Array.from({ length: sets }, () => new Uint16Array(count * 4)),
    weights: Array.from({ length: sets }, () => new Float32Array(count * 4)),
  };
  const room = sets * 4;
  for (let v = 0; v < count; v++) {
    const p = points ? points[v] : v;
    const mine = Array.from({ length: starts[p + 1] - starts[p] }, (_, k) => starts[p] + k)
      .sort((a, b) => weights[b] - weights[a] || joints[a] - joints[b])
      .slice(0, room);
    const sum = mine.reduce((s, k) => s + weights[k], 0);
    if (!(sum > 0)) {
      out.weights[0][v * 4] = 1;
      continue;
    }
    // The first makes up what rounding takes from the sum.
    let rest = 1;
    for (let i = mine.length - 1; i >= 0; i--) {
      const [set, k] = [i >> 2, v * 4 + (i & 3)];
      out.joints[set][k] = joints[mine[i]];
      out.weights[set][k] = i === 0 ? rest : Math.fround(weights[mine[i]] / sum);
      rest -= out.weights[set][k];
    }
  }
  return out;
}

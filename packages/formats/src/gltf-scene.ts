import {
  assemble,
  counted,
  identity,
  multiply,
  rotationFromQuaternion,
  type Matrix,
  type Quaternion,
  type Vec3,
} from '@umberfish/core';
import type { GltfFile, GltfNode } from './gltf-file.ts';
import { FormatError } from './imported.ts';

/** How deep nodes may hang under one another; most nodes of a file. */
const MOST_DEEP = 500;
const MOST_NODES = 100_000;

/** A node that stands in the scene. */
export interface PlacedNode {
  readonly number: number;
  readonly node: GltfNode;
  /** Place of the one it hangs under in the list, or null. */
  readonly parent: number | null;
  /** Its matrix under its parent, and in the world. */
  readonly matrix: Matrix;
  readonly world: Matrix;
}

/**
 * The nodes of the file's scene, parents first: of the default one, or of the first; where the file has no scenes, all
 * nodes. What is left out is noted. @throws FormatError where a node hangs under itself or in two places
 */
export function sceneOf(json: GltfFile, notes: Set<string>): PlacedNode[] {
  const { nodes, scenes } = json;
  if (nodes.length > MOST_NODES) throw new FormatError(`it has ${nodes.length} nodes; ${MOST_NODES} can be read.`);
  const hanging = new Set(nodes.flatMap((n) => n.children));
  const roots = scenes?.length ? (scenes[json.scene]?.nodes ?? []) : nodes.flatMap((_, i) => (hanging.has(i) ? [] : i));
  const placed: PlacedNode[] = [];
  const seen = new Set<number>();
  let deep = 0;
  // The next one stands last; children are put on in reverse, so that they come in their order.
  const waiting = [...new Set(roots)].reverse().map((number) => ({ number, parent: null as number | null, depth: 0 }));
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    const { number, parent, depth } = next;
    if (seen.has(number))
      throw new FormatError(`nodes[${number}] hangs in two places, or under itself. Each node has one parent.`);
    seen.add(number);
    const node = nodes[number];
    if (depth >= MOST_DEEP) {
      deep++;
    } else {
      const matrix = matrixOf(node, notes);
      const world = parent === null ? matrix : finite(multiply(identity(), placed[parent].world, matrix));
      placed.push({ number, node, parent, matrix, world });
    }
    const at = placed.length - 1;
    for (let i = node.children.length - 1; i >= 0; i--) waiting.push({ number: node.children[i], parent: at, depth: depth + 1 });
  }
  if (deep > 0) notes.add(`Left out: ${counted(deep, 'node')} more than ${MOST_DEEP} deep.`);
  const rest = nodes.length - seen.size;
  const others = (scenes?.length ?? 1) - 1;
  if (rest > 0)
    notes.add(
      `Left out: ${counted(rest, 'node')} outside the scene${others > 0 ? `; the file has ${counted(others, 'more scene')}` : ''}.`,
    );
  return placed;
}

const finite = (m: Matrix): Matrix => (m.every(Number.isFinite) ? m : identity());

function matrixOf({ matrix, translation, rotation, scale, name }: GltfNode, notes: Set<string>): Matrix {
  if (matrix) {
    if (matrix[3] === 0 && matrix[7] === 0 && matrix[11] === 0 && matrix[15] === 1) return Float64Array.from(matrix);
    notes.add(`${name || 'Object'}: its matrix has a last row that is not 0, 0, 0, 1, which was left out.`);
    return Float64Array.from(matrix, (v, i) => (i % 4 < 3 ? v : i === 15 ? 1 : 0));
  }
  const m = localOf(translation, rotation, scale);
  if (m) return m;
  notes.add(`${name || 'Object'}: its turn is not one, and was left out.`);
  return localOf(translation, [0, 0, 0, 1], scale) ?? identity();
}

/** The matrix of a translation, a rotation (quaternion, made of length 1) and a scale; undefined when it is not finite. */
export function localOf(t: readonly number[], q: readonly number[], s: readonly number[]): Matrix | undefined {
  const length = Math.hypot(...q);
  const rotation = rotationFromQuaternion(q.map((v) => v / length) as unknown as Quaternion);
  const m = assemble({
    translate: t as unknown as Vec3,
    rotation,
    scale: s as unknown as Vec3,
    shear: [0, 0, 0],
  });
  return m.every(Number.isFinite) ? m : undefined;
}

import { ATTRIBUTE_WIDTH, type Attribute } from '../geometry/attributes.ts';
import { mergeMeshes } from '../geometry/merge.ts';
import { elementCount, findAttribute, withAttribute, withPositions, type Mesh } from '../geometry/mesh.ts';
import type { Topology } from '../geometry/topology.ts';
import { turnFaces } from '../geometry/turn.ts';
import { isMirroring, transformPacked } from '../maths/matrix.ts';
import { memoize } from '../memo.ts';
import type { Copies } from './copies.ts';

/** What of a mesh of copies does not depend on where they stand. */
interface Joined {
  readonly id: string;
  readonly sources: readonly Mesh[];
  /** 1 for each copy that is mirrored: its faces are turned round. */
  readonly mirrored: Uint8Array;
  /** All of it, with points where those of the sources were when their topologies were made. */
  readonly mesh: Mesh;
  /** The copy that each point belongs to. */
  readonly owner: Int32Array;
}

/** What was joined last, by the topology of the first source: copies that only moved are not joined anew. */
const joinedBefore = memoize((_: Topology): Joined[] => []);
const MOST_KNOWN = 2;

/**
 * The copies as one mesh, in order; attributes of copies go to their points, where colours multiply nothing but simply
 * replace. The integer point attribute `copy` tells which copy a point came from.
 */
export const copiesToMesh = memoize((copies: Copies): Mesh => {
  const { mesh: still, owner, mirrored } = joined(copies);
  const { count, which, sources, matrices } = copies;
  const turned = mirrored.includes(1) ? sources.map(turnFaces) : sources;
  const sourceOf = (copy: number) => (mirrored[copy] === 1 ? turned : sources)[which[copy]];
  const positions = new Float32Array(still.positions.length);
  for (let i = 0, at = 0; i < count; i++) at = placePoints(positions, at, sources[which[i]].positions, matrices, i * 16);
  const attributes = still.attributes.map((a) =>
    sources.some((s) => turnsWith(ownOf(s, a))) ? { ...a, data: turnedAlong(a, copies, sourceOf) } : a,
  );
  let mesh: Mesh = { ...withPositions(still, positions), attributes };
  for (const a of copies.attributes) {
    const width = ATTRIBUTE_WIDTH[a.type];
    const data = a.data instanceof Int32Array ? new Int32Array(owner.length * width) : new Float32Array(owner.length * width);
    for (let p = 0; p < owner.length; p++) for (let k = 0; k < width; k++) data[p * width + k] = a.data[owner[p] * width + k];
    mesh = withAttribute(mesh, { ...a, on: 'point', data });
  }
  const taken = findAttribute(mesh, 'copy', 'point');
  return taken ? mesh : withAttribute(mesh, { name: 'copy', on: 'point', type: 'integer', role: 'plain', data: owner });
});

function joined({ id, count, which, sources, matrices }: Copies): Joined {
  const mirrored = new Uint8Array(count);
  for (let i = 0; i < count; i++) if (isMirroring(matrices, 1, i * 16)) mirrored[i] = 1;
  const alike = sources.length > 0 ? joinedBefore(sources[0].topology) : [];
  const known = alike.find((j) => j.id === id && areAlike(j.sources, sources) && j.mirrored.every((m, i) => m === mirrored[i]));
  if (known) return known;
  const still = sources.map((s) => withPositions(s, s.topology.sourcePositions as Float32Array));
  const turned = still.map(turnFaces);
  const mesh = mergeMeshes(Array.from(which, (source, i) => (mirrored[i] === 1 ? turned : still)[source]));
  const owner = new Int32Array(mesh.topology.pointCount);
  for (let i = 0, at = 0; i < count; i++) owner.fill(i, at, (at += still[which[i]].topology.pointCount));
  const made = { id, sources, mirrored, mesh, owner };
  alike.unshift(made);
  alike.length = Math.min(alike.length, MOST_KNOWN);
  return made;
}

/** Whether meshes are the same but for where their points are. */
const areAlike = (a: readonly Mesh[], b: readonly Mesh[]): boolean =>
  a.length === b.length &&
  a.every((m, i) => {
    const { topology, attributes, materials, groups } = b[i];
    return m.topology === topology && m.attributes === attributes && m.materials === materials && m.groups === groups;
  });

/** Takes the points of one copy to where it stands. @returns where the next begins */
function placePoints(out: Float32Array, at: number, p: Readonly<Float32Array>, m: Readonly<Float64Array>, o: number): number {
  const m0 = m[o],
    m1 = m[o + 1],
    m2 = m[o + 2],
    m4 = m[o + 4],
    m5 = m[o + 5],
    m6 = m[o + 6],
    m8 = m[o + 8],
    m9 = m[o + 9],
    m10 = m[o + 10],
    m12 = m[o + 12],
    m13 = m[o + 13],
    m14 = m[o + 14];
  for (let i = 0, w = at; i < p.length; i += 3, w += 3) {
    const x = p[i],
      y = p[i + 1],
      z = p[i + 2];
    out[w] = m0 * x + m4 * y + m8 * z + m12;
    out[w + 1] = m1 * x + m5 * y + m9 * z + m13;
    out[w + 2] = m2 * x + m6 * y + m10 * z + m14;
  }
  return at + p.length;
}

const ownOf = (mesh: Mesh, { name, on, type }: Attribute): Attribute | undefined =>
  mesh.attributes.find((a) => a.name === name && a.on === on && a.type === type);

/** Whether an attribute is something in space, that goes along with a matrix by its role (DECISIONS 7). */
const turnsWith = (a: Attribute | undefined): boolean =>
  a !== undefined && a.role !== 'plain' && a.type === 'vector' && a.data instanceof Float32Array;

function turnedAlong(joint: Attribute, { count, matrices }: Copies, sourceOf: (copy: number) => Mesh): Float32Array {
  const out = Float32Array.from(joint.data);
  for (let i = 0, at = 0; i < count; i++) {
    const source = sourceOf(i);
    const end = at + elementCount(source.topology, joint.on) * 3;
    const own = ownOf(source, joint);
    if (own && own.role !== 'plain' && turnsWith(own)) {
      const m = matrices.subarray(i * 16, i * 16 + 16) as Float64Array;
      transformPacked(out.subarray(at, end), own.data as Float32Array, m, own.role);
    }
    at = end;
  }
  return out;
}

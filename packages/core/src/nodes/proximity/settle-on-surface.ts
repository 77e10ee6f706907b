import { smoothHandles } from '../../curves/curves.ts';
import { normalsOf } from '../../geometry/derived.ts';
import { withPositions, type Mesh } from '../../geometry/mesh.ts';
import { trianglesOf } from '../../geometry/triangles.ts';
import type { LaneView, NodeDefinition } from '../../graph/node/definition.ts';
import { copiesToMesh } from '../../copies/join-copies.ts';
import { KIND_WORDS } from '../../graph/node/kinds.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { pointsOf } from '../../graph/node/points-of.ts';
import { curvesValue, meshValue, type Value } from '../../graph/node/values.ts';
import { indexOf } from '../../nearest/index.ts';
import { choiceSetting, numberPort, WEIGHT_IN, typedWords } from '../ports.ts';
import { needTarget, TARGET_IN } from './target.ts';

export const settleOnSurface: NodeDefinition = {
  id: 'settle-on-surface',
  version: 1,
  title: 'Settle On Surface',
  group: 'Proximity',
  summary: 'Moves points, or control points of curves, to the nearest place on a mesh, lifted off it by a clearance.',
  keywords: ['lie on', 'cling', 'drape', 'press onto', 'nearest', 'contact'],
  inputs: () => [
    { id: 'geometry', label: 'geometry', kind: 'geometry', help: 'The mesh or curves to settle.' },
    TARGET_IN,
    numberPort(
      'clearance',
      'clearance',
      'm',
      0,
      [-1, 1],
      'How far off the surface points come to lie, along its normal: a rope’s radius, say.',
    ),
    { ...WEIGHT_IN, weighs: 'geometry' },
  ],
  outputs: () => [{ id: 'geometry', label: 'geometry', kind: 'geometry', help: 'The same, settled.' }],
  settings: [
    choiceSetting(
      'handles',
      'Handles',
      [
        ['smooth', 'Smooth through the points'],
        ['keep', 'Keep as they are'],
      ],
      'What becomes of the handles of Bézier curves.',
    ),
  ],
  sentence: (_, c) =>
    c.connected('clearance') ? 'by the clearance on the wire' : `${typedWords(c, 'clearance')} m off the surface`,
  passes: { geometry: 'geometry' },
  evaluate(context) {
    const value = context.input('geometry') as Value;
    const from = value.form === 'copies' ? meshValue(copiesToMesh(value.copies)) : value;
    const mesh = needTarget(context, 'faces');
    const source = pointsOf(from) ?? new Float32Array(0);
    const weight = context.view('weight', 'number', source.length / 3);
    const moved = settle(context.room(source.length), source, mesh, context.number('clearance'), weight, context.checkpoint);
    if (from.form === 'geometry') return { geometry: meshValue(withPositions(from.mesh, moved)) };
    if (from.form !== 'curves') throw new NodeError({ code: 'input-missing', port: 'geometry', needs: KIND_WORDS.geometry });
    const curves = { ...from.curves, positions: moved };
    return { geometry: curvesValue(context.settings.handles === 'smooth' ? smoothHandles(curves) : curves) };
  },
};

/** Nearest places on a surface, lifted along its smooth normal; xyz × count. */
function settle(
  out: Float32Array,
  source: Readonly<Float32Array>,
  mesh: Mesh,
  clearance: number,
  { data: weight, step }: LaneView,
  checkpoint: () => void,
): Float32Array {
  const index = indexOf(mesh, 'faces');
  const { points } = trianglesOf(mesh.topology);
  const normals = normalsOf(mesh);
  const p = mesh.positions;
  let last = -1;
  for (let i = 0, o = 0; o < source.length; i++, o += 3) {
    if ((i & 1023) === 0) checkpoint();
    const x = source[o],
      y = source[o + 1],
      z = source[o + 2];
    const found = index.nearest(x, y, z, Infinity, last);
    last = found;
    out[o] = x;
    out[o + 1] = y;
    out[o + 2] = z;
    if (found < 0) continue;
    const wb = index.weightB,
      wc = index.weightC,
      wa = 1 - wb - wc;
    const a = points[found * 3] * 3,
      b = points[found * 3 + 1] * 3,
      c = points[found * 3 + 2] * 3;
    const nx = normals[a] * wa + normals[b] * wb + normals[c] * wc,
      ny = normals[a + 1] * wa + normals[b + 1] * wb + normals[c + 1] * wc,
      nz = normals[a + 2] * wa + normals[b + 2] * wb + normals[c + 2] * wc;
    const l = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
    const w = weight[i * step];
    out[o] += (p[a] * wa + p[b] * wb + p[c] * wc + (nx / l) * clearance - x) * w;
    out[o + 1] += (p[a + 1] * wa + p[b + 1] * wb + p[c + 1] * wc + (ny / l) * clearance - y) * w;
    out[o + 2] += (p[a + 2] * wa + p[b + 2] * wb + p[c + 2] * wc + (nz / l) * clearance - z) * w;
  }
  return out;
}

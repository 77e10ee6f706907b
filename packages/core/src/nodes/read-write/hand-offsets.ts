import { withPositions } from '../../geometry/mesh.ts';
import { isToldFinite, tellFinite } from '../../maths/finite.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { meshValue } from '../../graph/node/values.ts';
import type { Offsets } from '../../project/fields.ts';
import { MESH_IN, MESH_OUT, WEIGHT_IN } from '../ports.ts';

export const NO_OFFSETS: Offsets = { points: 0, index: [], moves: [] };

export const handOffsets: NodeDefinition = {
  id: 'hand-offsets',
  version: 1,
  title: 'Hand Offsets',
  group: 'Read and write',
  summary: 'Moves single points by hand: pick this node, then drag points in the stage.',
  keywords: ['sculpt', 'edit points', 'drag', 'move by hand', 'fix'],
  inputs: () => [MESH_IN, WEIGHT_IN],
  outputs: () => [MESH_OUT],
  settings: [
    {
      id: 'offsets',
      label: 'Moved',
      type: 'offsets',
      default: NO_OFFSETS,
      help: 'Kept by point number, in world space, on top of whatever comes in.',
    },
  ],
  byPointNumber: true,
  sentence: (s) => {
    const moved = (s.offsets as Offsets).index.length;
    return moved === 0 ? 'no point moved yet' : `${moved} ${moved === 1 ? 'point' : 'points'} moved`;
  },
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const { points, index, moves } = context.settings.offsets as Offsets;
    const count = mesh.topology.pointCount;
    if (index.length === 0) return { mesh: meshValue(mesh) };
    const lost = index.filter((i) => i >= count).length;
    if (points !== count) context.report({ code: 'offsets-count', made: points, count, lost, severity: 'warning' });
    const { data: weight, step } = context.view('weight', 'number', count);
    const out = context.room(count * 3);
    out.set(mesh.positions);
    let written = isToldFinite(mesh.positions) ? 0 : Infinity;
    for (let i = 0, m = 0; i < index.length; i++, m += 3) {
      const point = index[i];
      if (point >= count) continue;
      const w = weight[point * step];
      const o = point * 3;
      out[o] += moves[m] * w;
      out[o + 1] += moves[m + 1] * w;
      out[o + 2] += moves[m + 2] * w;
      written += Math.abs(out[o]) + Math.abs(out[o + 1]) + Math.abs(out[o + 2]);
    }
    tellFinite(out, written);
    return { mesh: meshValue(withPositions(mesh, out)) };
  },
};

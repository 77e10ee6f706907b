import type { NodeContext, NodeDefinition } from '../../graph/node/definition.ts';
import {
  copyColumn,
  curveColumn,
  integerValue,
  pointColumn,
  type CopiesValue,
  type CurvesValue,
  type Value,
} from '../../graph/node/values.ts';
import { normalsOf } from '../../geometry/derived.ts';
import { copyPositions } from '../../copies/copies.ts';
import { MESH_IN } from '../ports.ts';

export const pointValues: NodeDefinition = {
  id: 'point-values',
  version: 1,
  title: 'Point Values',
  group: 'Read and write',
  summary: 'Reads the positions, normals and indices of all points, and their number.',
  keywords: ['positions', 'normals', 'index', 'count', 'read', 'vertex'],
  inputs: () => [{ ...MESH_IN, kind: 'geometry', help: 'A mesh, or curves or copies: their points, or where they stand.' }],
  outputs: () => [
    { id: 'positions', label: 'positions', kind: 'vector', unit: 'm', help: 'Where each point is.' },
    {
      id: 'normals',
      label: 'normals',
      kind: 'vector',
      help: 'The direction each point faces, length 1; 0 for points without faces.',
    },
    { id: 'indices', label: 'indices', kind: 'integer', help: 'The number of each point, from 0.' },
    { id: 'count', label: 'count', kind: 'integer', help: 'How many points there are.' },
  ],
  settings: [
    {
      id: 'weighting',
      label: 'Normals by',
      type: 'choice',
      options: [
        { value: 'angle', label: 'Angle of each face' },
        { value: 'area', label: 'Area of each face' },
      ],
      default: 'angle',
      help: 'How much each face counts: its angle at the point does not depend on how faces are cut; its area is quicker.',
    },
  ],
  sentence: (s) => `positions, normals by ${s.weighting === 'area' ? 'area' : 'angle'}`,
  evaluate(context) {
    const from = context.input('mesh');
    if (from?.form === 'curves' || from?.form === 'copies') return placesOf(context, from);
    const mesh = context.mesh('mesh');
    const { topology } = mesh;
    const out: Record<string, Value> = { count: integerValue(topology.pointCount) };
    if (context.wants('positions')) out.positions = pointColumn(mesh, 'vector', mesh.positions as Float32Array, 'position');
    if (context.wants('normals')) {
      const weighting = context.settings.weighting === 'area' ? 'area' : 'angle';
      out.normals = pointColumn(mesh, 'vector', normalsOf(mesh, weighting, context.checkpoint), 'normal');
    }
    if (context.wants('indices')) {
      const indices = context.integers(topology.pointCount);
      for (let i = 0; i < indices.length; i++) indices[i] = i;
      out.indices = pointColumn(mesh, 'integer', indices);
    }
    return out;
  },
};

/** The same of curves (their control points) and copies (where each stands); their normals are their own y axis. */
function placesOf(context: NodeContext, from: CurvesValue | CopiesValue): Record<string, Value> {
  const count = from.form === 'curves' ? from.curves.shape.pointCount : from.copies.count;
  const indices = context.integers(count);
  for (let i = 0; i < count; i++) indices[i] = i;
  const normals = context.floats(count * 3);
  for (let i = 0; i < count; i++) {
    const m = from.form === 'copies' ? from.copies.matrices.subarray(i * 16 + 4, i * 16 + 7) : [0, 1, 0];
    const size = Math.hypot(m[0], m[1], m[2]) || 1;
    for (let axis = 0; axis < 3; axis++) normals[i * 3 + axis] = m[axis] / size;
  }
  if (from.form === 'curves') {
    const { curves } = from;
    return {
      count: integerValue(count),
      positions: curveColumn(curves, 'vector', curves.positions, 'position'),
      normals: curveColumn(curves, 'vector', normals, 'normal'),
      indices: curveColumn(curves, 'integer', indices),
    };
  }
  const { copies } = from;
  return {
    count: integerValue(count),
    positions: copyColumn(copies, 'vector', copyPositions(copies), 'position'),
    normals: copyColumn(copies, 'vector', normals, 'normal'),
    indices: copyColumn(copies, 'integer', indices),
  };
}

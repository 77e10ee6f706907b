import type { NodeDefinition } from '../../graph/definition.ts';
import { integerValue, pointColumn, type Value } from '../../graph/values.ts';
import { computeNormals } from '../../geometry/normals.ts';
import { MESH_IN } from '../ports.ts';

export const pointValues: NodeDefinition = {
  id: 'point-values',
  version: 1,
  title: 'Point Values',
  group: 'Read and write',
  summary: 'Reads the positions, normals and indices of all points, and their number.',
  keywords: ['positions', 'normals', 'index', 'count', 'read', 'vertex'],
  inputs: () => [MESH_IN],
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
    const mesh = context.mesh('mesh');
    const { topology } = mesh;
    const out: Record<string, Value> = { count: integerValue(topology.pointCount) };
    if (context.wants('positions'))
      out.positions = pointColumn(mesh, 'vector', mesh.positions as Float32Array, 'position');
    if (context.wants('normals')) {
      const weighting = context.settings.weighting === 'area' ? 'area' : 'angle';
      const normals = context.floats(mesh.positions.length);
      computeNormals(normals, mesh.positions, topology, topology.cornerPoints, weighting, context.checkpoint);
      out.normals = pointColumn(mesh, 'vector', normals, 'normal');
    }
    if (context.wants('indices')) {
      const indices = context.integers(topology.pointCount);
      for (let i = 0; i < indices.length; i++) indices[i] = i;
      out.indices = pointColumn(mesh, 'integer', indices);
    }
    return out;
  },
};

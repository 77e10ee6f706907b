import { edgesOf } from '../../geometry/edges.ts';
import type { Mesh } from '../../geometry/mesh.ts';
import { moveValues } from '../../geometry/spread.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { pointColumn, type Value } from '../../graph/node/values.ts';
import { attributeMissing, findAttribute, needAttribute, REST_NORMAL, REST_POSITION } from '../attributes.ts';
import { MESH_IN } from '../ports.ts';

export const restChange: NodeDefinition = {
  id: 'rest-change',
  version: 1,
  title: 'Rest Change',
  group: 'Read and write',
  summary: 'Tells how far each point has come from its rest, and how edges and faces round it are stretched.',
  keywords: ['displacement', 'stretch', 'compression', 'area', 'how far'],
  inputs: () => [MESH_IN],
  outputs: () => [
    {
      id: 'displacement',
      label: 'offset',
      kind: 'vector',
      unit: 'm',
      help: 'From the rest position to the present one.',
    },
    { id: 'distance', label: 'distance', kind: 'number', unit: 'm', help: 'Its length.' },
    {
      id: 'along',
      label: 'along normal',
      kind: 'number',
      unit: 'm',
      help: 'Its part along the rest normal: positive outwards.',
    },
    {
      id: 'stretch',
      label: 'stretch',
      kind: 'number',
      help: 'Mean ratio of the lengths of the edges round the point to their rest; 1 is unchanged.',
    },
    {
      id: 'area',
      label: 'area ratio',
      kind: 'number',
      help: 'Mean ratio of the areas of the faces round the point to their rest; 1 is unchanged.',
    },
  ],
  settings: [],
  sentence: () => 'displacement, stretch and area',
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const rest = needAttribute(mesh, REST_POSITION, 'point').data as Float32Array;
    const p = mesh.positions;
    const out: Record<string, Value> = {};
    const displacement = context.floats(p.length);
    for (let i = 0; i < p.length; i++) displacement[i] = p[i] - rest[i];
    out.displacement = pointColumn(mesh, 'vector', displacement, 'direction');
    const each = (of: (i: number) => number) => {
      const data = context.floats(mesh.topology.pointCount);
      for (let i = 0, o = 0; i < data.length; i++, o += 3) data[i] = of(o);
      return pointColumn(mesh, 'number', data);
    };
    if (context.wants('distance'))
      out.distance = each((o) => Math.hypot(displacement[o], displacement[o + 1], displacement[o + 2]));
    const n = context.wants('along') ? findAttribute(mesh, REST_NORMAL, 'point')?.data : undefined;
    if (n) out.along = each((o) => displacement[o] * n[o] + displacement[o + 1] * n[o + 1] + displacement[o + 2] * n[o + 2]);
    else if (context.wants('along'))
      context.report({ ...attributeMissing(mesh, REST_NORMAL), severity: 'error', about: ['along'] });
    if (context.wants('stretch'))
      out.stretch = pointColumn(mesh, 'number', moveValues(mesh.topology, edgeRatios(mesh, rest), 1, 'edge', 'point'));
    if (context.wants('area'))
      out.area = pointColumn(mesh, 'number', moveValues(mesh.topology, areaRatios(mesh, rest), 1, 'face', 'point'));
    return out;
  },
};

/** Length now ÷ length at rest of every edge; 1 where the rest has no length. */
function edgeRatios(mesh: Mesh, rest: Readonly<Float32Array>): Float32Array {
  const { count, points } = edgesOf(mesh.topology);
  const length = (p: Readonly<Float32Array>, e: number) => {
    const a = points[e * 2] * 3;
    const b = points[e * 2 + 1] * 3;
    return Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]);
  };
  return Float32Array.from({ length: count }, (_, e) => ratio(length(mesh.positions, e), length(rest, e)));
}

/** Area now ÷ area at rest of every face (half the length of Newell's vector). */
function areaRatios(mesh: Mesh, rest: Readonly<Float32Array>): Float32Array {
  const { faceStarts, cornerPoints, faceCount } = mesh.topology;
  const area = (p: Readonly<Float32Array>, f: number) => {
    let x = 0,
      y = 0,
      z = 0;
    const o = cornerPoints[faceStarts[f]] * 3;
    for (let c = faceStarts[f] + 1; c + 1 < faceStarts[f + 1]; c++) {
      const a = cornerPoints[c] * 3;
      const b = cornerPoints[c + 1] * 3;
      const ux = p[a] - p[o],
        uy = p[a + 1] - p[o + 1],
        uz = p[a + 2] - p[o + 2];
      const vx = p[b] - p[o],
        vy = p[b + 1] - p[o + 1],
        vz = p[b + 2] - p[o + 2];
      x += uy * vz - uz * vy;
      y += uz * vx - ux * vz;
      z += ux * vy - uy * vx;
    }
    return Math.hypot(x, y, z) / 2;
  };
  return Float32Array.from({ length: faceCount }, (_, f) => ratio(area(mesh.positions, f), area(rest, f)));
}

const ratio = (now: number, rest: number) => (rest > 0 ? now / rest : 1);

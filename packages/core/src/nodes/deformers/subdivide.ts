import { wholeWithin, within } from '../within.ts';
import { edgesOf } from '../../geometry/edges.ts';
import { findAttribute, type Mesh } from '../../geometry/mesh.ts';
import { elementsId } from '../../geometry/topology.ts';
import { moveValues } from '../../geometry/spread.ts';
import { subdivide as subdivideMesh } from '../../geometry/subdivide.ts';
import { weigh } from '../../falloffs/weigh.ts';
import type { NodeContext, NodeDefinition } from '../../graph/node/definition.ts';
import { isMeshPlace, meshValue, type Column, type Single } from '../../graph/node/values.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { MESH_IN, MESH_OUT, numberPort, typedCount } from '../ports.ts';
import { checkPoints } from '../bring-in/make-grid.ts';

const MOST_LEVELS = 5;

export const subdivide: NodeDefinition = {
  id: 'subdivide',
  version: 1,
  title: 'Subdivide',
  group: 'Deformers',
  summary: 'Cuts faces finer and rounds them (Catmull–Clark), sharp where a crease says so.',
  keywords: ['smooth', 'catmull', 'clark', 'refine', 'crease', 'tessellate'],
  inputs: () => [
    MESH_IN,
    numberPort('levels', 'levels', undefined, 1, [0, MOST_LEVELS], 'How often: each level has four times as many faces.', {
      kind: 'integer',
    }),
    {
      id: 'crease',
      label: 'crease',
      kind: 'weight',
      optional: true,
      help: 'How sharp edges are, 0 to 1: one value, a column, or a falloff. Left open, the edge attribute "crease" is used where there is one.',
    },
  ],
  outputs: () => [{ ...MESH_OUT, help: 'The finer mesh; the old points keep their numbers, new ones follow.' }],
  settings: [],
  sentence: (_, c) => typedCount(c, 'levels', 'level'),
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const levels = wholeWithin(context, 'levels', 0, MOST_LEVELS);
    checkPoints(mesh.topology.cornerCount * 4 ** Math.max(0, levels - 1) + mesh.topology.pointCount);
    return { mesh: meshValue(subdivideMesh(mesh, levels, creasesOf(context, mesh), context.checkpoint)) };
  },
};

/** One crease per edge, from whatever was connected: a falloff is weighed at the middle of each edge. */
function creasesOf(context: NodeContext, mesh: Mesh): Float32Array | undefined {
  const given = context.input('crease');
  const { topology } = mesh;
  const { count } = edgesOf(topology);
  let values: Readonly<Float32Array | Int32Array> | undefined;
  if (!given) values = findAttribute(mesh, 'crease', 'edge')?.data;
  else if (given.form === 'falloff')
    values = weigh(
      given.falloff,
      moveValues(topology, mesh.positions, 3, 'point', 'edge'),
      new Float32Array(count),
      context.checkpoint,
    );
  else {
    const value = given as Single | Column;
    if (value.form === 'single') values = new Float32Array(count).fill(value.data[0]);
    else if (!isMeshPlace(value.on) || value.owner !== elementsId(topology, value.on))
      throw new NodeError({
        code: 'column-fit',
        port: 'crease',
        count: value.count,
        points: count,
        on: 'edge',
      });
    else values = moveValues(topology, value.data, 1, value.on, 'edge');
  }
  if (!values) return undefined;
  const outside = values.find((v) => v < 0 || v > 1);
  if (outside !== undefined) within(context, 'crease', outside, 0, 1);
  // What is no number is not sharp.
  return Float32Array.from(values, (v) => (v > 0 ? Math.min(1, v) : 0));
}

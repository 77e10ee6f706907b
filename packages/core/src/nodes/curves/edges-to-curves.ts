import { needElements } from '../attributes.ts';
import { edgesToCurves as curvesOfEdges } from '../../curves/index.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { curvesValue } from '../../graph/node/values.ts';
import { CURVES_OUT, MESH_IN } from '../ports.ts';

export const edgesToCurves: NodeDefinition = {
  id: 'edges-to-curves',
  version: 1,
  title: 'Edges To Curves',
  group: 'Curves',
  summary: 'Makes a straight curve of every edge of a mesh: swept thin, they are a net.',
  keywords: ['net', 'mesh', 'ropes', 'lines'],
  inputs: () => [MESH_IN],
  outputs: () => [CURVES_OUT],
  settings: [],
  sentence: () => 'one for each edge',
  evaluate(context) {
    const mesh = context.mesh('mesh');
    needElements(mesh, 'edge');
    return { curves: curvesValue(curvesOfEdges(mesh)) };
  },
};

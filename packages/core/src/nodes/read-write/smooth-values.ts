import { wholeWithin } from '../within.ts';
import { MOST_ROUNDS, smoothValues as smooth } from '../../geometry/smooth.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import type { Column, Single } from '../../graph/node/values.ts';
import { MESH_IN, yes } from '../ports.ts';

export const smoothValues: NodeDefinition = {
  id: 'smooth-values',
  version: 1,
  title: 'Smooth Values',
  group: 'Read and write',
  summary: 'Averages a column of the points over their neighbours along edges, round after round.',
  keywords: ['blur', 'relax', 'average', 'diffuse'],
  inputs: () => [
    MESH_IN,
    { id: 'values', label: 'values', kind: 'value', help: 'One value per point of the mesh.' },
    {
      id: 'rounds',
      label: 'rounds',
      kind: 'integer',
      default: 4,
      range: { min: 0, max: 50 },
      uniform: true,
      help: 'How often each point takes half a step towards the average of its neighbours.',
    },
  ],
  outputs: () => [{ id: 'values', label: 'values', kind: 'value', help: 'The smoothed values.' }],
  settings: [
    {
      id: 'pin',
      label: 'Pin borders',
      type: 'toggle',
      default: false,
      help: 'Leave the points on the rim of an open mesh as they are.',
    },
  ],
  sentence: (s) => (yes(s, 'pin') ? 'over neighbours, borders pinned' : 'over neighbours'),
  passes: { values: 'values' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const values = context.input('values') as Column | Single;
    if (values.form === 'single') return { values };
    const { pointCount } = mesh.topology;
    if (values.count !== pointCount)
      throw new NodeError({ code: 'column-fit', port: 'values', count: values.count, points: pointCount });
    const width = values.kind === 'vector' ? 3 : 1;
    const rounds = wholeWithin(context, 'rounds', 0, MOST_ROUNDS);
    const data = smooth(
      mesh.topology,
      Float32Array.from(values.data),
      width,
      rounds,
      yes(context.settings, 'pin'),
      context.checkpoint,
    );
    return { values: { ...values, kind: width === 3 ? 'vector' : 'number', data } };
  },
};

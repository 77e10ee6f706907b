import { boundsCentre, boundsSize } from '../../geometry/bounds.ts';
import { knownBounds } from '../../geometry/derived.ts';
import type { NodeDefinition, OutputPort } from '../../graph/node/definition.ts';
import { statisticsOf } from '../../graph/node/statistics.ts';
import { numberValue, vectorValue, type Value } from '../../graph/node/values.ts';
import type { Vec3 } from '../../maths/vector.ts';
import { MESH_IN } from '../ports.ts';

const VALUES: readonly OutputPort[] = [
  { id: 'minimum', label: 'minimum', kind: 'value', help: 'The smallest value; of vectors, axis by axis.' },
  { id: 'maximum', label: 'maximum', kind: 'value', help: 'The largest value; of vectors, axis by axis.' },
  { id: 'mean', label: 'mean', kind: 'value', help: 'The average.' },
  { id: 'sum', label: 'sum', kind: 'value', help: 'All values added.' },
];
const MESH: readonly OutputPort[] = [
  { id: 'centre', label: 'centre', kind: 'vector', unit: 'm', help: 'The middle of the bounds.' },
  {
    id: 'size',
    label: 'size',
    kind: 'vector',
    unit: 'm',
    help: 'The lengths of the bounds along x, y and z.',
  },
  { id: 'average', label: 'average', kind: 'vector', unit: 'm', help: 'The average of all points.' },
];

export const summarise: NodeDefinition = {
  id: 'summarise',
  version: 1,
  title: 'Summarise',
  group: 'Read and write',
  summary: 'Boils a column down to its minimum, maximum, mean and sum, or a mesh to its bounds and average point.',
  keywords: ['statistics', 'average', 'bounds', 'bounding box', 'centroid', 'total'],
  inputs: (s) =>
    s.of === 'mesh'
      ? [MESH_IN]
      : [
          {
            id: 'values',
            label: 'values',
            kind: 'value',
            help: 'The column to boil down; values that are not finite are left out.',
          },
        ],
  outputs: (s) => (s.of === 'mesh' ? MESH : VALUES),
  settings: [
    {
      id: 'of',
      label: 'Of',
      type: 'choice',
      options: [
        { value: 'values', label: 'Values' },
        { value: 'mesh', label: 'A mesh' },
      ],
      default: 'values',
      help: 'What is boiled down.',
    },
  ],
  sentence: (s) => (s.of === 'mesh' ? 'bounds and average point' : 'minimum, maximum, mean, sum'),
  evaluate(context): Record<string, Value> {
    const vector = (v: readonly number[]) => vectorValue(v as unknown as Vec3);
    if (context.settings.of === 'mesh') {
      const mesh = context.mesh('mesh');
      const bounds = knownBounds(mesh.positions);
      const { mean } = statisticsOf({ form: 'geometry', kind: 'mesh', mesh });
      return {
        centre: vector(boundsCentre(bounds)),
        size: vector(boundsSize(bounds)),
        average: vector(mean.map((m) => (Number.isFinite(m) ? m : 0))),
      };
    }
    const s = statisticsOf(context.input('values') as Value);
    const used = s.count - s.notFinite / s.minimum.length;
    const make = (v: readonly number[]): Value => (v.length === 3 ? vector(v) : numberValue(v[0]));
    return {
      minimum: make(s.minimum),
      maximum: make(s.maximum),
      mean: make(s.mean),
      sum: make(s.mean.map((m) => m * used)),
    };
  },
};

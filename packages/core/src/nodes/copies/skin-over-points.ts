import { numberWithin } from '../within.ts';
import { MOST_SKIN_CELLS, skinCells, skinOver } from '../../deform/skin-over.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { pointsOf } from '../../graph/node/points-of.ts';
import { meshValue, type Value } from '../../graph/node/values.ts';
import { MESH_OUT, numberPort, typedWords } from '../ports.ts';

export const skinOverPoints: NodeDefinition = {
  id: 'skin-over-points',
  version: 1,
  title: 'Skin Over Points',
  group: 'Copies',
  summary: 'Makes a closed mesh round points with radii, flowing together where they are near each other.',
  keywords: ['blob', 'implicit', 'distance field', 'merge', 'clump', 'droplets'],
  inputs: () => [
    {
      id: 'points',
      label: 'points',
      kind: 'geometry',
      help: 'The points: of a mesh, of curves, or where copies stand.',
    },
    {
      id: 'radius',
      label: 'radius',
      kind: 'weight',
      unit: 'm',
      default: 0.15,
      range: { min: 0, max: 2 },
      weighs: 'points',
      help: 'Of each: one value, one per point, or a falloff.',
    },
    numberPort('cell', 'cell', 'm', 0.05, [0.005, 1], 'How fine the mesh is; half as large is eight times the work.'),
    numberPort('blend', 'blend', 'm', 0.1, [0, 1], 'Over what distance they flow together.'),
  ],
  outputs: () => [{ ...MESH_OUT, help: 'The closed mesh; its points change as the skin does.' }],
  settings: [],
  sentence: (_, c) => `cells of ${typedWords(c, 'cell')} m`,
  evaluate(context) {
    const from = context.input('points') as Value;
    const points = pointsOf(from) ?? new Float32Array(0);
    const radii = context.lane('radius', 'number', points.length / 3);
    const cell = context.number('cell');
    const blend = numberWithin(context, 'blend', 0);
    if (!(cell > 0))
      throw new NodeError({
        code: 'needs-positive',
        port: 'cell',
        value: cell,
        unit: 'm',
        so: 'no number of cells would do',
      });
    if (!radii.some((r) => r > 0)) throw new NodeError({ code: 'no-radius' });
    const count = skinCells(points, radii, cell, blend);
    if (!(count <= MOST_SKIN_CELLS))
      throw new NodeError({ code: 'limit', what: 'The cells of the skin', count, most: MOST_SKIN_CELLS });
    return { mesh: meshValue(skinOver(points, radii, cell, blend, context.checkpoint)) };
  },
};

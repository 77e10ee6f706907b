import type { InputPort, NodeContext, NodeDefinition } from '../../graph/definition.ts';
import { NodeError } from '../../graph/problems.ts';
import { meshValue } from '../../graph/values.ts';
import { makeDisc, makeGrid as gridMesh } from '../../geometry/primitives.ts';
import { MESH_OUT } from '../ports.ts';

/** The most points a made mesh may have. */
export const MOST_POINTS = 20_000_000;

const count = (id: string, label: string, value: number, min: number, help: string): InputPort => ({
  id, label, kind: 'integer', default: value, range: { min, max: 1000 }, uniform: true, help,
}); // prettier-ignore
const metres = (id: string, label: string, value: number, help: string): InputPort => ({
  id, label, kind: 'number', unit: 'm', default: value, range: { min: 0, max: 20 }, uniform: true, help,
}); // prettier-ignore

const SQUARE: readonly InputPort[] = [
  metres('width', 'width', 2, 'Length along x.'),
  metres('depth', 'depth', 2, 'Length along z.'),
  count('cellsX', 'cells along x', 20, 1, 'Number of faces along x.'),
  count('cellsZ', 'cells along z', 20, 1, 'Number of faces along z.'),
];
const ROUND: readonly InputPort[] = [
  metres('radius', 'radius', 1, 'Distance from the middle to the rim.'),
  count('rings', 'rings', 10, 1, 'Number of rings of faces from the middle to the rim.'),
  count('spokes', 'spokes', 32, 3, 'Number of faces round each ring.'),
];

export const makeGrid: NodeDefinition = {
  id: 'make-grid',
  version: 1,
  title: 'Make Grid',
  group: 'Bring in',
  summary: 'Makes a flat grid in the ground plane, square or round, facing up.',
  keywords: ['plane', 'disc', 'circle', 'floor', 'water'],
  inputs: (s) => (s.shape === 'round' ? ROUND : SQUARE),
  outputs: () => [MESH_OUT],
  settings: [
    {
      id: 'shape',
      label: 'Shape',
      type: 'choice',
      options: [
        { value: 'square', label: 'Square' },
        { value: 'round', label: 'Round' },
      ],
      default: 'square',
      help: 'Square: rows of quads. Round: rings about a middle point.',
    },
  ],
  sentence: (s) => (s.shape === 'round' ? 'round, rings about a middle' : 'square, rows of quads'),
  evaluate(context) {
    if (context.settings.shape === 'round') {
      const rings = atLeast(context, 'rings', 1);
      const spokes = atLeast(context, 'spokes', 3);
      checkPoints(rings * spokes + 1);
      return { mesh: meshValue(makeDisc(context.number('radius'), rings, spokes)) };
    }
    const x = atLeast(context, 'cellsX', 1);
    const z = atLeast(context, 'cellsZ', 1);
    checkPoints((x + 1) * (z + 1));
    return { mesh: meshValue(gridMesh([context.number('width'), context.number('depth')], [x, z])) };
  },
};

/** An integer input, raised to a least value with a warning. */
export function atLeast(context: NodeContext, port: string, least: number): number {
  const value = context.integer(port);
  if (value >= least) return value;
  context.report({
    code: 'value-range',
    port,
    value,
    used: least,
    why: `at least ${least} is needed, so`,
    severity: 'warning',
  });
  return least;
}

/** @throws NodeError when a mesh would be too large to hold. */
export function checkPoints(points: number): void {
  if (points > MOST_POINTS)
    throw new NodeError({ code: 'limit', what: 'The number of points', count: points, most: MOST_POINTS });
}

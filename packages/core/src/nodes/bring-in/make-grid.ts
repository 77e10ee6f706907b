import { numberWithin, wholeWithin } from '../within.ts';
import type { InputPort, NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { meshValue } from '../../graph/node/values.ts';
import { makeDisc, makeGrid as gridMesh } from '../../geometry/primitives.ts';
import { MESH_OUT } from '../ports.ts';

/** The most points a made mesh may have. */
export const MOST_POINTS = 20_000_000;

const count = (id: string, label: string, value: number, min: number, help: string): InputPort => ({
  id,
  label,
  kind: 'integer',
  default: value,
  range: { min, max: 1000 },
  uniform: true,
  help,
});
const metres = (id: string, label: string, value: number, help: string): InputPort => ({
  id,
  label,
  kind: 'number',
  unit: 'm',
  default: value,
  range: { min: 0, max: 20 },
  uniform: true,
  help,
});

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
      const rings = wholeWithin(context, 'rings', 1);
      const spokes = wholeWithin(context, 'spokes', 3);
      checkPoints(rings * spokes + 1);
      return { mesh: meshValue(makeDisc(numberWithin(context, 'radius', 0), rings, spokes)) };
    }
    const x = wholeWithin(context, 'cellsX', 1);
    const z = wholeWithin(context, 'cellsZ', 1);
    checkPoints((x + 1) * (z + 1));
    return {
      mesh: meshValue(gridMesh([numberWithin(context, 'width', 0), numberWithin(context, 'depth', 0)], [x, z])),
    };
  },
};

/** The most points a made curve may have. */
export const MOST_CURVE_POINTS = 100_000;

/** @throws NodeError when a curve would be too large to hold. */
export function checkCurvePoints(points: number): void {
  if (!(points <= MOST_CURVE_POINTS))
    throw new NodeError({
      code: 'limit',
      what: 'The points of the curve',
      count: points,
      most: MOST_CURVE_POINTS,
    });
}

/** @throws NodeError when a mesh would be too large to hold. */
export function checkPoints(points: number): void {
  if (!(points <= MOST_POINTS))
    throw new NodeError({ code: 'limit', what: 'The number of points', count: points, most: MOST_POINTS });
}

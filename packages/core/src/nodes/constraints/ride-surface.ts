import { findAttribute, type Mesh } from '../../geometry/mesh.ts';
import { isTurned } from '../../geometry/turn.ts';
import { trianglesOf } from '../../geometry/triangles.ts';
import { inverseOf } from '../../constraints/index.ts';
import { rotationMatrix } from '../../maths/aim.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { integerValue, matrixValue } from '../../graph/node/values.ts';
import { multiply, product, translation, type Matrix } from '../../maths/matrix.ts';
import { add, cross, length, normalize, scale, subtract, type Vec3 } from '../../maths/vector.ts';
import { indexOf } from '../../nearest/index.ts';
import { REST_POSITION } from '../attributes.ts';
import { driverAtRest } from '../driver-rest.ts';
import { matrixOutput } from '../matrices/lanes.ts';
import { vectorPort, singleVector } from '../ports.ts';

/**
 * The frame of a place on a triangle: x along its first edge, y its normal; undefined for one without an area.
 * @param turned the corners are those of the face turned round.
 */
function frameOn(
  p: Readonly<Float32Array>,
  corners: readonly number[],
  b: number,
  c: number,
  turned = false,
): Matrix | undefined {
  const [i, j, k] = corners.map((n): Vec3 => [p[n * 3], p[n * 3 + 1], p[n * 3 + 2]]);
  const [u, v] = [subtract(j, i), subtract(k, i)];
  const normal = turned ? cross(v, u) : cross(u, v);
  if (!(length(normal) > 0)) return undefined;
  const [x, y] = [normalize(u), normalize(normal)];
  const rotation = rotationMatrix(Float64Array.from([...x, ...y, ...cross(x, y)]));
  return multiply(rotation, translation(add(i, add(scale(u, b), scale(v, c)))), rotation);
}

export const rideSurface: NodeDefinition = {
  id: 'ride-surface',
  version: 1,
  title: 'Ride Surface',
  group: 'Constraints',
  summary: 'Glues a place to a mesh: found once on the mesh at rest, carried by the same face ever after.',
  keywords: ['glue', 'attach', 'stick', 'on skin', 'carried', 'constrain'],
  inputs: () => [
    { id: 'mesh', label: 'mesh', kind: 'mesh', help: 'The mesh to ride, as it is now.' },
    {
      id: 'rest',
      label: 'mesh at rest',
      kind: 'mesh',
      optional: true,
      help: 'The mesh as it was when the place was chosen. Left open, its restPosition is used.',
    },
    {
      ...vectorPort('place', 'place', 'm', 0, [-5, 5], 'A place near the mesh at rest; the nearest one on it is taken.'),
      starts: 'top',
    },
  ],
  outputs: () => [
    matrixOutput('matrix', 'matrix', 'The place now: y along the normal, x along the surface.'),
    matrixOutput('change', 'change', 'From the place at rest to the place now: connect it to Drive Object as a world change.'),
    { id: 'face', label: 'face', kind: 'integer', help: 'The number of the face it is on.' },
  ],
  settings: [],
  sentence: (_, c) => `on ${c.source?.('mesh') ?? 'a mesh'}`,
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const rest: Mesh = driverAtRest(context, mesh, 'mesh');
    const index = indexOf(rest, 'faces');
    const found = index.nearest(...singleVector(context, 'place'));
    if (found < 0) throw new NodeError({ code: 'target-empty', what: '"mesh"' });
    const { points, faces } = trianglesOf(rest.topology);
    const corners = [0, 1, 2].map((k) => points[found * 3 + k]);
    const [b, c] = [index.weightB, index.weightC];
    const now = frameOn(mesh.positions, corners, b, c, isTurned(mesh.topology, rest.topology));
    const then = frameOn(rest.positions, corners, b, c);
    const back = then && inverseOf(then);
    if (!now || !back) throw new NodeError({ code: 'face-flat', face: faces[found] });
    return {
      matrix: matrixValue(now),
      change: matrixValue(product(now, back)),
      face: integerValue(faces[found]),
    };
  },
};

/** Where on a mesh at rest a place lies that is on the mesh as it is now. */
export function placeAtRest(mesh: Mesh, place: Vec3): Vec3 {
  const stored = findAttribute(mesh, REST_POSITION, 'point');
  const index = indexOf(mesh, 'faces');
  const found = index.nearest(...place);
  if (!stored || found < 0) return place;
  const { points } = trianglesOf(mesh.topology);
  const weights = [1 - index.weightB - index.weightC, index.weightB, index.weightC];
  return [0, 1, 2].map((axis) =>
    weights.reduce((sum, w, k) => sum + w * stored.data[points[found * 3 + k] * 3 + axis], 0),
  ) as unknown as Vec3;
}

import { averageOf, boundsCentre } from '../geometry/bounds.ts';
import { knownBounds } from '../geometry/derived.ts';
import { findAttribute, type Mesh } from '../geometry/mesh.ts';
import type { FacetRef, InputPort, NodeContext, SentenceContext, Setting, Settings } from '../graph/node/definition.ts';
import { NodeError } from '../graph/node/problems.ts';
import { positionOf } from '../maths/matrix.ts';
import type { Vec3 } from '../maths/vector.ts';
import { REST_POSITION } from './attributes.ts';
import { choice, choiceSetting, numberPort, singleVector, text, vectorPort } from './ports.ts';

/** Where a mesh is turned about: settings, inputs and the place itself, shared by all nodes with a pivot. */
const PIVOT = choiceSetting(
  'pivot',
  'Pivot',
  [
    ['origin', 'World origin'],
    ['centre', 'Middle of its bounds'],
    ['base', 'Base of its bounds'],
    ['average', 'Average of its points'],
    ['index', 'One of its points'],
    ['locator', 'A locator'],
    ['typed', 'Typed'],
  ],
  'The place it turns and sizes about; found anew whenever the input moves.',
);
const READ_AT = choiceSetting(
  'readAt',
  'Read at',
  [
    ['now', 'Now'],
    ['rest', 'Rest'],
  ],
  'Now: the pivot goes with the mesh as it arrives. Rest: it stays where restPosition puts it.',
  (s) => ['centre', 'base', 'average', 'index'].includes(String(s.pivot)),
);
const LOCATOR: Setting = {
  id: 'pivotObject',
  label: 'Locator',
  type: 'object',
  takes: 'locator',
  optional: true,
  shown: (s) => s.pivot === 'locator',
  help: 'The object whose place is the pivot.',
};
export const PIVOT_SETTINGS: readonly Setting[] = [PIVOT, READ_AT, LOCATOR];

export const pivotInputs = (s: Settings): InputPort[] =>
  s.pivot === 'typed'
    ? [vectorPort('pivotPlace', 'pivot', 'm', 0, [-5, 5], 'The pivot, in world space.')]
    : s.pivot === 'index'
      ? [
          numberPort('pivotIndex', 'pivot point', undefined, 0, [0, 100], 'Number of the point that is the pivot.', {
            kind: 'integer',
          }),
        ]
      : [];

export const readsPivot = (s: Settings): FacetRef[] =>
  s.pivot === 'locator' && text(s, 'pivotObject') ? [{ object: text(s, 'pivotObject'), facet: 'world' }] : [];

export function pivotWords(s: Settings, c: SentenceContext): string {
  if (s.pivot === 'locator') return c.objectName(s.pivotObject) ?? 'no locator yet';
  return choice(PIVOT, s) + (s.readAt === 'rest' && READ_AT.shown?.(s) ? ', at rest' : '');
}

/** The pivot of a mesh in world space. @throws NodeError when its rest, its point or its locator is missing, or not finite */
export function pivotOf(context: NodeContext, mesh: Mesh): Vec3 {
  const place = placeOf(context, mesh);
  if (!place?.every(Number.isFinite)) throw new NodeError({ code: 'pivot-not-finite' });
  return place;
}

function placeOf(context: NodeContext, mesh: Mesh): Vec3 | undefined {
  const { settings } = context;
  switch (settings.pivot) {
    case 'typed':
      return singleVector(context, 'pivotPlace');
    case 'locator':
      return positionOf(context.object('pivotObject').world);
    case 'origin':
      return [0, 0, 0];
  }
  let points = mesh.positions;
  if (settings.readAt === 'rest') {
    const rest = findAttribute(mesh, REST_POSITION, 'point');
    if (!rest) throw new NodeError({ code: 'rest-missing', what: 'mesh' });
    points = rest.data as Float32Array;
  }
  const count = points.length / 3;
  if (count === 0) throw new NodeError({ code: 'mesh-empty' });
  if (settings.pivot === 'index') {
    const i = context.integer('pivotIndex');
    if (i < 0 || i >= count) throw new NodeError({ code: 'index-range', index: i, count });
    return [points[i * 3], points[i * 3 + 1], points[i * 3 + 2]];
  }
  if (settings.pivot === 'average') return averageOf(points);
  const bounds = knownBounds(points);
  const [x, y, z] = boundsCentre(bounds);
  if (bounds.low[0] > bounds.high[0]) return undefined;
  return [x, settings.pivot === 'base' ? bounds.low[1] : y, z];
}

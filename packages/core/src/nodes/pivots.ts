import { findAttribute, withPositions, type Mesh } from '../geometry/mesh.ts';
import type {
  FacetRef,
  InputPort,
  NodeContext,
  SentenceContext,
  Setting,
  Settings,
} from '../graph/definition.ts';
import { NodeError } from '../graph/problems.ts';
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
const READ_AT = choiceSetting('readAt', 'Read at', [['now', 'Now'], ['rest', 'Rest']], 'Now: the pivot goes with the mesh as it arrives. Rest: it stays where restPosition puts it.', (s) => ['centre', 'base', 'average', 'index'].includes(String(s.pivot))); // prettier-ignore
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
      ? [numberPort('pivotIndex', 'pivot point', undefined, 0, [0, 100], 'Number of the point that is the pivot.', { kind: 'integer' })] // prettier-ignore
      : [];

export const readsPivot = (s: Settings): FacetRef[] =>
  s.pivot === 'locator' && text(s, 'pivotObject') ? [{ object: text(s, 'pivotObject'), facet: 'world' }] : [];

export function pivotWords(s: Settings, c: SentenceContext): string {
  if (s.pivot === 'locator') return c.objectName(s.pivotObject) ?? 'no locator yet';
  return choice(PIVOT, s) + (s.readAt === 'rest' && READ_AT.shown?.(s) ? ', at rest' : '');
}

/** The pivot of a mesh in world space. @throws NodeError when its rest, its point or its locator is missing */
export function pivotOf(context: NodeContext, mesh: Mesh): Vec3 {
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
    points = withPositions(mesh, rest.data as Float32Array).positions;
  }
  const count = points.length / 3;
  if (count === 0) throw new NodeError({ code: 'mesh-empty' });
  if (settings.pivot === 'index') {
    const i = context.integer('pivotIndex');
    if (i < 0 || i >= count) throw new NodeError({ code: 'index-range', index: i, count });
    return [points[i * 3], points[i * 3 + 1], points[i * 3 + 2]];
  }
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  const sum = [0, 0, 0];
  for (let i = 0; i < points.length; i++) {
    const axis = i % 3;
    const v = points[i];
    sum[axis] += v;
    if (v < low[axis]) low[axis] = v;
    if (v > high[axis]) high[axis] = v;
  }
  if (settings.pivot === 'average') return [sum[0] / count, sum[1] / count, sum[2] / count];
  const middle = (axis: number) => (low[axis] + high[axis]) / 2;
  return [middle(0), settings.pivot === 'base' ? low[1] : middle(1), middle(2)];
}

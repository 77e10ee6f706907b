import type { Attribute } from '../../geometry/attributes.ts';
import { findAttribute, withAttribute, type Mesh } from '../../geometry/mesh.ts';
import { WEIGHT_PREFIX, weightsOf } from '../../chains/skin-weights.ts';
import type { NodeContext, NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { meshValue } from '../../graph/node/values.ts';
import { eachPainted, NO_PAINT, paintedPoints } from '../../paint/painted.ts';
import type { Painted } from '../../project/fields.ts';
import { counted } from '../../words.ts';
import { ATTRIBUTE_NAME, checkName } from '../attributes.ts';
import { MESH_IN, MESH_OUT, numberPort, text } from '../ports.ts';

export const paintValues: NodeDefinition = {
  id: 'paint-values',
  version: 1,
  title: 'Paint Values',
  group: 'Read and write',
  summary: 'Numbers on points, painted by hand: press Paint in its settings, then draw on the mesh in the stage.',
  keywords: ['brush', 'weights', 'skin', 'mask', 'draw', 'by hand', 'map'],
  inputs: () => [
    MESH_IN,
    numberPort('otherwise', 'otherwise', undefined, 0, [0, 1], 'What points have that nothing painted and that come without.'),
  ],
  outputs: () => [MESH_OUT],
  settings: [
    {
      ...ATTRIBUTE_NAME,
      default: 'painted',
      help: 'The attribute that the brush paints. What was painted of others stays.',
    } as NodeDefinition['settings'][number],
    { id: 'least', label: 'Least', type: 'number', default: 0, help: 'The brush takes no number below this.' },
    { id: 'most', label: 'Most', type: 'number', default: 1, help: 'The brush takes no number above this.' },
    {
      id: 'together',
      label: 'Weights sum to 1',
      type: 'toggle',
      default: true,
      shown: (s) => text(s, 'name').startsWith(WEIGHT_PREFIX),
      help: 'What one joint is given, the others give up: a painted point has the weights it was painted with and no others.',
    },
    {
      id: 'painted',
      label: 'Painted',
      type: 'painted',
      default: NO_PAINT,
      help: 'Kept by point number, in the place of what comes in.',
    },
  ],
  byPointNumber: true,
  sentence: (s) => {
    const points = paintedPoints(s.painted as Painted, text(s, 'name'));
    return points === 0 ? `${text(s, 'name')}: nothing painted yet` : `${text(s, 'name')} on ${counted(points, 'point')}`;
  },
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const { settings } = context;
    const name = checkName(text(settings, 'name'));
    const painted = settings.painted as Painted;
    const count = mesh.topology.pointCount;
    const names = Object.keys(painted.columns).filter((n) => paintedPoints(painted, n) > 0);
    const lost = lostPoints(painted, names, count);
    if (names.length > 0 && painted.points !== count)
      context.report({ code: 'painted-count', made: painted.points, count, lost, severity: 'warning' });
    // Weights of painted points are those that were painted, whatever comes in for joints that got none.
    const isWeight = (n: string) => settings.together === true && n.startsWith(WEIGHT_PREFIX);
    const weightNames = names.filter(isWeight);
    const held = weightNames.length > 0 ? pointsPainted(painted, weightNames, count) : undefined;
    const cleared = held ? weightsOf(mesh).map((a) => a.name) : [];
    let out = mesh;
    for (const n of new Set([name, ...names, ...cleared])) {
      const data = startOf(context, mesh, n);
      if (held && isWeight(n)) for (let p = 0; p < count; p++) if (held[p] === 1) data[p] = 0;
      eachPainted(painted, n, (p, value) => {
        if (p < count) data[p] = value;
      });
      out = withAttribute(out, { name: n, on: 'point', type: 'number', role: 'plain', data } satisfies Attribute);
    }
    return { mesh: meshValue(out) };
  },
};

/** A copy of the numbers that come in under a name, or what stands for them. @throws NodeError when it is no number on points */
function startOf(context: NodeContext, mesh: Mesh, name: string): Float32Array {
  const data = context.floats(mesh.topology.pointCount);
  const has = mesh.attributes.find((a) => a.name === name);
  const numbers = findAttribute(mesh, name, 'point');
  if (has && numbers?.type !== 'number') throw new NodeError({ code: 'paint-type', name, type: has.type, on: has.on });
  if (numbers) data.set(numbers.data);
  else {
    const otherwise = name.startsWith(WEIGHT_PREFIX) ? 0 : context.number('otherwise');
    if (otherwise !== 0) data.fill(otherwise);
  }
  return data;
}

/** 1 for every point that has something painted of some attributes. */
function pointsPainted(painted: Painted, names: readonly string[], count: number): Uint8Array {
  const held = new Uint8Array(count);
  for (const n of names)
    eachPainted(painted, n, (p) => {
      if (p < count) held[p] = 1;
    });
  return held;
}

/** How many painted points a mesh of so many does not have. */
function lostPoints(painted: Painted, names: readonly string[], count: number): number {
  if (painted.points <= count) return 0;
  const lost = new Set<number>();
  for (const n of names)
    eachPainted(painted, n, (p) => {
      if (p >= count) lost.add(p);
    });
  return lost.size;
}

import { weigh } from '../../falloffs/weigh.ts';
import type { NodeContext, NodeDefinition } from '../../graph/definition.ts';
import { NodeError } from '../../graph/problems.ts';
import type { Column, Single, Value } from '../../graph/values.ts';
import {
  compose,
  identity,
  invert,
  multiply,
  positionOf,
  translation,
  type Matrix,
} from '../../maths/matrix.ts';
import { scale, type Vec3 } from '../../maths/vector.ts';
import { SHOWN_PORT } from '../flow/show-mesh.ts';
import { text, WEIGHT_IN } from '../ports.ts';

const vector = (context: NodeContext, port: string): Vec3 => {
  const { data } = context.input(port) as Single;
  return data.length === 3 ? [data[0], data[1], data[2]] : [data[0], data[0], data[0]];
};

export const driveGroup: NodeDefinition = {
  id: 'drive-group',
  version: 1,
  title: 'Drive Group',
  group: 'Copies',
  summary:
    'Moves, turns and sizes all objects under a group, each by its own weight; their channels stay free.',
  keywords: ['objects', 'members', 'many', 'carrier', 'props'],
  inputs: () => [
    { id: 'move', label: 'move', kind: 'vector', unit: 'm', uniform: true, default: [0, 0.5, 0], range: { min: -5, max: 5 }, help: 'How far at full weight, along world axes.' }, // prettier-ignore
    { id: 'turn', label: 'turn', kind: 'vector', unit: '°', uniform: true, default: [0, 0, 0], range: { min: -180, max: 180 }, help: 'Turn about each one’s own place, along world axes.' }, // prettier-ignore
    { id: 'size', label: 'size', kind: 'number', uniform: true, default: 1, range: { min: 0, max: 3 }, help: 'Size about each one’s own place.' }, // prettier-ignore
    { ...WEIGHT_IN, help: 'How much of it each object gets: one value, a column with one each, or a falloff weighed where it rests.' }, // prettier-ignore
  ],
  outputs: () => [],
  settings: [
    {
      id: 'object',
      label: 'Group',
      type: 'object',
      takes: 'group',
      help: 'The group whose objects are driven, in the order of the scene list.',
    },
  ],
  sentence: (s, c) => `all of ${c.objectName(s.object) ?? 'no group yet'}`,
  reads: (s) => (text(s, 'object') ? [{ object: text(s, 'object'), facet: 'restMembers' }] : []),
  drives: (s, project) =>
    project.objects.filter((o) => o.parent !== null && o.parent === s.object).map((o) => o.id),
  evaluate(context) {
    const group = context.object('object');
    const members = group.children;
    if (members.length === 0) throw new NodeError({ code: 'group-empty', group: group.name });
    const weights = weightsOf(
      context,
      members.map((m) => m.rest),
    );
    const [move, turn, size] = [vector(context, 'move'), vector(context, 'turn'), context.number('size')];
    const carriers = new Map<string, Matrix>();
    const inverse = identity();
    if (!invert(inverse, group.rest))
      throw new NodeError({ code: 'matrix-singular', what: `The matrix of "${group.name}"` });
    members.forEach((m, i) => {
      const w = weights[i];
      const place = positionOf(m.rest);
      const s = 1 + (size - 1) * w;
      const change = compose(scale(move, w), scale(turn, (w * Math.PI) / 180), 'xyz', [s, s, s]);
      // About the object's own place, then from the world into the group: C = P⁻¹ · T(p) · M · T(−p) · P.
      multiply(change, translation(place), change);
      multiply(change, change, translation(scale(place, -1)));
      carriers.set(m.id, multiply(change, multiply(change, inverse, change), group.rest));
    });
    return { [SHOWN_PORT]: { form: 'carriers', kind: 'carriers', carriers } as Value };
  },
};

/** One weight per object. @throws NodeError when a column has another count */
function weightsOf(context: NodeContext, rests: readonly Matrix[]): ArrayLike<number> {
  const given = context.input('weight');
  if (given?.form === 'falloff') {
    const places = Float32Array.from(rests.flatMap((m) => [...positionOf(m)]));
    return weigh(given.falloff, places, new Float32Array(rests.length), context.checkpoint);
  }
  const value = given as Single | Column;
  if (value.form === 'single') return rests.map(() => value.data[0]);
  if (value.count !== rests.length) throw new NodeError({ code: 'column-objects', port: 'weight', count: value.count, objects: rests.length }); // prettier-ignore
  return value.data;
}

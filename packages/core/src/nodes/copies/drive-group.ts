import { weigh } from '../../falloffs/weigh.ts';
import type { NodeContext, NodeDefinition, ObjectView, Settings } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { drivenValue, type Column, type Single } from '../../graph/node/values.ts';
import { identity, invert, multiply, positionOf, translation, type Matrix, matrixAt } from '../../maths/matrix.ts';
import { compose } from '../../maths/factors.ts';
import type { Driven } from '../../scene/world.ts';
import { scale } from '../../maths/vector.ts';
import { carrierFrom, MATRIX_IS } from '../constraints/carrier-kind.ts';
import { matrixLanes, matrixPort } from '../matrices/lanes.ts';
import { SHOWN_PORT } from '../../graph/node/definition.ts';
import { choiceSetting, singleVector, text, WEIGHT_IN } from '../ports.ts';

const byMatrices = (s: Settings) => s.by === 'matrices';

export const driveGroup: NodeDefinition = {
  id: 'drive-group',
  version: 1,
  title: 'Drive Group',
  group: 'Copies',
  summary: 'Moves, turns and sizes all objects under a group, each by its own weight; their channels stay free.',
  keywords: ['objects', 'members', 'many', 'carrier', 'props'],
  inputs: (s) =>
    byMatrices(s)
      ? [matrixPort('matrix', 'matrices', 'One for each object, or one for all.')]
      : [
          {
            id: 'move',
            label: 'move',
            kind: 'vector',
            unit: 'm',
            uniform: true,
            default: [0, 0.5, 0],
            range: { min: -5, max: 5 },
            help: 'How far at full weight, along world axes.',
          },
          {
            id: 'turn',
            label: 'turn',
            kind: 'vector',
            unit: '°',
            uniform: true,
            default: [0, 0, 0],
            range: { min: -180, max: 180 },
            help: 'Turn about each one’s own place, along world axes.',
          },
          {
            id: 'size',
            label: 'size',
            kind: 'number',
            uniform: true,
            default: 1,
            range: { min: 0, max: 3 },
            help: 'Size about each one’s own place.',
          },
          {
            ...WEIGHT_IN,
            help: 'How much of it each object gets: one value, a column with one each, or a falloff weighed where it rests.',
          },
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
    choiceSetting(
      'by',
      'By',
      [
        ['parts', 'Move, turn and size'],
        ['matrices', 'Matrices'],
      ],
      'One change under a weight for each, or a matrix for each.',
    ),
    choiceSetting(
      'is',
      'They are',
      MATRIX_IS,
      'What the matrices are: what goes under the channels, a change seen from the world, or places.',
      byMatrices,
    ),
  ],
  sentence: (s, c) => `${byMatrices(s) ? 'matrices onto ' : ''}all of ${c.objectName(s.object) ?? 'no group yet'}`,
  reads: (s) => {
    const object = text(s, 'object');
    if (!object) return [];
    const rest = { object, facet: 'restMembers' as const };
    return byMatrices(s) ? [rest, { object, facet: 'world' }] : [rest];
  },
  drives: (s, project) =>
    project.objects.filter((o) => o.parent !== null && o.parent === s.object).map((o) => ({ object: o.id })),
  evaluate(context) {
    const group = context.object('object');
    const members = group.children;
    if (members.length === 0) throw new NodeError({ code: 'group-empty', group: group.name, removed: group.isRemoved });
    if (byMatrices(context.settings)) return { [SHOWN_PORT]: drivenValue(placed(context, members)) };
    const weights = weightsOf(
      context,
      members.map((m) => m.rest),
    );
    const [move, turn, size] = [singleVector(context, 'move'), singleVector(context, 'turn'), context.number('size')];
    const driven = new Map<string, Driven>();
    const inverse = identity();
    if (!invert(inverse, group.rest))
      throw new NodeError({
        code: 'matrix-singular',
        what: `The matrix of "${group.name}"`,
        so: 'its objects stay at rest',
      });
    members.forEach((m, i) => {
      const w = weights[i];
      const place = positionOf(m.rest);
      const s = 1 + (size - 1) * w;
      const change = compose(scale(move, w), scale(turn, (w * Math.PI) / 180), 'xyz', [s, s, s]);
      // About the object's own place, then from the world into the group: C = P⁻¹ · T(p) · M · T(−p) · P.
      multiply(change, translation(place), change);
      multiply(change, change, translation(scale(place, -1)));
      driven.set(m.id, { carrier: multiply(change, multiply(change, inverse, change), group.rest) });
    });
    return { [SHOWN_PORT]: drivenValue(driven) };
  },
};

/** Carriers from matrices, one for each object or one for all. @throws NodeError when the counts differ */
function placed(context: NodeContext, members: readonly ObjectView[]): Map<string, Driven> {
  const { lanes, count, owner } = matrixLanes(context, ['matrix']);
  if (owner !== undefined && count !== members.length)
    throw new NodeError({ code: 'column-objects', port: 'matrices', count, objects: members.length });
  const is = text(context.settings, 'is');
  const { data, step } = lanes[0];
  return new Map(members.map((m, i) => [m.id, { carrier: carrierFrom(is, matrixAt(data, step === 0 ? 0 : i), m).slice() }]));
}

/** One weight per object. @throws NodeError when a column has another count */
function weightsOf(context: NodeContext, rests: readonly Matrix[]): ArrayLike<number> {
  const given = context.input('weight');
  if (given?.form === 'falloff') {
    const places = Float32Array.from(rests.flatMap((m) => [...positionOf(m)]));
    return weigh(given.falloff, places, new Float32Array(rests.length), context.checkpoint);
  }
  const value = given as Single | Column;
  if (value.form === 'single') return rests.map(() => value.data[0]);
  if (value.count !== rests.length)
    throw new NodeError({ code: 'column-objects', port: 'weight', count: value.count, objects: rests.length });
  return value.data;
}

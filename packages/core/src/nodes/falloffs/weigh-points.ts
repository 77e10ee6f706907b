import { weigh } from '../../falloffs/weigh.ts';
import { withAttribute } from '../../geometry/mesh.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { KIND_WORDS } from '../../graph/node/kinds.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { pointsOf } from '../../graph/node/points-of.ts';
import { copiesValue, copyColumn, curveColumn, meshValue, pointColumn, type Value } from '../../graph/node/values.ts';
import { checkName, needAttribute, REST_POSITION } from '../attributes.ts';
import { choiceSetting, FALLOFF_IN, text } from '../ports.ts';

export const weighPoints: NodeDefinition = {
  id: 'weigh-points',
  version: 1,
  title: 'Weigh Points',
  group: 'Falloffs',
  summary: 'Weighs every point of a mesh or of curves, or every copy, with a falloff; the weights can be stored.',
  keywords: ['weights', 'mask', 'column', 'numbers'],
  inputs: () => [
    { id: 'geometry', label: 'geometry', kind: 'geometry', help: 'What is weighed.' },
    { ...FALLOFF_IN, help: 'The falloff to weigh with.' },
  ],
  outputs: () => [
    {
      id: 'geometry',
      label: 'geometry',
      kind: 'geometry',
      help: 'The same, with the weights stored if they have a name.',
    },
    { id: 'weights', label: 'weights', kind: 'number', help: 'One weight per point or copy.' },
  ],
  settings: [
    choiceSetting(
      'at',
      'Weighed',
      [
        ['now', 'Where points are now'],
        ['rest', 'Where they were at rest'],
      ],
      'At rest, weights do not change while the mesh is deformed.',
    ),
    {
      id: 'name',
      label: 'Keep as',
      type: 'text',
      default: '',
      attributeOf: 'geometry',
      help: 'The name of the attribute that gets the weights; empty keeps nothing.',
    },
  ],
  sentence: (s) => `${s.at === 'rest' ? 'at rest' : 'now'}${text(s, 'name') ? `, kept as ${text(s, 'name')}` : ''}`,
  passes: { geometry: 'geometry' },
  evaluate(context) {
    const from = context.input('geometry') as Value;
    const { settings } = context;
    let points = pointsOf(from) ?? new Float32Array(0);
    if (settings.at === 'rest' && from.form === 'geometry')
      points = needAttribute(from.mesh, REST_POSITION, 'point').data as Float32Array;
    const data = weigh(context.falloff('falloff'), points, context.room(points.length / 3), context.checkpoint);
    const name = text(settings, 'name') ? checkName(text(settings, 'name')) : '';
    const attribute = { name, type: 'number', role: 'plain', data } as const;
    if (from.form === 'geometry') {
      const mesh = name ? withAttribute(from.mesh, { ...attribute, on: 'point' }) : from.mesh;
      return { geometry: meshValue(mesh), weights: pointColumn(mesh, 'number', data) };
    }
    if (from.form === 'copies') {
      const { copies } = from;
      const attributes = [...copies.attributes.filter((a) => a.name !== name), attribute];
      return {
        geometry: name ? copiesValue({ ...copies, attributes }) : from,
        weights: copyColumn(copies, 'number', data),
      };
    }
    if (from.form === 'curves') return { geometry: from, weights: curveColumn(from.curves, 'number', data) };
    throw new NodeError({ code: 'input-missing', port: 'geometry', needs: KIND_WORDS.geometry });
  },
};

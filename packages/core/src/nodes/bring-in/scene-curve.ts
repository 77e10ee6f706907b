import { transformCurves } from '../../curves/curves.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { curvesValue, matrixValue, type Value } from '../../graph/node/values.ts';
import { choiceSetting, text } from '../ports.ts';

export const sceneCurve: NodeDefinition = {
  id: 'scene-curve',
  version: 1,
  title: 'Scene Curve',
  group: 'Bring in',
  summary: 'Brings a curve object of the scene into the graph, as it is now and as it was at rest.',
  keywords: ['spline', 'path', 'spine', 'line', 'rail'],
  inputs: () => [],
  outputs: () => [
    { id: 'curves', label: 'curves', kind: 'curves', help: 'The curve now.' },
    {
      id: 'restCurves',
      label: 'rest curves',
      kind: 'curves',
      help: 'The curve as it was remembered at rest, where it stood at rest.',
    },
    { id: 'matrix', label: 'matrix', kind: 'matrix', help: "The object's world matrix now." },
  ],
  settings: [
    { id: 'object', label: 'Curve', type: 'object', takes: 'curve', help: 'The curve object to read.' },
    choiceSetting(
      'space',
      'Space',
      [
        ['world', 'World'],
        ['own', 'Own'],
      ],
      'World: where it stands in the scene. Own: in the object’s own space.',
    ),
  ],
  sentence: (s, c) => `${c.objectName(s.object) ?? 'no curve yet'}, ${s.space === 'own' ? 'own' : 'world'} space`,
  reads: (s) => {
    const object = text(s, 'object');
    if (!object) return [];
    const own = s.space === 'own';
    return [
      { object, facet: 'source', ports: ['curves', 'restCurves'] },
      { object, facet: 'world', ports: own ? ['matrix'] : ['curves', 'matrix'] },
      ...(own ? [] : [{ object, facet: 'rest' as const, ports: ['restCurves'] }]),
    ];
  },
  evaluate(context) {
    const object = context.object('object');
    const out: Record<string, Value> = { matrix: matrixValue(object.world) };
    if (!context.wants('curves') && !context.wants('restCurves')) return out;
    const { curve } = object;
    if (!curve || curve.shape.pointCount === 0) throw new NodeError({ code: 'curve-missing', object: object.name });
    const own = context.settings.space === 'own';
    out.curves = curvesValue(own ? curve : transformCurves(curve, object.world));
    const rest = object.restCurve ?? curve;
    out.restCurves = curvesValue(own ? rest : transformCurves(rest, object.rest));
    return out;
  },
};

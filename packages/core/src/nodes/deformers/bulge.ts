import type { NodeDefinition } from '../../graph/node/definition.ts';
import { compileResponse, respond, RESPONSE_PRESETS, type CompiledResponse, type Response } from '../../maths/response.ts';
import { MESH_IN, MESH_OUT, numberPort, WEIGHT_IN, typedWords } from '../ports.ts';
import { REACH_OUT, reachValue } from './reach.ts';
import { DIRECTION_IN, distances, leastOf, pushOut, reportReach } from './push-out.ts';

export const bulge: NodeDefinition = {
  id: 'bulge',
  version: 1,
  title: 'Bulge',
  group: 'Deformers',
  summary: 'Raises a bump round a centre: height by distance through a response.',
  keywords: ['bump', 'swell', 'blister', 'knob'],
  inputs: () => [
    MESH_IN,
    {
      id: 'centre',
      label: 'centre',
      kind: 'vector',
      unit: 'm',
      uniform: true,
      default: [0, 0, 0],
      starts: 'top',
      range: { min: -5, max: 5 },
      help: 'The middle of the bump.',
    },
    numberPort('radius', 'radius', 'm', 0.5, [0, 5], 'Where it ends.'),
    numberPort('height', 'height', 'm', 0.2, [-1, 1], 'How high it is in the middle.'),
    DIRECTION_IN,
    WEIGHT_IN,
  ],
  outputs: () => [MESH_OUT, REACH_OUT],
  settings: [
    {
      id: 'response',
      label: 'Response',
      type: 'response',
      default: RESPONSE_PRESETS['Ease down'],
      help: 'From the middle to the rim.',
    },
  ],
  sentence: (_, c) => `${typedWords(c, 'height')} m high, ${typedWords(c, 'radius')} m wide`,
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const [cx, cy, cz] = context.lane('centre', 'vector', 1);
    const radius = context.number('radius');
    const height = context.number('height');
    const response = compileResponse(context.settings.response as Response);
    const p = mesh.positions;
    if (!(radius > 0))
      context.report({
        code: 'needs-positive',
        port: 'radius',
        value: radius,
        unit: 'm',
        so: 'nothing is in it',
        severity: 'warning',
      });
    let nearest = Infinity;
    const pushed = pushOut(context, mesh, (by, from, count) => {
      if (!(radius > 0)) return void by.fill(0);
      distances(by, p, [cx, cy, cz], from, count);
      if (!(nearest < radius)) nearest = leastOf(by, count, nearest);
      for (let i = 0; i < count; i++) by[i] /= radius;
      heights(by, count, response, height);
    });
    reportReach(context, radius, nearest);
    return { ...pushed, within: reachValue([cx, cy, cz], radius) };
  },
};

/** Heights for distances, of which 1 is the rim. */
function heights(by: Float64Array, count: number, response: CompiledResponse, height: number): void {
  for (let i = 0; i < count; i++) by[i] = by[i] < 1 ? height * respond(response, by[i]) : 0;
}

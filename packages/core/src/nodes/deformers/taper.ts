import { boundsCentre } from '../../geometry/bounds.ts';
import { knownBounds } from '../../geometry/derived.ts';
import { withPositions } from '../../geometry/mesh.ts';
import { tellFinite } from '../../maths/finite.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { meshValue } from '../../graph/node/values.ts';
import { compileResponse, respond, RESPONSE_PRESETS, type Response } from '../../maths/response.ts';
import { axisOf, axisSetting, MESH_IN, MESH_OUT, numberPort, text, WEIGHT_IN, typedWords } from '../ports.ts';

export const taper: NodeDefinition = {
  id: 'taper',
  version: 1,
  title: 'Taper',
  group: 'Deformers',
  summary: 'Sizes the cross-sections of a mesh along an axis, from one end to the other.',
  keywords: ['narrow', 'cone', 'pinch', 'scale along'],
  inputs: () => [
    MESH_IN,
    numberPort('start', 'size start', undefined, 1, [0, 3], 'Size at the low end.'),
    numberPort('end', 'size end', undefined, 0.5, [0, 3], 'Size at the high end.'),
    WEIGHT_IN,
  ],
  outputs: () => [MESH_OUT],
  settings: [
    axisSetting('y', 'The axis; it runs through the middle of the bounds.'),
    {
      id: 'response',
      label: 'Response',
      type: 'response',
      default: RESPONSE_PRESETS.Straight,
      help: 'The way from start to end.',
    },
  ],
  sentence: (s, c) => `along ${text(s, 'axis')}, ${typedWords(c, 'start')} to ${typedWords(c, 'end')}`,
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const p = mesh.positions;
    const axis = axisOf(context.settings);
    const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
    const bounds = knownBounds(p);
    const centre = boundsCentre(bounds);
    const low = bounds.low[axis];
    const span = bounds.high[axis] - low;
    const [from, to] = [context.number('start'), context.number('end')];
    const response = compileResponse(context.settings.response as Response);
    const { pointCount } = mesh.topology;
    const { data: weight, step } = context.view('weight', 'number', pointCount);
    const out = context.floats(p.length);
    const [cu, cv] = [centre[u], centre[v]];
    let sum = 0;
    for (let i = 0, o = 0; i < pointCount; i++, o += 3) {
      if ((i & 65535) === 0) context.checkpoint();
      const t = span > 0 ? (p[o + axis] - low) / span : 0;
      const size = 1 + (from + (to - from) * respond(response, t) - 1) * weight[i * step];
      const h = p[o + axis];
      const x = cu + (p[o + u] - cu) * size;
      const y = cv + (p[o + v] - cv) * size;
      out[o + axis] = h;
      out[o + u] = x;
      out[o + v] = y;
      sum += Math.abs(h) + Math.abs(x) + Math.abs(y);
    }
    tellFinite(out, sum);
    return { mesh: meshValue(withPositions(mesh, out)) };
  },
};

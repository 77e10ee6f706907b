import type { NodeDefinition } from '../../graph/node/definition.ts';
import { compileResponse, respond, RESPONSE_PRESETS, type Response } from '../../maths/response.ts';

export const response: NodeDefinition = {
  id: 'response',
  version: 1,
  title: 'Response',
  group: 'Maths',
  summary: 'Sends numbers through an editable curve; below its first and above its last point it keeps their values.',
  keywords: ['curve', 'falloff', 'ease', 'shape', 'profile'],
  inputs: () => [
    {
      id: 'value',
      label: 'value',
      kind: 'number',
      default: 0.5,
      range: { min: 0, max: 1 },
      help: 'Where on the curve to read, usually 0 to 1.',
    },
  ],
  outputs: () => [{ id: 'result', label: 'result', kind: 'number', help: 'The height of the curve there.' }],
  settings: [
    {
      id: 'response',
      label: 'Response',
      type: 'response',
      default: RESPONSE_PRESETS['Ease down'],
      help: 'The curve: drag points and handles, double-click to add one.',
    },
  ],
  sentence: (s) => {
    const r = s.response as Response;
    return `${r.points.length} ${r.points.length === 1 ? 'point' : 'points'}${r.invert ? ', inverted' : ''}`;
  },
  passes: { result: 'value' },
  elements: {
    plan: () => ({
      inputs: [{ port: 'value', lane: 'number' }],
      outputs: [{ port: 'result', lane: 'number' }],
    }),
    compile(s, _plan, _uniforms, { report }) {
      const r = s.response as Response;
      const compiled = compileResponse(r);
      if (r.points.length === 1) report({ code: 'response-constant', value: compiled.firstValue, severity: 'warning' });
      return (inputs, inputAt, outputs, outputAt, count) => {
        const value = inputs[0],
          out = outputs[0],
          i = inputAt[0],
          o = outputAt[0];
        for (let k = 0; k < count; k++) out[o + k] = respond(compiled, value[i + k]);
      };
    },
  },
};

import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { compileGradient, readGradient } from '../../maths/gradient.ts';
import type { Gradient } from '../../maths/gradient.ts';
import { needAttribute } from '../attributes.ts';
import { GRADIENT } from '../maths/gradient.ts';
import { MESH_IN, MESH_OUT, text } from '../ports.ts';

export const colourBy: NodeDefinition = {
  id: 'colour-by',
  version: 1,
  title: 'Colour By',
  group: 'Read and write',
  summary: 'Stores a colour per point on the mesh: a number or an attribute through a gradient.',
  keywords: ['paint', 'color', 'heat map', 'colours'],
  inputs: () => [
    MESH_IN,
    {
      id: 'value',
      label: 'value',
      kind: 'weight',
      optional: true,
      help: 'What is shown: one number per point, or a falloff. Left open, the attribute named below is shown.',
    },
    {
      id: 'from',
      label: 'from',
      kind: 'number',
      default: 0,
      range: { min: -10, max: 10 },
      uniform: true,
      help: 'The value that gets the first colour.',
    },
    {
      id: 'to',
      label: 'to',
      kind: 'number',
      default: 1,
      range: { min: -10, max: 10 },
      uniform: true,
      help: 'The value that gets the last colour.',
    },
  ],
  outputs: () => [MESH_OUT, { id: 'colour', label: 'colour', kind: 'vector', help: 'The colours.' }],
  settings: [
    {
      id: 'name',
      label: 'Attribute',
      type: 'text',
      default: '',
      attributeOf: 'mesh',
      help: 'The attribute that is shown when no value is connected.',
    },
    GRADIENT,
  ],
  sentence: (s, c) =>
    c.connected('value') ? 'by the value on the wire' : text(s, 'name') ? `by ${text(s, 'name')}` : 'by nothing yet',
  passes: { mesh: 'mesh' },
  elements: {
    plan: (s, kinds, meshes) => {
      const mesh = meshes?.get('mesh');
      const name = text(s, 'name');
      if (mesh && !kinds.value) {
        if (!name) throw new NodeError({ code: 'attribute-name', what: 'Nothing is connected to "value".' });
        needAttribute(mesh, name);
      }
      return {
        inputs: [kinds.value ? { port: 'value', lane: 'number' } : { port: 'mesh', lane: 'number', read: name }],
        outputs: [{ port: 'colour', lane: 'vector' }],
        mesh: { port: 'mesh', from: 'mesh', on: 'point', writes: [{ output: 0, name: 'colour', type: 'colour', role: 'plain' }] },
      };
    },
    compile: (s, _plan, uniforms, { report }) => {
      const compiled = compileGradient(s.gradient as Gradient);
      const { from, to } = uniforms;
      if (from === to) report({ code: 'range-empty', value: from, severity: 'warning' });
      return (inputs, inputAt, outputs, outputAt, count) => {
        const value = inputs[0],
          out = outputs[0],
          i = inputAt[0],
          o = outputAt[0];
        for (let k = 0; k < count; k++) {
          const v = value[i + k];
          readGradient(out, o + k * 3, compiled, from === to ? (v >= to ? 1 : 0) : (v - from) / (to - from));
        }
      };
    },
  },
};

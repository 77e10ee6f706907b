import type { NodeDefinition } from '../../graph/node/definition.ts';
import { MESH_IN, MESH_OUT, numberPort, WEIGHT_IN, typedWords } from '../ports.ts';
import { REACH_OUT, reachValue } from './reach.ts';
import { DIRECTION_IN, distances, leastOf, pushOut, reportReach } from './push-out.ts';

export const ringWaves: NodeDefinition = {
  id: 'ring-waves',
  version: 1,
  title: 'Ring Waves',
  group: 'Deformers',
  summary: 'Sends waves out from a centre, lower as they go.',
  keywords: ['ripple', 'water', 'circles', 'drop'],
  inputs: () => [
    MESH_IN,
    {
      id: 'centre',
      label: 'centre',
      kind: 'vector',
      unit: 'm',
      uniform: true,
      default: [0, 0, 0],
      starts: 'middle',
      range: { min: -5, max: 5 },
      help: 'Where the waves come from.',
    },
    numberPort('height', 'height', 'm', 0.1, [-1, 1], 'How high they are at the centre.'),
    numberPort('wavelength', 'wavelength', 'm', 0.5, [0.01, 5], 'From crest to crest.'),
    numberPort('speed', 'speed', 'm/s', 0.5, [-5, 5], 'How fast crests travel outwards.'),
    numberPort('reach', 'reach', 'm', 2, [0, 10], 'Where they have died away.'),
    numberPort('time', 'time', 's', 0, [0, 10], 'The time the speed counts in.', {
      default: { expression: 'seconds' },
    }),
    DIRECTION_IN,
    WEIGHT_IN,
  ],
  outputs: () => [MESH_OUT, REACH_OUT],
  settings: [],
  sentence: (_, c) => `${typedWords(c, 'wavelength')} m long`,
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const [cx, cy, cz] = context.lane('centre', 'vector', 1);
    const [height, speed, reach, time] = ['height', 'speed', 'reach', 'time'].map((id) => context.number(id));
    const wavelength = context.number('wavelength');
    if (!(wavelength > 0))
      context.report({
        code: 'needs-positive',
        port: 'wavelength',
        value: wavelength,
        unit: 'm',
        so: 'there are no waves',
        severity: 'warning',
      });
    if (!(reach > 0))
      context.report({
        code: 'needs-positive',
        port: 'reach',
        value: reach,
        unit: 'm',
        so: 'there are no waves',
        severity: 'warning',
      });
    const turn = wavelength > 0 ? (2 * Math.PI) / wavelength : 0;
    const p = mesh.positions;
    let nearest = Infinity;
    const pushed = pushOut(context, mesh, (by, from, count) => {
      if (turn === 0) return void by.fill(0);
      distances(by, p, [cx, cy, cz], from, count);
      if (!(nearest < reach)) nearest = leastOf(by, count, nearest);
      for (let i = 0; i < count; i++) {
        const d = by[i];
        const left = reach > 0 ? Math.max(0, 1 - d / reach) : 0;
        by[i] = height * left * left * Math.cos(turn * (d - speed * time));
      }
    });
    reportReach(context, reach, nearest);
    return { ...pushed, within: reachValue([cx, cy, cz], reach) };
  },
};

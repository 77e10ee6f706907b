import { wholeWithin } from '../within.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { findAttribute } from '../../geometry/mesh.ts';
import { fractalNoise4, makeNoise } from '../../maths/noise.ts';
import { REST_POSITION } from '../attributes.ts';
import { MESH_IN, MESH_OUT, numberPort, toggleSetting, WEIGHT_IN, yes, typedWords } from '../ports.ts';
import { DIRECTION_IN, pushOut } from './push-out.ts';

export const swellByNoise: NodeDefinition = {
  id: 'swell-by-noise',
  version: 1,
  title: 'Swell By Noise',
  group: 'Deformers',
  summary: 'Pushes points in and out by noise.',
  keywords: ['displace', 'rough', 'bumps', 'lumpy'],
  inputs: () => [
    MESH_IN,
    numberPort('amount', 'amount', 'm', 0.1, [-1, 1], 'How far at most.'),
    numberPort('frequency', 'frequency', '/m', 2, [0, 20], 'Bumps per metre.'),
    numberPort('octaves', 'octaves', undefined, 3, [1, 8], 'Layers of finer detail.', { kind: 'integer' }),
    numberPort('time', 'time', undefined, 0, [0, 10], 'Changes the noise; drive it by seconds to make it boil.'),
    numberPort('seed', 'seed', undefined, 1, [0, 100], 'Another number gives another noise.', {
      kind: 'integer',
    }),
    DIRECTION_IN,
    WEIGHT_IN,
  ],
  outputs: () => [MESH_OUT],
  settings: [
    toggleSetting(
      'rest',
      'Sticks to restPosition',
      true,
      'Sample the noise where points were at rest, if they remember it, so that bumps do not swim.',
    ),
  ],
  sentence: (_, c) => `${typedWords(c, 'amount')} m, ${typedWords(c, 'frequency')} per metre`,
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const stored = yes(context.settings, 'rest') ? findAttribute(mesh, REST_POSITION, 'point') : undefined;
    const p = (stored?.data as Float32Array | undefined) ?? mesh.positions;
    const [amount, frequency, time] = ['amount', 'frequency', 'time'].map((id) => context.number(id));
    const octaves = wholeWithin(context, 'octaves', 1, 8);
    const field = makeNoise(context.integer('seed'));
    return pushOut(context, mesh, (by, from, count) => {
      for (let i = 0, o = from * 3; i < count; i++, o += 3)
        by[i] =
          amount * fractalNoise4(field, p[o] * frequency, p[o + 1] * frequency, p[o + 2] * frequency, time, octaves, 2, 0.5);
    });
  },
};

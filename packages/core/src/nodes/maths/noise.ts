import type { InputPort, NodeDefinition } from '../../graph/node/definition.ts';
import { fractalNoise3, fractalNoise4, makeNoise } from '../../maths/noise.ts';
import { GIVES, yes } from '../ports.ts';

const MOST_OCTAVES = 12;

const INPUTS: readonly InputPort[] = [
  {
    id: 'position',
    label: 'position',
    kind: 'vector',
    unit: 'm',
    help: 'Where the noise is read, usually positions or restPosition.',
  },
  {
    id: 'frequency',
    label: 'frequency',
    kind: 'number',
    unit: '/m',
    default: 1,
    range: { min: 0, max: 10 },
    help: 'Bumps per metre.',
  },
  {
    id: 'octaves',
    label: 'octaves',
    kind: 'integer',
    default: 3,
    range: { min: 1, max: MOST_OCTAVES },
    uniform: true,
    help: 'Layers of ever finer noise.',
  },
  {
    id: 'lacunarity',
    label: 'lacunarity',
    kind: 'number',
    default: 2,
    range: { min: 1, max: 4 },
    uniform: true,
    help: 'Frequency of each layer against the one before.',
  },
  {
    id: 'gain',
    label: 'gain',
    kind: 'number',
    default: 0.5,
    range: { min: 0, max: 1 },
    uniform: true,
    help: 'Height of each layer against the one before.',
  },
  {
    id: 'offset',
    label: 'offset',
    kind: 'vector',
    default: [0, 0, 0],
    range: { min: -10, max: 10 },
    help: 'Moves the noise, in its own cells (after the frequency).',
  },
  {
    id: 'seed',
    label: 'seed',
    kind: 'integer',
    default: 0,
    range: { min: 0, max: 100 },
    uniform: true,
    help: 'Another seed, another noise.',
  },
];
const TIME: InputPort = {
  id: 'time',
  label: 'time',
  kind: 'number',
  default: { expression: 'seconds' },
  range: { min: 0, max: 10 },
  help: 'Place along the fourth axis: as it changes, the noise boils without drifting.',
};

export const noise: NodeDefinition = {
  id: 'noise',
  version: 1,
  title: 'Noise',
  group: 'Maths',
  summary: 'Smooth fractal noise at each position, −1 to 1 (simplex gradient noise), still or changing in time.',
  keywords: ['fractal', 'turbulence', 'simplex', 'perlin', 'random', 'waves', 'swell'],
  inputs: (s) => (yes(s, 'boils') ? [...INPUTS, TIME] : INPUTS),
  outputs: (s) => [
    {
      id: 'result',
      label: 'noise',
      kind: s.gives === 'vector' ? 'vector' : 'number',
      help: 'Noise between −1 and 1; as a vector, three unrelated noises.',
    },
  ],
  settings: [
    GIVES,
    {
      id: 'boils',
      label: 'Changes in time',
      type: 'toggle',
      default: false,
      help: 'Adds a fourth axis, usually driven by seconds.',
    },
  ],
  sentence: (s, c) => {
    const octaves = c.typed('octaves');
    return `${s.gives === 'vector' ? 'vector' : 'number'}${typeof octaves === 'number' ? `, ${octaves} octaves` : ''}${yes(s, 'boils') ? ', in time' : ''}`;
  },
  elements: {
    plan: (s) => ({
      inputs: [
        { port: 'position', lane: 'vector' },
        { port: 'frequency', lane: 'number' },
        { port: 'offset', lane: 'vector' },
        ...(yes(s, 'boils') ? [{ port: 'time', lane: 'number' as const }] : []),
      ],
      outputs: [{ port: 'result', lane: s.gives === 'vector' ? 'vector' : 'number' }],
    }),
    compile(s, _plan, uniforms, { report }) {
      const octaves = Math.round(Math.min(MOST_OCTAVES, Math.max(1, uniforms.octaves)));
      if (octaves !== uniforms.octaves) {
        report({
          code: 'value-range',
          port: 'octaves',
          value: uniforms.octaves,
          used: octaves,
          why: `1 to ${MOST_OCTAVES} are possible, so`,
          severity: 'warning',
        });
      }
      const { lacunarity, gain, seed } = uniforms;
      const width = s.gives === 'vector' ? 3 : 1;
      const fields = Array.from({ length: width }, (_, axis) => makeNoise(Math.round(seed) + axis * 7919));
      const boils = yes(s, 'boils');
      return (inputs, inputAt, outputs, outputAt, count) => {
        const [p, frequency, offset, time] = inputs;
        const [pi, fi, oi, ti] = inputAt;
        const out = outputs[0];
        for (let axis = 0; axis < width; axis++) {
          const field = fields[axis];
          for (let k = 0, j = pi, q = oi, o = outputAt[0] + axis; k < count; k++, j += 3, q += 3, o += width) {
            const f = frequency[fi + k];
            const x = p[j] * f + offset[q],
              y = p[j + 1] * f + offset[q + 1],
              z = p[j + 2] * f + offset[q + 2];
            out[o] = boils
              ? fractalNoise4(field, x, y, z, time[ti + k], octaves, lacunarity, gain)
              : fractalNoise3(field, x, y, z, octaves, lacunarity, gain);
          }
        }
      };
    },
  },
};

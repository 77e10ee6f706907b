import type { NodeDefinition } from '../../graph/node/definition.ts';
import { text } from '../ports.ts';

/** One period, from a phase of 0 to 1; −1 to 1, rising from 0 where it can. */
const SHAPES: Record<string, (phase: number) => number> = {
  sine: (p) => Math.sin(2 * Math.PI * p),
  triangle: (p) => 1 - 4 * Math.abs(p + 0.25 - Math.floor(p + 0.25) - 0.5),
  saw: (p) => 2 * (p - Math.floor(p)) - 1,
  pulse: (p) => (p - Math.floor(p) < 0.5 ? 1 : -1),
};

export const wave: NodeDefinition = {
  id: 'wave',
  version: 1,
  title: 'Wave',
  group: 'Maths',
  summary: 'A wave over a number, usually a distance: sine, triangle, saw or pulse, −1 to 1, running with time.',
  keywords: ['sine', 'ripple', 'oscillate', 'ring', 'triangle', 'saw', 'square'],
  inputs: () => [
    {
      id: 'value',
      label: 'value',
      kind: 'number',
      default: 0,
      range: { min: -10, max: 10 },
      help: 'Where along the wave to read.',
    },
    {
      id: 'wavelength',
      label: 'wavelength',
      kind: 'number',
      default: 1,
      range: { min: 0.01, max: 10 },
      help: 'How far one period reaches, in the unit of the value.',
    },
    {
      id: 'speed',
      label: 'speed',
      kind: 'number',
      unit: '/s',
      default: 0,
      range: { min: -5, max: 5 },
      help: 'Periods per second; positive runs towards larger values.',
    },
    {
      id: 'phase',
      label: 'phase',
      kind: 'number',
      default: 0,
      range: { min: 0, max: 1 },
      help: 'Moves the wave by so many periods.',
    },
    {
      id: 'time',
      label: 'time',
      kind: 'number',
      unit: 's',
      default: { expression: 'seconds' },
      range: { min: 0, max: 10 },
      help: 'The time the speed counts in.',
    },
  ],
  outputs: () => [{ id: 'result', label: 'wave', kind: 'number', help: 'The height of the wave, −1 to 1.' }],
  settings: [
    {
      id: 'shape',
      label: 'Shape',
      type: 'choice',
      options: Object.keys(SHAPES).map((value) => ({
        value,
        label: value[0].toUpperCase() + value.slice(1),
      })),
      default: 'sine',
      help: 'The form of one period.',
    },
  ],
  sentence: (s) => text(s, 'shape'),
  elements: {
    plan: () => ({
      inputs: ['value', 'wavelength', 'speed', 'phase', 'time'].map((port) => ({
        port,
        lane: 'number' as const,
      })),
      outputs: [{ port: 'result', lane: 'number' }],
    }),
    compile: (s) => {
      const shape = SHAPES[text(s, 'shape')] ?? SHAPES.sine;
      return (inputs, inputAt, outputs, outputAt, count) => {
        const [value, wavelength, speed, phase, time] = inputs;
        const [v, w, q, p, t] = inputAt;
        for (let k = 0; k < count; k++) {
          outputs[0][outputAt[0] + k] = shape(value[v + k] / wavelength[w + k] - speed[q + k] * time[t + k] + phase[p + k]);
        }
      };
    },
  },
};

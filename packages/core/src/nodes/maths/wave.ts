import type { ProgramBuilder } from '../../expression/index.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { text } from '../ports.ts';

/** One period, from a phase of 0 to 1; −1 to 1, rising from 0 where it can. */
const SHAPES: Readonly<Record<string, (b: ProgramBuilder, phase: number) => number>> = {
  sine: (b, p) => b.operate('sin', [b.operate('multiply', [b.constant(2 * Math.PI), p])]),
  triangle: (b, p) => {
    const part = partOf(b, b.operate('add', [p, b.constant(0.25)]));
    const away = b.operate('abs', [b.operate('subtract', [part, b.constant(0.5)])]);
    return b.operate('subtract', [b.constant(1), b.operate('multiply', [b.constant(4), away])]);
  },
  saw: (b, p) => b.operate('subtract', [b.operate('multiply', [b.constant(2), partOf(b, p)]), b.constant(1)]),
  pulse: (b, p) => {
    const isFirst = b.operate('less', [partOf(b, p), b.constant(0.5)]);
    return b.operate('choose', [isFirst, b.constant(1), b.constant(-1)]);
  },
};

/** What is left of a number above the whole one below it. */
const partOf = (b: ProgramBuilder, p: number): number => b.operate('subtract', [p, b.operate('floor', [p])]);

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
    program(b, inputs, s) {
      const [value, wavelength, speed, phase, time] = inputs.map(([x]) => x);
      const still = b.operate('divide', [value, wavelength]);
      const running = b.operate('subtract', [still, b.operate('multiply', [speed, time])]);
      return [[(SHAPES[text(s, 'shape')] ?? SHAPES.sine)(b, b.operate('add', [running, phase]))]];
    },
  },
};

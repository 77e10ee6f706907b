import { crossOf, dotOf, eachAxis, lengthOf, type FormulaValue, type ProgramBuilder } from '../../expression/index.ts';
import type { InputPort, NodeDefinition } from '../../graph/node/definition.ts';
import { text } from '../ports.ts';

/** Which inputs each operation takes, and what `b` is called there. */
const OPERATIONS: Record<string, { label: string; second?: string; angle?: boolean }> = {
  normalize: { label: 'Normalize' },
  cross: { label: 'Cross product', second: 'b' },
  reflect: { label: 'Reflect', second: 'normal' },
  project: { label: 'Project on plane', second: 'normal' },
  rotate: { label: 'Rotate about axis', second: 'axis', angle: true },
};

const operationOf = (s: Readonly<Record<string, unknown>>) => OPERATIONS[String(s.operation)] ?? OPERATIONS.normalize;

export const direction: NodeDefinition = {
  id: 'direction',
  version: 1,
  title: 'Direction',
  group: 'Maths',
  summary: 'Works on directions: normalize, cross, reflect, project on a plane, rotate about an axis.',
  keywords: ['normalize', 'cross', 'reflect', 'project', 'rotate', 'axis', 'unit vector'],
  inputs: (s) => {
    const { second, angle } = operationOf(s);
    const ports: InputPort[] = [
      {
        id: 'a',
        label: 'a',
        kind: 'vector',
        default: [0, 1, 0],
        range: { min: -10, max: 10 },
        help: 'The vector to work on.',
      },
    ];
    if (second)
      ports.push({
        id: 'b',
        label: second,
        kind: 'vector',
        default: [0, 1, 0],
        range: { min: -10, max: 10 },
        help: 'The second vector; as a normal or axis its length does not matter.',
      });
    if (angle)
      ports.push({
        id: 'angle',
        label: 'angle',
        kind: 'number',
        unit: '°',
        default: 90,
        range: { min: -180, max: 180 },
        help: 'How far to turn, anticlockwise seen from the tip of the axis.',
      });
    return ports;
  },
  outputs: () => [
    {
      id: 'result',
      label: 'result',
      kind: 'vector',
      help: 'The resulting vector. What has length 0 stays 0.',
    },
  ],
  settings: [
    {
      id: 'operation',
      label: 'Operation',
      type: 'choice',
      options: Object.entries(OPERATIONS).map(([value, o]) => ({ value, label: o.label })),
      default: 'normalize',
      help: 'What is done with the vectors.',
    },
  ],
  sentence: (s) => operationOf(s).label.toLowerCase(),
  passes: { result: 'a' },
  elements: {
    plan: (s) => {
      const { second, angle } = operationOf(s);
      return {
        inputs: [
          { port: 'a', lane: 'vector' },
          ...(second ? [{ port: 'b', lane: 'vector' as const }] : []),
          ...(angle ? [{ port: 'angle', lane: 'number' as const }] : []),
        ],
        outputs: [{ port: 'result', lane: 'vector', role: 'direction' }],
      };
    },
    program: (b, [a, second, angle], s) => [(PROGRAMS[text(s, 'operation')] ?? PROGRAMS.normalize)(b, a, second, angle)],
  },
};

type Program = (b: ProgramBuilder, a: FormulaValue, second: FormulaValue, angle: FormulaValue) => FormulaValue;

const PROGRAMS: Readonly<Record<string, Program>> = {
  normalize: (b, a) => unit(b, a).direction,
  cross: crossOf,
  reflect: (b, a, normal) => alongNormal(b, a, normal, 2),
  project: (b, a, normal) => alongNormal(b, a, normal, 1),
  // Rodrigues' formula.
  rotate(b, a, axis, [degrees]) {
    const { direction: n, isNone } = unit(b, axis);
    const radians = b.operate('divide', [b.operate('multiply', [degrees, b.constant(Math.PI)]), b.constant(180)]);
    const angle = b.operate('choose', [isNone, b.constant(0), radians]);
    const c = b.operate('cos', [angle]);
    const s = b.operate('sin', [angle]);
    const along = b.operate('multiply', [dotOf(b, n, a), b.operate('subtract', [b.constant(1), c])]);
    return eachAxis([a, crossOf(b, n, a), n], (x, across, axis) => {
      const turned = b.operate('add', [b.operate('multiply', [x, c]), b.operate('multiply', [across, s])]);
      return b.operate('add', [turned, b.operate('multiply', [axis, along])]);
    });
  },
};

/** A vector at length 1, and whether it has none; then it stays 0. */
function unit(b: ProgramBuilder, v: FormulaValue): { direction: FormulaValue; isNone: number } {
  const length = lengthOf(b, v);
  const isNone = b.operate('equal', [length, b.constant(0)]);
  const factor = b.operate('choose', [isNone, b.constant(0), b.operate('divide', [b.constant(1), length])]);
  return { direction: eachAxis([v, [factor]], (x, f) => b.operate('multiply', [x, f])), isNone };
}

/** `a − factor · (a · n) n` for a unit n: 1 projects on the plane, 2 reflects in it. */
function alongNormal(b: ProgramBuilder, a: FormulaValue, normal: FormulaValue, factor: number): FormulaValue {
  const squared = dotOf(b, normal, normal);
  const part = b.operate('divide', [b.operate('multiply', [b.constant(factor), dotOf(b, a, normal)]), squared]);
  const f = b.operate('choose', [b.operate('equal', [squared, b.constant(0)]), b.constant(0), part]);
  return eachAxis([a, normal], (x, n) => b.operate('subtract', [x, b.operate('multiply', [f, n])]));
}

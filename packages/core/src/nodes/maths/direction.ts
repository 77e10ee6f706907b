import type { InputPort, Kernel, NodeDefinition } from '../../graph/node/definition.ts';
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
    compile: (s) => KERNELS[text(s, 'operation')] ?? KERNELS.normalize,
  },
};

const KERNELS: Record<string, Kernel> = {
  normalize(inputs, inputAt, outputs, outputAt, count) {
    const a = inputs[0],
      out = outputs[0];
    for (let k = 0, i = inputAt[0], o = outputAt[0]; k < count; k++, i += 3, o += 3) {
      const x = a[i],
        y = a[i + 1],
        z = a[i + 2];
      const l = Math.sqrt(x * x + y * y + z * z);
      const f = l === 0 ? 0 : 1 / l;
      out[o] = x * f;
      out[o + 1] = y * f;
      out[o + 2] = z * f;
    }
  },
  cross(inputs, inputAt, outputs, outputAt, count) {
    const a = inputs[0],
      b = inputs[1],
      out = outputs[0];
    for (let k = 0, i = inputAt[0], j = inputAt[1], o = outputAt[0]; k < count; k++, i += 3, j += 3, o += 3) {
      const ax = a[i],
        ay = a[i + 1],
        az = a[i + 2],
        bx = b[j],
        by = b[j + 1],
        bz = b[j + 2];
      out[o] = ay * bz - az * by;
      out[o + 1] = az * bx - ax * bz;
      out[o + 2] = ax * by - ay * bx;
    }
  },
  reflect: alongNormal(2),
  project: alongNormal(1),
  // Rodrigues' formula.
  rotate(inputs, inputAt, outputs, outputAt, count) {
    const a = inputs[0],
      b = inputs[1],
      angles = inputs[2],
      out = outputs[0];
    for (let k = 0, i = inputAt[0], j = inputAt[1], o = outputAt[0]; k < count; k++, i += 3, j += 3, o += 3) {
      const x = a[i],
        y = a[i + 1],
        z = a[i + 2];
      const l = Math.sqrt(b[j] * b[j] + b[j + 1] * b[j + 1] + b[j + 2] * b[j + 2]);
      const f = l === 0 ? 0 : 1 / l;
      const nx = b[j] * f,
        ny = b[j + 1] * f,
        nz = b[j + 2] * f;
      const angle = l === 0 ? 0 : (angles[inputAt[2] + k] * Math.PI) / 180;
      const c = Math.cos(angle);
      const s = Math.sin(angle);
      const along = (nx * x + ny * y + nz * z) * (1 - c);
      out[o] = x * c + (ny * z - nz * y) * s + nx * along;
      out[o + 1] = y * c + (nz * x - nx * z) * s + ny * along;
      out[o + 2] = z * c + (nx * y - ny * x) * s + nz * along;
    }
  },
};

/** `a − factor · (a · n) n` for a unit n: 1 projects on the plane, 2 reflects in it. */
function alongNormal(factor: number): Kernel {
  return (inputs, inputAt, outputs, outputAt, count) => {
    const a = inputs[0],
      b = inputs[1],
      out = outputs[0];
    for (let k = 0, i = inputAt[0], j = inputAt[1], o = outputAt[0]; k < count; k++, i += 3, j += 3, o += 3) {
      const nx = b[j],
        ny = b[j + 1],
        nz = b[j + 2];
      const squared = nx * nx + ny * ny + nz * nz;
      const f = squared === 0 ? 0 : (factor * (a[i] * nx + a[i + 1] * ny + a[i + 2] * nz)) / squared;
      out[o] = a[i] - f * nx;
      out[o + 1] = a[i + 1] - f * ny;
      out[o + 2] = a[i + 2] - f * nz;
    }
  };
}

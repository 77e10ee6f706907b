import type { InputPort, Kernel, NodeDefinition } from '../../graph/definition.ts';
import { text } from '../ports.ts';

const VECTOR = (id: string, help: string): InputPort => ({
  id,
  label: id,
  kind: 'vector',
  default: [0, 0, 0],
  range: { min: -10, max: 10 },
  help,
});

const takesTwo = (operation: string) => operation !== 'length';

export const measure: NodeDefinition = {
  id: 'measure',
  version: 1,
  title: 'Measure',
  group: 'Maths',
  summary: 'Measures vectors: length, distance between two, dot product, or the angle between them.',
  keywords: ['distance', 'length', 'dot', 'angle', 'magnitude'],
  inputs: (s) => [
    VECTOR('a', 'The first vector or position.'),
    ...(takesTwo(text(s, 'operation')) ? [VECTOR('b', 'The second vector or position.')] : []),
  ],
  outputs: (s) => [
    {
      id: 'result',
      label: text(s, 'operation'),
      kind: 'number',
      unit: { angle: '°', distance: 'm', length: 'm' }[text(s, 'operation')],
      help: 'One number per element. The angle to or from a vector of length 0 is 0.',
    },
  ],
  settings: [
    {
      id: 'operation',
      label: 'Measure',
      type: 'choice',
      options: [
        { value: 'distance', label: 'Distance' },
        { value: 'length', label: 'Length' },
        { value: 'dot', label: 'Dot product' },
        { value: 'angle', label: 'Angle (degrees)' },
      ],
      default: 'distance',
      help: 'What is measured.',
    },
  ],
  sentence: (s) => {
    const operation = text(s, 'operation');
    return operation === 'length'
      ? 'length of a'
      : operation === 'distance'
        ? 'distance a to b'
        : `${operation} of a and b`;
  },
  elements: {
    plan: (s) => ({
      inputs: (takesTwo(text(s, 'operation')) ? ['a', 'b'] : ['a']).map((port) => ({
        port,
        lane: 'vector' as const,
      })),
      outputs: [{ port: 'result', lane: 'number' }],
    }),
    compile: (s) => KERNELS[text(s, 'operation')] ?? KERNELS.distance,
  },
};

const KERNELS: Record<string, Kernel> = {
  distance(inputs, inputAt, outputs, outputAt, count) {
    const a = inputs[0], b = inputs[1], out = outputs[0], o = outputAt[0]; // prettier-ignore
    for (let k = 0, i = inputAt[0], j = inputAt[1]; k < count; k++, i += 3, j += 3) {
      const x = a[i] - b[j], y = a[i + 1] - b[j + 1], z = a[i + 2] - b[j + 2]; // prettier-ignore
      out[o + k] = Math.sqrt(x * x + y * y + z * z);
    }
  },
  length(inputs, inputAt, outputs, outputAt, count) {
    const a = inputs[0], out = outputs[0], o = outputAt[0]; // prettier-ignore
    for (let k = 0, i = inputAt[0]; k < count; k++, i += 3) {
      const x = a[i], y = a[i + 1], z = a[i + 2]; // prettier-ignore
      out[o + k] = Math.sqrt(x * x + y * y + z * z);
    }
  },
  dot(inputs, inputAt, outputs, outputAt, count) {
    const a = inputs[0], b = inputs[1], out = outputs[0], o = outputAt[0]; // prettier-ignore
    for (let k = 0, i = inputAt[0], j = inputAt[1]; k < count; k++, i += 3, j += 3) {
      out[o + k] = a[i] * b[j] + a[i + 1] * b[j + 1] + a[i + 2] * b[j + 2];
    }
  },
  // From sine and cosine both, so that it stays exact near 0° and 180° where the cosine alone is flat.
  angle(inputs, inputAt, outputs, outputAt, count) {
    const a = inputs[0], b = inputs[1], out = outputs[0], o = outputAt[0]; // prettier-ignore
    for (let k = 0, i = inputAt[0], j = inputAt[1]; k < count; k++, i += 3, j += 3) {
      const ax = a[i], ay = a[i + 1], az = a[i + 2], bx = b[j], by = b[j + 1], bz = b[j + 2]; // prettier-ignore
      const cx = ay * bz - az * by, cy = az * bx - ax * bz, cz = ax * by - ay * bx; // prettier-ignore
      out[o + k] =
        (Math.atan2(Math.sqrt(cx * cx + cy * cy + cz * cz), ax * bx + ay * by + az * bz) * 180) / Math.PI;
    }
  },
};

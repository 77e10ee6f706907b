import type { NodeDefinition } from '../../graph/node/definition.ts';
import {
  eulerFromRotation,
  multiplyQuaternions,
  quaternionFromEuler,
  RADIANS_PER_DEGREE,
  rotationFromQuaternion,
  type RotationOrder,
} from '../../maths/rotation.ts';
import { ROTATION_ORDER, text } from '../ports.ts';

const angles = (id: string, help: string) => ({
  id,
  label: id,
  kind: 'vector' as const,
  unit: '°',
  default: [0, 0, 0] as [number, number, number],
  range: { min: -180, max: 180 },
  help,
});

export const turnAngles: NodeDefinition = {
  id: 'turn-angles',
  version: 1,
  title: 'Turn Angles',
  group: 'Maths',
  summary: 'Puts two rotations together: one turn after the other, or plainly angle by angle.',
  keywords: ['rotate', 'euler', 'compose', 'add', 'rotation', 'degrees'],
  inputs: () => [
    angles('first', 'Degrees about x, y and z: the turn that is applied first.'),
    angles('then', 'Degrees about x, y and z: the turn that follows.'),
  ],
  outputs: () => [{ id: 'angles', label: 'angles', kind: 'vector', unit: '°', help: 'Degrees about x, y and z.' }],
  settings: [
    {
      id: 'how',
      label: 'How',
      type: 'choice',
      options: [
        { value: 'turn', label: 'One turn after the other' },
        { value: 'add', label: 'Add angles' },
      ],
      default: 'turn',
      help: 'Turning one after the other gives the true rotation; adding angles keeps whole revolutions.',
    },
    ROTATION_ORDER,
  ],
  sentence: (s) => (s.how === 'add' ? 'added angle by angle' : `one after the other, ${[...text(s, 'order')].join(', ')}`),
  passes: { angles: 'first' },
  elements: {
    plan: () => ({
      inputs: [
        { port: 'first', lane: 'vector' },
        { port: 'then', lane: 'vector' },
      ],
      outputs: [{ port: 'angles', lane: 'vector' }],
    }),
    compile: (s) => {
      const order = text(s, 'order') as RotationOrder;
      const add = s.how === 'add';
      return (inputs, inputAt, outputs, outputAt, count) => {
        const a = inputs[0],
          b = inputs[1],
          out = outputs[0],
          i = inputAt[0],
          j = inputAt[1],
          o = outputAt[0];
        const quaternion = (lane: Readonly<Float32Array>, at: number) =>
          quaternionFromEuler(
            [lane[at] * RADIANS_PER_DEGREE, lane[at + 1] * RADIANS_PER_DEGREE, lane[at + 2] * RADIANS_PER_DEGREE],
            order,
          );
        for (let k = 0; k < count * 3; k += 3) {
          if (add) {
            for (let axis = 0; axis < 3; axis++) out[o + k + axis] = a[i + k + axis] + b[j + k + axis];
            continue;
          }
          const turned = multiplyQuaternions(quaternion(b, j + k), quaternion(a, i + k));
          const euler = eulerFromRotation(rotationFromQuaternion(turned), order);
          for (let axis = 0; axis < 3; axis++) out[o + k + axis] = euler[axis] / RADIANS_PER_DEGREE;
        }
      };
    },
  },
};

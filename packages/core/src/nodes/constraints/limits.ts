import { limited } from '../../constraints/index.ts';
import type { InputPort, NodeDefinition, Settings } from '../../graph/node/definition.ts';
import { matrixValue } from '../../graph/node/values.ts';
import { compose, decompose, type Decomposed } from '../../maths/factors.ts';
import {
  eulerFromRotation,
  quaternionFromEuler,
  RADIANS_PER_DEGREE,
  rotationFromQuaternion,
  type RotationOrder,
} from '../../maths/rotation.ts';
import { scale, type Vec3 } from '../../maths/vector.ts';
import { matrixOutput, matrixPort, singleMatrix } from '../matrices/lanes.ts';
import { numberPort, ROTATION_ORDER, singleVector, toggleSetting, vectorPort, yes } from '../ports.ts';

const PARTS = [
  { id: 'translate', label: 'move', unit: 'm', low: -1, high: 1, reach: [-5, 5] },
  { id: 'rotate', label: 'turn', unit: '°', low: -45, high: 45, reach: [-180, 180] },
  { id: 'scale', label: 'size', unit: undefined, low: 0.5, high: 2, reach: [0, 3] },
] as const;

const limitPorts = (s: Settings): InputPort[] =>
  PARTS.filter((p) => yes(s, p.id)).flatMap((p) => [
    vectorPort(`${p.id}Min`, `least ${p.label}`, p.unit, p.low, p.reach, 'The least along or about x, y and z.'),
    vectorPort(`${p.id}Max`, `most ${p.label}`, p.unit, p.high, p.reach, 'The most along or about x, y and z.'),
    numberPort(
      `${p.id}Soft`,
      `soft ${p.label}`,
      p.unit,
      0,
      [0, p.reach[1] / 5],
      'How far before its ends it is slowed down; 0 stops hard.',
    ),
  ]);

export const limits: NodeDefinition = {
  id: 'limits',
  version: 1,
  title: 'Limits',
  group: 'Constraints',
  summary: 'Keeps the move, turn or size of a matrix inside a range, with a hard or a soft end.',
  keywords: ['clamp', 'stop', 'range', 'minimum', 'maximum'],
  inputs: (s) => [matrixPort('matrix', 'matrix', 'The matrix to limit.'), ...limitPorts(s)],
  outputs: () => [matrixOutput('matrix', 'matrix', 'The matrix inside its limits.')],
  settings: [
    toggleSetting('translate', 'Limit move', true, 'Limits where it puts the origin.'),
    toggleSetting('rotate', 'Limit turn', false, 'Limits its turns, told in the order of the setting.'),
    toggleSetting('scale', 'Limit size', false, 'Limits its size.'),
    ROTATION_ORDER,
  ],
  sentence: (s) =>
    PARTS.filter((p) => yes(s, p.id))
      .map((p) => p.label)
      .join(', ') || 'nothing',
  passes: { matrix: 'matrix' },
  light: true,
  evaluate(context) {
    const { settings } = context;
    const order = settings.order as RotationOrder;
    const parts = leastTurned(decompose(singleMatrix(context, 'matrix'), order), order);
    const inside = (id: (typeof PARTS)[number]['id'], v: Vec3): Vec3 => {
      if (!yes(settings, id)) return v;
      const [min, max, soft] = [
        singleVector(context, `${id}Min`),
        singleVector(context, `${id}Max`),
        context.number(`${id}Soft`),
      ];
      return v.map((n, axis) => {
        const range = { min: min[axis], max: max[axis], soft };
        // A size that is mirrored is limited as it is without the mirror, unless the range reaches below 0 itself.
        const isMirror = id === 'scale' && n < 0 && Math.min(range.min, range.max) >= 0;
        return isMirror ? -limited(-n, range) : limited(n, range);
      }) as unknown as Vec3;
    };
    const angles = inside('rotate', scale(parts.anglesInRadians, 1 / RADIANS_PER_DEGREE));
    const m = compose(
      inside('translate', parts.translate),
      scale(angles, RADIANS_PER_DEGREE),
      order,
      inside('scale', parts.scale),
      parts.shear,
    );
    return { matrix: matrixValue(m) };
  },
};

/**
 * Parts of a matrix that mirrors, told with the mirror that leaves the least turn: along x, y, z, or all three (which is
 * how they come). A mirror that is not turned then has no turn.
 */
function leastTurned(parts: Decomposed, order: RotationOrder): Decomposed {
  if (!(parts.scale[0] * parts.scale[1] * parts.scale[2] < 0)) return parts;
  const r = rotationFromQuaternion(quaternionFromEuler(parts.anglesInRadians, order));
  const trace = (axis: number) => [0, 1, 2].reduce((sum, k) => sum + r[k * 4] * (k === axis || axis < 0 ? 1 : -1), 0);
  const best = [-1, 0, 1, 2].reduce((m, axis) => (trace(axis) > trace(m) + 1e-12 ? axis : m), -1);
  if (best < 0) return parts;
  // R · S = (R · F) · (F · S), F turning the two other axes round; the shear between one that is and one that is not too.
  const f = [0, 1, 2].map((k) => (k === best ? 1 : -1));
  const rotation = r.map((v, i) => v * f[Math.floor(i / 3)]);
  const [xy, xz, yz] = parts.shear;
  return {
    ...parts,
    anglesInRadians: eulerFromRotation(rotation, order),
    scale: parts.scale.map((s, k) => s * f[k]) as unknown as Vec3,
    shear: [xy * f[0] * f[1], xz * f[0] * f[2], yz * f[1] * f[2]],
  };
}

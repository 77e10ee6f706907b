import { limited } from '../../constraints/index.ts';
import type { InputPort, NodeDefinition, Settings } from '../../graph/definition.ts';
import { matrixValue } from '../../graph/values.ts';
import { compose, decompose } from '../../maths/matrix.ts';
import { RADIANS_PER_DEGREE, type RotationOrder } from '../../maths/rotation.ts';
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
    vectorPort(
      `${p.id}Min`,
      `least ${p.label}`,
      p.unit,
      p.low,
      p.reach,
      'The least along or about x, y and z.',
    ),
    vectorPort(
      `${p.id}Max`,
      `most ${p.label}`,
      p.unit,
      p.high,
      p.reach,
      'The most along or about x, y and z.',
    ),
    numberPort(`${p.id}Soft`, `soft ${p.label}`, p.unit, 0, [0, p.reach[1] / 5], 'How far before its ends it is slowed down; 0 stops hard.'), // prettier-ignore
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
  sentence: (s) => PARTS.filter((p) => yes(s, p.id)).map((p) => p.label).join(', ') || 'nothing', // prettier-ignore
  passes: { matrix: 'matrix' },
  light: true,
  evaluate(context) {
    const { settings } = context;
    const order = settings.order as RotationOrder;
    const parts = decompose(singleMatrix(context, 'matrix'), order);
    const inside = (id: (typeof PARTS)[number]['id'], v: Vec3): Vec3 => {
      if (!yes(settings, id)) return v;
      const [min, max, soft] = [singleVector(context, `${id}Min`), singleVector(context, `${id}Max`), context.number(`${id}Soft`)]; // prettier-ignore
      return v.map((n, axis) => limited(n, { min: min[axis], max: max[axis], soft })) as unknown as Vec3;
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

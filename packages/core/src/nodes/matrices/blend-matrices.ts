import type { NodeDefinition } from '../../graph/node/definition.ts';
import { matrixValue } from '../../graph/node/values.ts';
import { blendMatrices as blend, dialWeights } from '../../maths/blend.ts';
import { keepParts } from './keep-parts.ts';
import { matrixOutput, matrixPort, singleMatrix } from './lanes.ts';
import { BLEND_BY, dialOrWeights, driverIds, DRIVERS, usesDial } from './several.ts';

const PARTS = ['translate', 'rotate', 'scale'] as const;

export const blendMatricesNode: NodeDefinition = {
  id: 'blend-matrices',
  version: 1,
  title: 'Blend Matrices',
  group: 'Matrices',
  summary: 'Goes between matrices: places and sizes straight, turns the shortest way.',
  keywords: ['mix', 'interpolate', 'lerp', 'slerp', 'average'],
  inputs: (s) => [...driverIds(s).map((id, i) => matrixPort(id, id, `Matrix ${i + 1}.`)), ...dialOrWeights(s)],
  outputs: () => [matrixOutput('matrix', 'matrix', 'The blend; the first where all weights are 0.')],
  settings: [
    DRIVERS,
    BLEND_BY,
    { id: 'translate', label: 'Move', type: 'toggle', default: true, help: 'Blends places; else the first one’s is kept.' },
    {
      id: 'rotate',
      label: 'Turn',
      type: 'toggle',
      default: true,
      help: 'Blends turns; else the first one’s is kept.',
    },
    {
      id: 'scale',
      label: 'Size',
      type: 'toggle',
      default: true,
      help: 'Blends sizes; else the first one’s is kept.',
    },
  ],
  sentence: (s) => `${driverIds(s).join(', ')} by ${usesDial(s) ? 'one dial' : 'weights'}`,
  light: true,
  evaluate(context) {
    const { settings } = context;
    const ids = driverIds(settings);
    const all = ids.map((id) => singleMatrix(context, id));
    const weights = usesDial(settings)
      ? dialWeights(context.number('dial'), all.length)
      : ids.map((id) => context.number(`weight-${id}`));
    const blended = blend(all, weights);
    if (!blended) context.report({ code: 'weights-zero', so: 'the first is used', severity: 'warning' });
    const kept = PARTS.filter((p) => settings[p] !== true);
    const out = blended && kept.length > 0 ? keepParts(blended, all[0], kept) : (blended ?? all[0]);
    return { matrix: matrixValue(Float64Array.from(out)) };
  },
};

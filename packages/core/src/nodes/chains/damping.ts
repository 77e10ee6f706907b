import { dampingWeights, dampMatrices, stillToCome } from '../../chains/damping.ts';
import type { NodeDefinition, Settings } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import type { Single, Value } from '../../graph/node/values.ts';
import { areFinite } from '../../maths/finite.ts';
import { numberWithin } from '../within.ts';
import { choiceSetting, numberPort } from '../ports.ts';

const WHAT = choiceSetting(
  'what',
  'What',
  [
    ['matrix', 'A matrix'],
    ['vector', 'A vector'],
    ['number', 'A number'],
  ],
  'What kind of value follows.',
);
const KINDS = ['matrix', 'vector', 'number'] as const;
const kindOf = (s: Settings) => KINDS.find((k) => k === s.what) ?? 'matrix';
const keptOf = (s: Settings) => Math.min(240, Math.max(1, Math.round(Number(s.kept) || 1)));

export const damping: NodeDefinition = {
  id: 'damping',
  version: 1,
  title: 'Damping',
  group: 'Chains',
  summary: 'Follows a value as on a spring: late, and beyond it if asked; the same whatever frame was looked at before.',
  keywords: ['lag', 'follow through', 'overshoot', 'spring', 'delay', 'drag', 'soft'],
  inputs: (s) => [
    {
      id: 'value',
      label: 'value',
      kind: kindOf(s),
      help: 'What is followed; everything behind it is worked out at earlier frames too.',
    },
    numberPort('lag', 'lag', 'frames', 4, [0, 24], 'How far behind it comes when the value moves evenly.'),
    numberPort(
      'overshoot',
      'overshoot',
      undefined,
      0,
      [0, 0.9],
      'By how much of a sudden step it goes too far, before it comes back.',
    ),
    numberPort('amount', 'amount', undefined, 1, [0, 1], '0 is the value itself.'),
  ],
  outputs: (s) => [{ id: 'value', label: 'value', kind: kindOf(s), help: 'What follows.' }],
  settings: [
    WHAT,
    {
      id: 'kept',
      label: 'Frames kept',
      type: 'number',
      whole: true,
      default: 48,
      range: { min: 1, max: 240, hard: true },
      unit: 'frames',
      help: 'How many earlier frames count; before them it is taken to have stood still.',
    },
  ],
  sentence: (s) => `a ${kindOf(s)}, by ${keptOf(s)} earlier frames`,
  passes: { value: 'value' },
  looksBack: (s) => ({ port: 'value', frames: keptOf(s) }),
  evaluate(context) {
    const kept = keptOf(context.settings);
    const lag = numberWithin(context, 'lag', 0) || 0;
    const overshoot = context.number('overshoot') || 0;
    const amount = Math.min(1, Math.max(0, context.number('amount') || 0));
    const lost = stillToCome(lag, overshoot, kept);
    if (lost > 0.02) context.report({ code: 'kept-short', share: lost, frames: kept, severity: 'warning' });
    const weights = dampingWeights(lag, overshoot, kept);
    for (let k = 0; k <= kept; k++) weights[k] = weights[k] * amount + (k === 0 ? 1 - amount : 0);
    const values = Array.from({ length: kept + 1 }, (_, k) =>
      single(k === 0 ? context.input('value') : context.earlier('value', k)),
    );
    // A frame without a number is taken as the one after it; that of now there is nothing to take for.
    let gaps = 0;
    for (let k = 1; k <= kept; k++) {
      if (areFinite(values[k].data)) continue;
      values[k] = values[k - 1];
      gaps++;
    }
    if (gaps > 0 && areFinite(values[0].data)) context.report({ code: 'earlier-not-finite', frames: gaps, severity: 'warning' });
    if (kindOf(context.settings) === 'matrix')
      return {
        value: {
          form: 'single',
          kind: 'matrix',
          data: dampMatrices(
            values.map((v) => v.data),
            weights,
          ),
        },
      };
    const width = kindOf(context.settings) === 'vector' ? 3 : 1;
    const out = new Float64Array(width);
    values.forEach(({ data }, k) => {
      for (let i = 0; i < width; i++) out[i] += weights[k] * data[data.length === width ? i : 0];
    });
    return { value: { form: 'single', kind: width === 3 ? 'vector' : 'number', data: out } };
  },
};

function single(value: Value | undefined): Single {
  if (value?.form === 'single') return value;
  throw new NodeError({ code: 'needs-single', port: 'value', count: value && 'count' in value ? value.count : 0 });
}

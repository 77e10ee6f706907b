import type { InputPort, NodeDefinition } from '../../graph/node/definition.ts';
import { compileResponse, respond, RESPONSE_PRESETS, type Response } from '../../maths/response.ts';
import { yes } from '../ports.ts';
import { LANE_WIDTH, widest } from './lanes.ts';

const end = (id: string, label: string, value: number, help: string): InputPort => ({
  id,
  label,
  kind: 'number',
  default: value,
  range: { min: -10, max: 10 },
  help,
});

const RANGE_PORTS = ['fromLow', 'fromHigh', 'toLow', 'toHigh'];

export const remap: NodeDefinition = {
  id: 'remap',
  version: 1,
  title: 'Remap',
  group: 'Maths',
  summary: 'Takes values from one range to another, clamped, inverted or shaped by a response if wanted.',
  keywords: ['range', 'map', 'clamp', 'invert', 'normalise', 'rescale'],
  inputs: () => [
    {
      id: 'value',
      label: 'value',
      kind: 'value',
      default: 0,
      range: { min: -10, max: 10 },
      help: 'The numbers or vectors to remap; vectors axis by axis.',
    },
    end('fromLow', 'from', 0, 'Value that becomes the low end.'),
    end('fromHigh', 'from end', 1, 'Value that becomes the high end.'),
    end('toLow', 'to', 0, 'What the low end becomes.'),
    end('toHigh', 'to end', 1, 'What the high end becomes.'),
  ],
  outputs: () => [{ id: 'result', label: 'result', kind: 'value', help: 'The remapped values.' }],
  settings: [
    {
      id: 'clamp',
      label: 'Clamp',
      type: 'toggle',
      default: true,
      help: 'Keep results between the two ends.',
    },
    {
      id: 'invert',
      label: 'Invert',
      type: 'toggle',
      default: false,
      help: 'Swap the two ends of the result.',
    },
    {
      id: 'shape',
      label: 'Shape',
      type: 'toggle',
      default: false,
      help: 'Send the way from low to high through the response (this clamps).',
    },
    {
      id: 'response',
      label: 'Response',
      type: 'response',
      default: RESPONSE_PRESETS['Ease up'],
      help: 'The shape of the way from low (0) to high (1); used when Shape is on.',
    },
  ],
  sentence: (s, c) => {
    const n = (port: string) => {
      const v = c.typed(port);
      return c.connected(port) ? '…' : typeof v === 'number' ? String(v) : '…';
    };
    const extras = [yes(s, 'invert') ? 'inverted' : '', yes(s, 'shape') ? 'shaped' : '', yes(s, 'clamp') ? 'clamped' : ''];
    return `${n('fromLow')}–${n('fromHigh')} to ${n('toLow')}–${n('toHigh')}${extras
      .filter(Boolean)
      .map((e) => `, ${e}`)
      .join('')}`;
  },
  passes: { result: 'value' },
  elements: {
    plan: (_, kinds) => {
      const lane = widest(kinds, ['value']);
      return {
        inputs: [{ port: 'value', lane }, ...RANGE_PORTS.map((port) => ({ port, lane: 'number' as const }))],
        outputs: [{ port: 'result', lane }],
      };
    },
    check: (_, uniforms, report) => {
      if (uniforms.fromLow === uniforms.fromHigh && uniforms.fromLow !== undefined)
        report({ code: 'range-empty', value: uniforms.fromLow, severity: 'warning' });
    },
    isProgram: (s) => !yes(s, 'shape'),
    program(b, [value, [fromLow], [fromHigh], [toLow], [toHigh]], s) {
      const [zero, one] = [b.constant(0), b.constant(1)];
      const span = b.operate('subtract', [fromHigh, fromLow]);
      const size = b.operate('subtract', [toHigh, toLow]);
      const way = (x: number) => {
        const part = b.operate('divide', [b.operate('subtract', [x, fromLow]), span]);
        const step = b.operate('lessEqual', [fromLow, x]);
        let t = b.operate('choose', [b.operate('unequal', [span, zero]), part, step]);
        if (yes(s, 'clamp')) t = b.operate('minimum', [b.operate('maximum', [t, zero]), one]);
        return yes(s, 'invert') ? b.operate('subtract', [one, t]) : t;
      };
      return [value.map((x) => b.operate('add', [toLow, b.operate('multiply', [size, way(x)])]))];
    },
    /** Shaped by a response, which is a loop of its own. */
    compile(s, plan) {
      const width = LANE_WIDTH[plan.outputs[0].lane];
      const shape = compileResponse(s.response as Response);
      const invert = yes(s, 'invert');
      return (inputs, inputAt, outputs, outputAt, count) => {
        const [value, fromLow, fromHigh, toLow, toHigh] = inputs;
        const [v, fl, fh, tl, th] = inputAt;
        const out = outputs[0];
        for (let k = 0, i = 0; k < count; k++) {
          const low = fromLow[fl + k];
          const span = fromHigh[fh + k] - low;
          for (let axis = 0; axis < width; axis++, i++) {
            const x = value[v + i];
            let t = span !== 0 ? (x - low) / span : x >= low ? 1 : 0;
            t = respond(shape, t < 0 ? 0 : t > 1 ? 1 : t);
            if (invert) t = 1 - t;
            out[outputAt[0] + i] = toLow[tl + k] + (toHigh[th + k] - toLow[tl + k]) * t;
          }
        }
      };
    },
  },
};

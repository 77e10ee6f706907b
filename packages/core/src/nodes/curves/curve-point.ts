import { beginAgain, emptyPlace, placeInto } from '../../curves/index.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { matrixValue, valuesLike, type Column, type Single, type Value } from '../../graph/node/values.ts';
import { choiceSetting, CURVES_IN, numberPort, toggleSetting, yes, typedWords } from '../ports.ts';
import { FRAME_SETTINGS, needTrack, pieceFrames } from './frame-settings.ts';
import { frameAt } from './follow-curve.ts';

export const curvePoint: NodeDefinition = {
  id: 'curve-point',
  version: 1,
  title: 'Curve Point',
  group: 'Curves',
  summary: 'Tells where a curve is at a fraction or a length of it: position, directions, roll and width.',
  keywords: ['place on', 'tangent', 'point at', 'part of the way'],
  inputs: (s) => [
    { ...CURVES_IN, label: 'curve', help: 'The curve; of several splines the first.' },
    s.by === 'length'
      ? numberPort('at', 'length', 'm', 0, [0, 10], 'How far along, one value or a column.', { uniform: false })
      : numberPort('at', 'fraction', undefined, 0.5, [0, 1], 'How far along: 0 is the start, 1 the end; one value or a column.', {
          uniform: false,
        }),
  ],
  outputs: () => [
    { id: 'position', label: 'position', kind: 'vector', unit: 'm', help: 'Where the curve is.' },
    { id: 'tangent', label: 'tangent', kind: 'vector', help: 'Where it goes, length 1.' },
    { id: 'normal', label: 'normal', kind: 'vector', help: 'The normal of its frame, length 1.' },
    { id: 'roll', label: 'roll', kind: 'number', unit: '°', help: 'Its roll there.' },
    { id: 'width', label: 'width', kind: 'number', help: 'Its width there.' },
    { id: 'length', label: 'length', kind: 'number', unit: 'm', help: 'How long the whole curve is.' },
    {
      id: 'matrix',
      label: 'matrix',
      kind: 'matrix',
      help: 'Its frame at a single fraction: x along the curve, y the normal.',
    },
  ],
  settings: [
    choiceSetting(
      'by',
      'By',
      [
        ['fraction', 'Fraction'],
        ['length', 'Length'],
      ],
      'A fraction of the length, or metres from the start.',
    ),
    toggleSetting('wrap', 'Begin again', false, 'Beyond the end go on from the start; else stay at the end.'),
    ...FRAME_SETTINGS,
  ],
  sentence: (s, c) => `at ${s.by === 'length' ? 'length' : 'fraction'} ${c.connected('at') ? '…' : typedWords(c, 'at')}`,
  evaluate(context) {
    const { settings } = context;
    const track = needTrack(context.curves('curves'), 'Curve Point');
    const rail = { track, frames: pieceFrames(context, track) };
    const from = context.input('at') as Single | Column;
    const count = from.form === 'column' ? from.count : 1;
    const at = context.lane('at', 'number', count);
    const position = context.floats(count * 3);
    const tangent = context.floats(count * 3);
    const normal = context.floats(count * 3);
    const roll = context.floats(count);
    const width = context.floats(count);
    const scale = settings.by === 'length' ? 1 : track.length;
    const place = emptyPlace();
    for (let i = 0; i < count; i++) {
      if ((i & 1023) === 0) context.checkpoint();
      placeInto(place, track, yes(settings, 'wrap') ? beginAgain(track, at[i] * scale) : at[i] * scale);
      const m = frameAt(rail, place);
      position.set(place.position, i * 3);
      tangent.set(place.tangent, i * 3);
      normal.set(m.subarray(4, 7), i * 3);
      roll[i] = (place.roll * 180) / Math.PI;
      width[i] = place.width;
    }
    const out: Record<string, Value> = {
      position: valuesLike(from, 'vector', position, 'position'),
      tangent: valuesLike(from, 'vector', tangent, 'direction'),
      normal: valuesLike(from, 'vector', normal, 'direction'),
      roll: valuesLike(from, 'number', roll),
      width: valuesLike(from, 'number', width),
      length: { form: 'single', kind: 'number', data: Float64Array.of(track.length) },
    };
    if (from.form === 'single') out.matrix = matrixValue(frameAt(rail, place));
    return out;
  },
};

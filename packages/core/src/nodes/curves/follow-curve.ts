import { beginAgain, placeOn, type Rail, type TrackPlace } from '../../curves/index.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { matrixValue } from '../../graph/node/values.ts';
import { identity, type Matrix } from '../../maths/matrix.ts';
import { choiceSetting, CURVES_IN, numberPort, text, toggleSetting, yes } from '../ports.ts';
import { FRAME_SETTINGS, needTrack, pieceFrames } from './frame-settings.ts';

/** The frame of a rail at a place: x along the curve, y the normal turned by the roll, z square to both. */
export function frameAt({ track, frames }: Rail, place: TrackPlace, extraRollInRadians = 0): Matrix {
  const { sample: i, part } = place;
  const j = Math.min(i + 1, track.count - 1);
  const t = place.tangent;
  const n = [0, 1, 2].map((axis) => frames.normals[i * 3 + axis] * (1 - part) + frames.normals[j * 3 + axis] * part);
  const along = n[0] * t[0] + n[1] * t[1] + n[2] * t[2];
  for (let axis = 0; axis < 3; axis++) n[axis] -= along * t[axis];
  const l = Math.hypot(n[0], n[1], n[2]);
  for (let axis = 0; axis < 3; axis++) n[axis] /= l;
  const b = [t[1] * n[2] - t[2] * n[1], t[2] * n[0] - t[0] * n[2], t[0] * n[1] - t[1] * n[0]];
  const { twist } = frames;
  const angle = place.roll + extraRollInRadians + (twist ? twist[i] * (1 - part) + twist[j] * part : 0);
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const m = identity();
  for (let axis = 0; axis < 3; axis++) {
    m[axis] = t[axis];
    m[4 + axis] = n[axis] * c + b[axis] * s;
    m[8 + axis] = b[axis] * c - n[axis] * s;
    m[12 + axis] = place.position[axis];
  }
  return m;
}

export const followCurve: NodeDefinition = {
  id: 'follow-curve',
  version: 1,
  title: 'Follow Curve',
  group: 'Curves',
  summary: 'Gives the matrix of a thing that travels along a curve: where it is and how it is turned.',
  keywords: ['path', 'travel', 'motion', 'rail', 'ride'],
  inputs: () => [
    { ...CURVES_IN, label: 'curve', help: 'The curve; of several splines the first.' },
    numberPort('fraction', 'fraction', undefined, 0, [0, 1], 'How far along: 0 is the start, 1 the end.'),
    numberPort('roll', 'roll', '°', 0, [-180, 180], 'Turn about the curve, added to its own.'),
  ],
  outputs: () => [{ id: 'matrix', label: 'matrix', kind: 'matrix', help: 'Where it is and how it is turned.' }],
  settings: [
    choiceSetting(
      'aim',
      'Aim',
      [
        ['x', 'x along the curve'],
        ['z', 'z along the curve'],
        ['none', 'Keep upright'],
      ],
      'Which own axis points along the curve.',
    ),
    toggleSetting('wrap', 'Begin again', true, 'Beyond the end go on from the start; else stay at the end.'),
    ...FRAME_SETTINGS,
  ],
  sentence: (s) => (s.aim === 'none' ? 'upright' : `${text(s, 'aim')} along the curve`),
  evaluate(context) {
    const { settings } = context;
    const track = needTrack(context.curves('curves'), 'Follow Curve');
    const fraction = context.number('fraction');
    const along = fraction * track.length;
    const rail = { track, frames: pieceFrames(context, track) };
    const m = frameAt(
      rail,
      placeOn(track, yes(settings, 'wrap') ? beginAgain(track, along) : along),
      (context.number('roll') * Math.PI) / 180,
    );
    if (settings.aim === 'x') return { matrix: matrixValue(m) };
    const out = identity();
    out.set(m.subarray(12, 15), 12);
    if (settings.aim === 'z') {
      // The same frame with its axes in another order: z along, y the normal.
      for (let axis = 0; axis < 3; axis++) {
        out[axis] = -m[8 + axis];
        out[4 + axis] = m[4 + axis];
        out[8 + axis] = m[axis];
      }
    }
    return { matrix: matrixValue(out) };
  },
};

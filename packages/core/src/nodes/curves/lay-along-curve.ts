import { knownBounds } from '../../geometry/derived.ts';
import { findAttribute, withPositions } from '../../geometry/mesh.ts';
import { layAlong, type Overshoot } from '../../curves/index.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { meshValue } from '../../graph/node/values.ts';
import { REST_POSITION } from '../attributes.ts';
import {
  axisOf,
  axisSetting,
  choiceSetting,
  CURVES_IN,
  MESH_IN,
  MESH_OUT,
  numberPort,
  text,
  toggleSetting,
  WEIGHT_IN,
  yes,
} from '../ports.ts';
import { FRAME_SETTINGS, framesFor, needTrack, readWidth, widthSetting } from './frame-settings.ts';

export const layAlongCurve: NodeDefinition = {
  id: 'lay-along-curve',
  version: 1,
  title: 'Lay Along Curve',
  group: 'Curves',
  summary: 'Bends a mesh along a curve: its axis becomes the curve, cross-sections ride on frames that do not twist.',
  keywords: ['path deform', 'spine', 'bend', 'swim', 'follow', 'spline'],
  inputs: () => [
    MESH_IN,
    { ...CURVES_IN, label: 'curve', help: 'The curve to lay it along; of several splines the first.' },
    {
      id: 'rest',
      label: 'rest curve',
      kind: 'curves',
      optional: true,
      help: 'The curve as it was when mesh and curve fitted: then only the change is applied. Left open, the mesh is laid on the curve from scratch.',
    },
    numberPort(
      'start',
      'start',
      undefined,
      0,
      [-1, 2],
      'Where the mesh begins, as a fraction of the curve; animate it to travel.',
    ),
    numberPort('stretch', 'stretch', undefined, 1, [0, 3], 'Longer or shorter along the curve.'),
    numberPort('rollStart', 'roll start', '°', 0, [-360, 360], 'Turn about the curve where the mesh begins.'),
    numberPort('rollEnd', 'roll end', '°', 0, [-360, 360], 'Turn about the curve where the mesh ends.'),
    WEIGHT_IN,
  ],
  outputs: () => [MESH_OUT],
  settings: [
    {
      ...axisSetting('x', 'The axis of the mesh that follows the curve, measured on restPosition where there is one.'),
    },
    toggleSetting('flip', 'From the other end', false, 'The far end of the mesh comes first on the curve.'),
    choiceSetting(
      'length',
      'Length',
      [
        ['keep', 'Keep the mesh’s'],
        ['fit', 'Fit the curve’s'],
      ],
      'Keep: a metre stays a metre. Fit: the mesh is as long as the curve.',
    ),
    choiceSetting(
      'overshoot',
      'Beyond the ends',
      [
        ['extend', 'Go on straight'],
        ['clamp', 'Stay at the end'],
        ['wrap', 'Begin again'],
      ],
      'What happens where the mesh reaches beyond the curve. On a closed curve, begin again to run round and round.',
    ),
    toggleSetting('volume', 'Keep volume', false, 'Thinner when stretched, thicker when squeezed.'),
    widthSetting(
      'Size of the cross-section from the mesh’s beginning to its end; with a rest curve it is at rest what it is now, so it changes nothing.',
    ),
    ...FRAME_SETTINGS,
  ],
  sentence: (s, c) =>
    `along ${text(s, 'axis')}, ${s.length === 'fit' ? 'fitted' : 'keeping its length'}${c.connected('rest') ? ', only the change' : ''}`,
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const { settings } = context;
    const mesh = context.mesh('mesh');
    const track = needTrack(context.curves('curves'), 'Lay Along Curve');
    const given = context.input('rest');
    const restTrack = given?.form === 'curves' ? needTrack(given.curves, 'The rest curve') : undefined;
    const atRest = restTrack && { track: restTrack, frames: framesFor(context, restTrack) };
    const now = { track, frames: framesFor(context, track, atRest ? { rest: atRest } : {}) };
    const width = readWidth(settings);
    if (width && atRest) context.report({ code: 'rest-width', severity: 'note' });
    const stored = findAttribute(mesh, REST_POSITION, 'point');
    const { low, high } = knownBounds((stored?.data as Float32Array | undefined) ?? mesh.positions);
    const axis = axisOf(settings);
    const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
    const out = layAlong(
      context.room(mesh.positions.length),
      mesh.positions,
      now,
      atRest,
      {
        axis,
        low: low[axis],
        span: Math.max(0, high[axis] - low[axis]),
        flip: yes(settings, 'flip'),
        middle: [(low[u] + high[u]) / 2, (low[v] + high[v]) / 2],
        fit: settings.length === 'fit',
        start: context.number('start'),
        stretch: context.number('stretch'),
        overshoot: settings.overshoot as Overshoot,
        rollStart: (context.number('rollStart') * Math.PI) / 180,
        rollEnd: (context.number('rollEnd') * Math.PI) / 180,
        width,
        keepVolume: yes(settings, 'volume'),
      },
      context.view('weight', 'number', mesh.topology.pointCount),
      context.checkpoint,
    );
    return { mesh: meshValue(withPositions(mesh, out)) };
  },
};

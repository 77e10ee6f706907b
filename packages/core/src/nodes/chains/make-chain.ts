import { boneFrames } from '../../chains/along-curve.ts';
import { makeChain, type JointParts } from '../../chains/chain.ts';
import { makeCurves, tracksOf, type Track } from '../../curves/index.ts';
import type { InputPort, NodeContext, NodeDefinition, Settings } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { chainValue, type Column, type Single } from '../../graph/node/values.ts';
import { wholeWithin } from '../within.ts';
import { choiceSetting, CURVES_IN, numberPort, text } from '../ports.ts';
import { FRAME_SETTINGS, needTrack, pieceFrames } from '../curves/frame-settings.ts';
import { CHAIN_OUT } from './joints.ts';

const byCurve = (s: Settings) => s.from !== 'points';
const MOST = 2000;

export const makeChainNode: NodeDefinition = {
  id: 'make-chain',
  version: 1,
  title: 'Make Chain',
  group: 'Chains',
  summary: 'Makes a row of joints along a curve, or through points; each hangs under the one before.',
  keywords: ['joints', 'bones', 'row', 'create'],
  inputs: (s): InputPort[] =>
    byCurve(s)
      ? [
          { ...CURVES_IN, label: 'curve', help: 'The curve; of several splines the first.' },
          {
            id: 'rest',
            label: 'rest curve',
            kind: 'curves',
            optional: true,
            help: 'Where they rest; left open, on the curve as it is.',
          },
          numberPort('count', 'joints', undefined, 5, [2, 50], 'How many, evenly along the curve.', { kind: 'integer' }),
        ]
      : [{ id: 'points', label: 'points', kind: 'vector', unit: 'm', help: 'A column of places, from the root on.' }],
  outputs: () => [CHAIN_OUT],
  settings: [
    choiceSetting(
      'from',
      'From',
      [
        ['curve', 'A curve'],
        ['points', 'Points'],
      ],
      'Along a curve, or through a column of points.',
    ),
    { id: 'names', label: 'Names', type: 'text', default: 'Joint', help: 'What they are called; the number of each is added.' },
    ...FRAME_SETTINGS,
  ],
  sentence: (s) => `${text(s, 'names') || 'Joint'} 1, 2 … ${byCurve(s) ? 'along a curve' : 'through points'}`,
  evaluate(context) {
    const name = text(context.settings, 'names').trim() || 'Joint';
    const { now, rest, places, restPlaces } = byCurve(context.settings) ? alongCurve(context) : throughPoints(context);
    const frames = boneFrames({ track: now, frames: pieceFrames(context, now) }, places, () => 0);
    const restFrames =
      rest === now ? frames : boneFrames({ track: rest, frames: pieceFrames(context, rest) }, restPlaces, () => 0);
    const joints = frames.map((posed, i): JointParts => ({
      name: `${name} ${i + 1}`,
      parent: i - 1,
      rest: restFrames[i],
      posed,
    }));
    return { chain: chainValue(makeChain(joints).chain) };
  },
};

interface Spread {
  readonly now: Track;
  readonly rest: Track;
  readonly places: number[];
  readonly restPlaces: number[];
}

function alongCurve(context: NodeContext): Spread {
  const now = needTrack(context.curves('curves'), 'Make Chain');
  const given = context.input('rest');
  const rest = given?.form === 'curves' ? needTrack(given.curves, 'The rest curve') : now;
  const count = wholeWithin(context, 'count', 2, MOST);
  const even = (track: Track) => Array.from({ length: count }, (_, i) => (track.length * i) / (count - (track.closed ? 0 : 1)));
  return { now, rest, places: even(now), restPlaces: even(rest) };
}

function throughPoints(context: NodeContext): Spread {
  const value = context.input('points') as Single | Column;
  const count = value.form === 'column' ? value.count : 1;
  if (count < 2) throw new NodeError({ code: 'curve-short', what: 'Make Chain' });
  if (count > MOST) throw new NodeError({ code: 'limit', what: 'The joints of a chain', count, most: MOST });
  const positions = Float32Array.from(context.lane('points', 'vector', count));
  const now = tracksOf(makeCurves([{ positions, type: 'poly', closed: false }])).find((t) => t.length > 0);
  if (!now) throw new NodeError({ code: 'bones-no-length', joints: 'The points' });
  const places = [0];
  for (let i = 1; i < count; i++)
    places.push(places[i - 1] + Math.hypot(...[0, 1, 2].map((k) => positions[i * 3 + k] - positions[i * 3 - 3 + k])));
  return { now, rest: now, places, restPlaces: places };
}

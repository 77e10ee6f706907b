import { blendPoses } from '../../chains/blend-poses.ts';
import { boneFrames, bonesOf, layOnFrames, placesAlong, type LaySpacing } from '../../chains/along-curve.ts';
import { pathBetween, withPosed, type Chain } from '../../chains/chain.ts';
import { makeCurves, tracksOf } from '../../curves/index.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { chainValue } from '../../graph/node/values.ts';
import { positionOf } from '../../maths/matrix.ts';
import { length, subtract } from '../../maths/vector.ts';
import { numberWithin } from '../within.ts';
import { RADIANS_PER_DEGREE } from '../../maths/rotation.ts';
import { CURVES_IN, choiceSetting, numberPort, text } from '../ports.ts';
import { FRAME_SETTINGS, needTrack, pieceFrames } from '../curves/frame-settings.ts';
import { share } from './bend-chain.ts';
import { CHAIN_IN, CHAIN_OUT, jointSetting, lastJoint, namesFor, needChain, needJoint } from './joints.ts';

const ROOT = jointSetting('root', 'Root', 'The joint at the start of the curve. Empty: the first of the chain.');
const TIP = jointSetting('tip', 'Tip', 'The last joint on the curve. Empty: the last as one follows the first under each.');

export const layChainAlongCurve: NodeDefinition = {
  id: 'lay-chain-along-curve',
  version: 1,
  title: 'Lay Chain Along Curve',
  group: 'Chains',
  summary: 'Puts the joints of a spine, neck or tail on a curve, turned as the curve turns.',
  keywords: ['spine', 'neck', 'tail', 'spline', 'path', 'swim'],
  inputs: () => [
    CHAIN_IN,
    { ...CURVES_IN, label: 'curve', help: 'The curve; of several splines the first.' },
    {
      id: 'rest',
      label: 'rest curve',
      kind: 'curves',
      optional: true,
      help: 'The curve as it was when the chain’s rest fitted it: then only the change is applied. Left open, the line through the joints at rest.',
    },
    numberPort('start', 'start', undefined, 0, [-1, 2], 'Where the root is, as a fraction of the curve; animate it to travel.'),
    numberPort('stretch', 'stretch', undefined, 1, [0, 3], 'Longer or shorter along the curve.'),
    numberPort('rollStart', 'roll start', '°', 0, [-360, 360], 'Turn about the curve at the root.'),
    numberPort('rollEnd', 'roll end', '°', 0, [-360, 360], 'Turn about the curve at the tip.'),
    numberPort('blend', 'blend', undefined, 1, [0, 1], '0 is the pose that comes in, 1 the one on the curve.'),
  ],
  outputs: () => [CHAIN_OUT],
  settings: [
    ROOT,
    TIP,
    choiceSetting(
      'spacing',
      'Length',
      [
        ['bones', 'Keep the bones’'],
        ['along', 'Keep it along the curve'],
        ['fit', 'Fit the curve’s'],
      ],
      'Keep the bones: each is as long as at rest. Along the curve: a metre stays a metre. Fit: as long as the curve.',
    ),
    ...FRAME_SETTINGS,
  ],
  sentence: (s) =>
    `${text(s, 'root') || text(s, 'tip') ? namesFor(s, ROOT, TIP) : 'all joints'}, ${s.spacing === 'fit' ? 'fitted' : 'keeping their length'}`,
  passes: { chain: 'chain' },
  evaluate(context) {
    const chain = needChain(context);
    const root = needJoint(context, chain, ROOT, 0);
    const tip = needJoint(context, chain, TIP, lastJoint(chain));
    const path = root === tip ? undefined : pathBetween(chain, root, tip);
    if (!path) throw new NodeError({ code: 'joint-order', above: chain.names[root], below: chain.names[tip] });
    const bones = bonesOf(chain.rest, path);
    if (!(Math.max(...bones) > 0)) throw new NodeError({ code: 'bones-no-length', joints: 'The joints' });
    const track = needTrack(context.curves('curves'), 'Lay Chain Along Curve');
    const given = context.input('rest');
    const restTrack = given?.form === 'curves' ? needTrack(given.curves, 'The rest curve') : restLine(chain, path);
    const isCurve = given?.form === 'curves';
    const spacing = text(context.settings, 'spacing') as LaySpacing;
    const [start, stretch] = [context.number('start'), numberWithin(context, 'stretch', 0)];
    const rolls = [context.number('rollStart') * RADIANS_PER_DEGREE, context.number('rollEnd') * RADIANS_PER_DEGREE];
    // Without a number the pose is left as it came in; which one has none is told where it is read.
    if (![start, stretch, ...rolls].every(Number.isFinite)) return { chain: chainValue(chain) };
    const rollOf = (i: number) => rolls[0] + ((rolls[1] - rolls[0]) * i) / (path.length - 1);
    const restRail = { track: restTrack, frames: pieceFrames(context, restTrack) };
    const atRest = boneFrames(
      restRail,
      placesAlong(restTrack, bones, isCurve ? spacing : 'along', isCurve ? start : 0, isCurve ? stretch : 1),
      () => 0,
    );
    const now = boneFrames(
      { track, frames: pieceFrames(context, track) },
      placesAlong(track, bones, spacing, start, stretch),
      rollOf,
    );
    if (spacing === 'bones') {
      const lost = bones.filter((bone, i) => {
        const between = length(subtract(positionOf(now[i + 1]), positionOf(now[i])));
        return Math.abs(between - bone * stretch) > 1e-5 * Math.max(bone * stretch, 1e-9);
      });
      if (lost.length > 0) context.report({ code: 'bones-not-kept', bones: lost.length, severity: 'warning' });
    }
    const posed = chain.posed.slice();
    // The path and what hangs under it begin at rest; the rest of the chain stays where it is.
    posed.set(chain.rest.subarray(root * 16, chain.ends[root] * 16), root * 16);
    layOnFrames(chain, posed, path, atRest, now);
    const w = share(context, 'blend');
    const blended = w === 1 ? posed : blendPoses(chain.parents, [chain.posed, posed], (k) => (k === 0 ? 1 - w : w));
    return { chain: chainValue(withPosed(chain, blended)) };
  },
};

/** The straight pieces through joints at rest, as a track. @throws NodeError when they have no length */
function restLine(chain: Chain, path: readonly number[]) {
  const positions = Float32Array.from(path.flatMap((j) => [...chain.rest.subarray(j * 16 + 12, j * 16 + 15)]));
  const track = tracksOf(makeCurves([{ positions, type: 'poly', closed: false }])).find((t) => t.length > 0);
  if (!track) throw new NodeError({ code: 'bones-no-length', joints: 'The joints' });
  return track;
}

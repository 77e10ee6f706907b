import type { NodeDefinition } from '../../graph/node/definition.ts';
import { bendChainNode } from './bend-chain.ts';
import { bindSkinNode } from './bind-skin.ts';
import { blendPosesNode } from './blend-poses.ts';
import { chainToCurve } from './chain-to-curve.ts';
import { correctByPose } from './correct-by-pose.ts';
import { damping } from './damping.ts';
import { driveChain } from './drive-chain.ts';
import { groundContact } from './ground-contact.ts';
import { jointNode } from './joint.ts';
import { layChainAlongCurve } from './lay-chain-along-curve.ts';
import { makeChainNode } from './make-chain.ts';
import { reachNode } from './reach.ts';
import { skinNode } from './skin.ts';
import { spreadRoll } from './spread-roll.ts';
import { wholeBodyReach } from './whole-body-reach.ts';

export const CHAINS: readonly NodeDefinition[] = [
  makeChainNode,
  jointNode,
  chainToCurve,
  bendChainNode,
  reachNode,
  layChainAlongCurve,
  spreadRoll,
  groundContact,
  wholeBodyReach,
  blendPosesNode,
  damping,
  driveChain,
  bindSkinNode,
  skinNode,
  correctByPose,
];

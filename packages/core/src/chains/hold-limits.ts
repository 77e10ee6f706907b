import { rotationMatrix } from '../maths/aim.ts';
import { matrixAt, type Matrix } from '../maths/matrix.ts';
import { multiplyQuaternions, rotationFromQuaternion, type Quaternion } from '../maths/rotation.ts';
import { jointPlace, moveWith, type Chain } from './chain.ts';
import { fromRest, limitTurn, localTurn, turnOf } from './limits.ts';
import { aboutPlace } from './turns.ts';

/** The turn of a joint at rest as its parent sees it, where it has a limit. */
export const restTurnOf = (chain: Chain, joint: number): Quaternion | undefined =>
  chain.traits[joint].limit ? localTurn(chain.rest, chain.parents[joint], joint) : undefined;

/**
 * What turns a joint back into its limit, about its own place and applied in the world. Undefined where it is within.
 * @param rest of `restTurnOf`
 */
export function turnIntoLimit(chain: Chain, worlds: Readonly<Float64Array>, joint: number, rest: Quaternion): Matrix | undefined {
  const { limit } = chain.traits[joint];
  if (!limit) return undefined;
  const p = chain.parents[joint];
  const { turn, isHeld } = limitTurn(fromRest(rest, localTurn(worlds, p, joint)), limit);
  if (!isHeld) return undefined;
  const wanted = multiplyQuaternions(rest, turn);
  const world = p < 0 ? wanted : multiplyQuaternions(turnOf(matrixAt(worlds, p)), wanted);
  const back = turnOf(matrixAt(worlds, joint));
  const change = multiplyQuaternions(world, [-back[0], -back[1], -back[2], back[3]]);
  return aboutPlace(rotationMatrix(rotationFromQuaternion(change)), jointPlace(worlds, joint));
}

/**
 * Turns joints back into their limits, from the root down; all that hangs under each goes along, others stay.
 * @param joints in the order of the chain. @param worlds written to. @returns those that were past their limit
 */
export function holdLimits(chain: Chain, worlds: Float64Array, joints: readonly number[]): number[] {
  return joints.filter((joint) => {
    const rest = restTurnOf(chain, joint);
    const turn = rest && turnIntoLimit(chain, worlds, joint, rest);
    if (turn) moveWith(chain, worlds, joint, turn);
    return turn !== undefined;
  });
}

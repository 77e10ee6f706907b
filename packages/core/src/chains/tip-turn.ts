import { turnOnto } from '../maths/aim.ts';
import { identity, matrixAt, multiply, type Matrix } from '../maths/matrix.ts';
import { jointPlace, moveWith, type Chain } from './chain.ts';
import { aboutPlace, rotationOf } from './turns.ts';

/** What the tip of a solved limb takes over besides a place: it goes along, stays as it came in, or is turned as the target. */
export type TipTurn = 'carried' | 'kept' | 'target';

export interface TipOptions {
  readonly tip: number;
  readonly tipTurn: TipTurn;
  /** Only the turn of the matrix counts; without one the tip goes along. */
  readonly targetTurn: Readonly<Matrix> | undefined;
  /** Applied after the target's turn, in its own axes. */
  readonly tipOffset?: Readonly<Matrix> | undefined;
}

/** Turns the tip about its own place, and what hangs under it. @param worlds written to */
export function turnTip(chain: Chain, worlds: Float64Array, incoming: Readonly<Float64Array>, o: TipOptions): void {
  if (o.tipTurn === 'carried' || (o.tipTurn === 'target' && !o.targetTurn)) return;
  const wanted =
    o.tipTurn === 'kept'
      ? rotationOf(matrixAt(incoming, o.tip))
      : multiply(identity(), rotationOf(o.targetTurn as Matrix), o.tipOffset ?? identity());
  const turn = turnOnto(wanted, rotationOf(matrixAt(worlds, o.tip)));
  moveWith(chain, worlds, o.tip, aboutPlace(turn, jointPlace(worlds, o.tip)));
}

import { decompose } from '../maths/factors.ts';
import { matrixAt } from '../maths/matrix.ts';
import { RADIANS_PER_DEGREE } from '../maths/rotation.ts';
import { turnAngle } from './blend-poses.ts';
import { fromRest, limitRoom, localTurn } from './limits.ts';
import { jointPlaces, localsOf, type Chain } from './chain.ts';

/** What people read of a chain, one entry a joint: metres and degrees; turns as parents see them, about x, then y, then z. */
export interface ChainReadout {
  readonly places: Float32Array;
  readonly turns: Float32Array;
  readonly restTurns: Float32Array;
  /** The angle from the turn at rest. */
  readonly angles: Float32Array;
  /** How far inside of its limit each is: 0 at it, negative past it; NaN for those without one. */
  readonly rooms: Float32Array;
  /** From the joint it hangs under. */
  readonly lengths: Float32Array;
  readonly restLengths: Float32Array;
}

export function chainReadout(chain: Chain): ChainReadout {
  const { count, parents } = chain;
  const [now, rest] = [localsOf(parents, chain.posed), localsOf(parents, chain.rest)];
  const turnsOf = (locals: Float64Array) => {
    const out = new Float32Array(count * 3);
    for (let i = 0; i < count; i++)
      out.set(
        decompose(matrixAt(locals, i), 'xyz').anglesInRadians.map((a) => a / RADIANS_PER_DEGREE),
        i * 3,
      );
    return out;
  };
  const angles = Float32Array.from(parents, (_, i) => turnAngle(matrixAt(rest, i), matrixAt(now, i)) / RADIANS_PER_DEGREE);
  return {
    places: jointPlaces(chain),
    turns: turnsOf(now),
    restTurns: turnsOf(rest),
    angles,
    rooms: Float32Array.from(parents, (p, i) => {
      const { limit } = chain.traits[i];
      return limit ? limitRoom(fromRest(localTurn(chain.rest, p, i), localTurn(chain.posed, p, i)), limit) : NaN;
    }),
    lengths: boneLengths(chain, chain.posed),
    restLengths: boneLengths(chain, chain.rest),
  };
}

/** How far each joint is from the one it hangs under; 0 for roots. */
export function boneLengths({ parents }: Pick<Chain, 'parents'>, worlds: Readonly<Float64Array>): Float32Array {
  return Float32Array.from(parents, (p, i) =>
    p < 0 ? 0 : Math.hypot(...[12, 13, 14].map((k) => worlds[i * 16 + k] - worlds[p * 16 + k])),
  );
}

/** A range that a number is kept in, with an edge inside which it is eased instead of cut. */
export interface Limit {
  readonly min: number;
  readonly max: number;
  /** How far before the ends the easing begins; 0 is a hard stop. */
  readonly soft: number;
}

/**
 * A number kept in a range. With a soft edge it slows down from `soft` before an end and comes to rest at it only far
 * beyond: `end − s · e^(−x/s)`, which meets the straight part with the same slope (no kink). Ends the wrong way round
 * are swapped.
 */
export function limited(value: number, { min, max, soft }: Limit): number {
  const [low, high] = min <= max ? [min, max] : [max, min];
  const s = Math.min(Math.max(0, soft), (high - low) / 2);
  if (s === 0) return value < low ? low : value > high ? high : value;
  if (value > high - s) return high - s * Math.exp(-(value - (high - s)) / s);
  if (value < low + s) return low + s * Math.exp((value - (low + s)) / s);
  return value;
}

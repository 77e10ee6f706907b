import type { LaneView } from '../../graph/node/definition.ts';

/** Points that are done at a time. */
const CHUNK = 4096;

/**
 * Goes through points by stretches that have one weight: most points have that of their neighbour, all or nothing, and what
 * a weight comes to is then worked out once.
 * @returns the sum of what `run` gives for the points from one on up to another
 */
export function byRunsOfWeight(
  { data: weight, step }: LaneView,
  pointCount: number,
  checkpoint: () => void,
  run: (weight: number, from: number, to: number) => number,
): number {
  let sum = 0;
  for (let from = 0, to = 0, looked = -CHUNK; from < pointCount; from = to) {
    const w = weight[from * step];
    const most = Math.min(pointCount, from + CHUNK);
    to = step === 0 ? most : from + 1;
    while (to < most && weight[to] === w) to++;
    if (from - looked >= CHUNK) {
      checkpoint();
      looked = from;
    }
    sum += run(w, from, to);
  }
  return sum;
}

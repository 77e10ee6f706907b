/**
 * Samples over time that cannot be left out: the first, the last, and each at which the straight way between its
 * neighbours would miss one of those between by more than the tolerance. In one pass: from the last sample that stays,
 * the slopes that pass every one since are a box that only shrinks (O'Rourke 1981).
 * @param times rising.
 * @param away from a sample to a later one, as a vector; undefined where no straight way joins them.
 * @returns numbers of the samples that stay, rising.
 */
export function samplesNeeded(
  times: ArrayLike<number>,
  away: (from: number, to: number) => readonly number[] | undefined,
  tolerance: number,
): number[] {
  if (times.length < 2) return times.length === 1 ? [0] : [];
  const kept = [0];
  let low: number[] = [];
  let high: number[] = [];
  for (let from = 0, i = 1; i < times.length; i++) {
    let way = away(from, i);
    let span = times[i] - times[from];
    const fits = (v: number, k: number) => low[k] === undefined || (v / span >= low[k] && v / span <= high[k]);
    if (i - from > 1 && !way?.every(fits)) {
      from = i - 1;
      kept.push(from);
      [low, high] = [[], []];
      way = away(from, i);
      span = times[i] - times[from];
    }
    // Nothing joins them: the next one is judged from here.
    if (!way) {
      if (i < times.length - 1) kept.push(i);
      from = i;
      [low, high] = [[], []];
      continue;
    }
    for (let k = 0; k < way.length; k++) {
      low[k] = Math.max(low[k] ?? -Infinity, (way[k] - tolerance) / span);
      high[k] = Math.min(high[k] ?? Infinity, (way[k] + tolerance) / span);
    }
  }
  kept.push(times.length - 1);
  return kept;
}

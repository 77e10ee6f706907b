/**
 * How far a limb of length `whole` goes towards a target `distance` away, so that it never snaps straight: up to
 * `whole · (1 − soft)` all the way, and from there on ever more slowly towards `whole`,
 * `s + (whole − s) · (1 − exp(−(distance − s) / (whole − s)))`, whose first derivative is continuous. Without softness
 * the smaller of the two.
 */
export function softDistance(distance: number, whole: number, soft: number): number {
  const from = whole * (1 - Math.min(1, Math.max(0, soft)));
  if (distance <= from) return distance;
  const room = whole - from;
  return room > 0 ? from + room * (1 - Math.exp(-(distance - from) / room)) : whole;
}

/**
 * Shares of one point that sum to 1, after one of them is wanted at another number: the others that are free keep their
 * proportions in what is left; those that are locked keep their numbers. Where no other that is free has any share, what
 * would be left has nowhere to go, and the wanted one keeps it. Rounded to 5 decimals; the greatest free one takes what
 * rounding leaves, so that the sum is 1 to the last bit of a Float32.
 * @param shares changed in place. @returns whether the wanted number was met, but for rounding
 */
export function shareOut(shares: number[], at: number, wanted: number, locked: readonly boolean[]): boolean {
  if (locked[at]) return false;
  let kept = 0;
  let others = 0;
  shares.forEach((w, i) => {
    if (i === at) return;
    if (locked[i]) kept += w;
    else others += w;
  });
  const room = Math.max(0, 1 - kept);
  let mine = Math.min(room, Math.max(0, wanted));
  const hasOthers = others > 1e-9;
  // A point that nothing holds and that gets nothing stays as it is.
  if (!hasOthers && mine === 0 && shares[at] === 0) return true;
  if (!hasOthers) mine = room;
  const scale = hasOthers ? (room - mine) / others : 0;
  for (let i = 0; i < shares.length; i++) {
    if (i === at) shares[i] = mine;
    else if (!locked[i]) shares[i] *= scale;
  }
  roundToOne(shares, locked);
  return Math.abs(mine - wanted) < 1e-4;
}

/** Rounds shares to 5 decimals so that they sum to 1; locked ones stay. */
export function roundToOne(shares: number[], locked: readonly boolean[]): void {
  let greatest = -1;
  let sum = 0;
  for (let i = 0; i < shares.length; i++) {
    if (!locked[i]) {
      shares[i] = Math.round(shares[i] * 1e5) / 1e5;
      if (greatest < 0 || shares[i] > shares[greatest]) greatest = i;
    }
    sum += shares[i];
  }
  if (greatest >= 0 && sum > 0) shares[greatest] = Math.max(0, Number((shares[greatest] + 1 - sum).toFixed(7)));
}

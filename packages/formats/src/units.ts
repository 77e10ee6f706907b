/** How numbers in a file become metres with y up. */
export interface ImportUnits {
  /** Metres per unit of the file. */
  readonly metresPerUnit: number;
  readonly upAxis: 'y' | 'z';
}

export const METRES_Y_UP: ImportUnits = { metresPerUnit: 1, upAxis: 'y' };

/** Things that are rigged are seldom larger or smaller than this, metres along their longest side. */
const SMALLEST = 0.02;
const LARGEST = 60;

/**
 * The unit in which a size is plausible: the first as it stands where that is, else the first of the others.
 * @param longest side in units of the file, @param units metres of each, the likeliest first
 */
export function plausibleUnit<T extends { readonly metres: number }>(longest: number, units: readonly T[]): T | undefined {
  const fits = ({ metres }: T) => longest * metres >= SMALLEST && longest * metres <= LARGEST;
  return longest > 0 ? (units.find(fits) ?? units[0]) : units[0];
}

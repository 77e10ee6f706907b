/** Colours along 0..1, linear red, green and blue, straight between stops; in any order. */
export interface Gradient {
  readonly stops: readonly { readonly at: number; readonly colour: readonly [number, number, number] }[];
}

/** A gradient ready to be read: stops in order. */
export interface CompiledGradient {
  readonly at: Float64Array;
  /** Linear red, green, blue per stop. */
  readonly colours: Float64Array;
}

/** Puts the stops in order; stops at the same place keep theirs, which makes a hard edge. */
export function compileGradient(gradient: Gradient): CompiledGradient {
  const stops = [...gradient.stops].sort((a, b) => a.at - b.at);
  return {
    at: Float64Array.from(stops, (s) => s.at),
    colours: Float64Array.from(stops.flatMap((s) => [...s.colour])),
  };
}

/**
 * Writes the colour at a place to three numbers of `out`: straight between stops, constant beyond the first and last,
 * the last stop's own colour where several share a place. NaN gives NaN.
 */
export function readGradient(out: Float32Array, o: number, gradient: CompiledGradient, place: number): void {
  const { at, colours } = gradient;
  const last = at.length - 1;
  let i = 0;
  while (i < last && at[i + 1] <= place) i++;
  const span = i < last ? at[i + 1] - at[i] : 0;
  const t = place !== place ? NaN : span > 0 ? Math.max(0, (place - at[i]) / span) : 0;
  const next = i < last ? i + 1 : i;
  for (let c = 0; c < 3; c++) {
    const from = colours[i * 3 + c];
    out[o + c] = from + (colours[next * 3 + c] - from) * t;
  }
}

/** Sunk paper through clay to umber ink: readable in grey too, since it only darkens. */
export const UMBER_GRADIENT: Gradient = {
  stops: [
    { at: 0, colour: [0.86, 0.78, 0.62] },
    { at: 1 / 3, colour: [0.8, 0.42, 0.16] },
    { at: 2 / 3, colour: [0.42, 0.1, 0.045] },
    { at: 1, colour: [0.09, 0.02, 0.05] },
  ],
};

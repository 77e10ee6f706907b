/** Muted colours that are told apart by day and by night: red, green and blue, 0 to 1 as screens show them. */
const COLOURS = [
  [0.76, 0.36, 0.24],
  [0.25, 0.52, 0.55],
  [0.85, 0.67, 0.26],
  [0.45, 0.33, 0.56],
  [0.42, 0.58, 0.29],
  [0.8, 0.5, 0.55],
  [0.29, 0.4, 0.62],
  [0.66, 0.54, 0.4],
  [0.36, 0.66, 0.53],
  [0.6, 0.24, 0.36],
  [0.58, 0.62, 0.32],
  [0.5, 0.45, 0.44],
] as const;

const toLinear = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);

/** A colour for each name, the same wherever the same names are: linear red, green and blue. */
export function jointColours(names: readonly string[]): (name: string) => readonly [number, number, number] {
  const place = placesOf(names);
  return (name) => COLOURS[(place.get(name) ?? 0) % COLOURS.length].map(toLinear) as unknown as [number, number, number];
}

/** The same colours for a style sheet. */
export function jointColourOf(names: readonly string[], name: string): string {
  const at = placesOf(names).get(name) ?? 0;
  return `rgb(${COLOURS[at % COLOURS.length].map((v) => Math.round(v * 255)).join(' ')})`;
}

const placesOf = (names: readonly string[]) => new Map([...names].sort().map((n, i) => [n, i]));

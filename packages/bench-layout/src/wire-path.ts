/** A place on the bench (pixels). */
export type Place = readonly [number, number];

/** A cubic stretch of a wire: its ends and the two handles between. */
export type Stretch = readonly [Place, Place, Place, Place];

/** Least and usual reach of the handles: level where a wire leaves and arrives. */
const LEAST_REACH = 18;
const REACH = 0.4;

/** A wire through places, smooth: each stretch leaves and arrives level, as wires do at cards. */
export function wireStretches(places: readonly Place[]): Stretch[] {
  return places.slice(1).map((end, i): Stretch => {
    const [x0, y0] = places[i];
    const [x1, y1] = end;
    const reach = Math.max(LEAST_REACH, Math.abs(x1 - x0) * REACH);
    const back = x1 < x0 && i > 0 && i < places.length - 2 ? -1 : 1;
    return [places[i], [x0 + reach * back, y0], [x1 - reach * back, y1], end];
  });
}

/** The same as the text of an SVG path. */
export const wirePath = (places: readonly Place[]): string =>
  [
    `M${places[0][0]},${places[0][1]}`,
    ...wireStretches(places).map(([, [ax, ay], [bx, by], [x, y]]) => `C${ax},${ay} ${bx},${by} ${x},${y}`),
  ].join(' ');

/** Places along a wire, close to each other. */
export function alongWire(places: readonly Place[], steps = 24): Place[] {
  return wireStretches(places).flatMap(([a, b, c, d], i) =>
    Array.from({ length: steps + (i === 0 ? 1 : 0) }, (_, k): Place => {
      const t = (k + (i === 0 ? 0 : 1)) / steps;
      const u = 1 - t;
      const at = (axis: 0 | 1) => u * u * u * a[axis] + 3 * u * u * t * b[axis] + 3 * u * t * t * c[axis] + t * t * t * d[axis];
      return [at(0), at(1)];
    }),
  );
}

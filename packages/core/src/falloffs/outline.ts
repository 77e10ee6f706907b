import { transformPoint } from '../maths/matrix.ts';
import { memoize } from '../memo.ts';
import { contoursAt } from './contours.ts';
import type { DistanceFalloff } from './distance.ts';
import { partsOf, type Falloff } from './falloff.ts';
import { gaugeAt, type FalloffShape } from './gauge.ts';

/** Lines that show where a falloff begins and ends: pairs of xyz, world space. */
export interface Outline {
  readonly inner: Float32Array;
  readonly outer: Float32Array;
}

/**
 * The boundaries of every part of a falloff, as they really are. Of a shape: lines on the unit boundary, grown to the
 * inner and the outer end and taken through the locator's whole matrix. By distance to geometry: cuts through the
 * surfaces of those distances.
 */
export function outlineOf(falloff: Falloff): Outline {
  const inner: number[] = [];
  const outer: number[] = [];
  for (const part of partsOf(falloff)) {
    if (part.type === 'surface' || part.type === 'curve') {
      const known = contoursOf(part);
      for (const v of known.inner) inner.push(v);
      for (const v of known.outer) outer.push(v);
    }
    if (part.type !== 'shape') continue;
    const lines = unitLines(part.shape, part.rounding);
    for (const [out, size] of [
      [inner, part.fade.inner],
      [outer, part.fade.outer],
    ] as const) {
      for (const [x, y, z] of lines) {
        const at = part.shape === 'plane' ? ([x, size, z] as const) : ([x * size, y * size, z * size] as const);
        out.push(...transformPoint(part.world, at));
      }
    }
  }
  return { inner: Float32Array.from(inner), outer: Float32Array.from(outer) };
}

/** Worked out once: drawn again and again while something else is done. */
const contoursOf = memoize((part: DistanceFalloff) => ({
  inner: contoursAt(part, part.fade.inner),
  outer: contoursAt(part, part.fade.outer),
}));

type Place = readonly [number, number, number];
const STEPS = 48;

/** Lines on the unit boundary, as pairs of places. */
function unitLines(shape: FalloffShape, rounding: number): Place[] {
  if (shape === 'plane') {
    const line = (a: Place, b: Place): Place[] => [a, b];
    const ticks = [-1, -0.5, 0, 0.5, 1];
    return ticks.flatMap((t) => [...line([t, 0, -1], [t, 0, 1]), ...line([-1, 0, t], [1, 0, t])]);
  }
  const templates: ((t: number) => Place)[] = [];
  const circle = (of: (c: number, s: number) => Place) =>
    templates.push((t) => of(Math.cos(t * 2 * Math.PI), Math.sin(t * 2 * Math.PI)));
  if (shape === 'box') {
    for (const a of [-1, 1]) {
      for (const b of [-1, 1]) {
        templates.push(
          (t) => [2 * t - 1, a, b],
          (t) => [a, 2 * t - 1, b],
          (t) => [a, b, 2 * t - 1],
        );
      }
    }
  } else {
    circle((c, s) => [0, s, c]);
    circle((c, s) => [c, s, 0]);
    circle((c, s) => [c, 0, s]);
    if (shape === 'cylinder') for (const y of [-1, 1]) circle((c, s) => [c, y, s]);
    if (shape === 'cone') circle((c, s) => [c, -1, s]);
    if (shape === 'capsule') for (const y of [-0.5, 0.5]) circle((c, s) => [c / 2, y, s / 2]);
  }
  return templates.flatMap((of) =>
    Array.from({ length: STEPS }, (_, i) => [of(i / STEPS), of((i + 1) / STEPS)]).flatMap((pair) =>
      pair.map((p): Place => {
        // Out from the centre until the boundary: exactly on it, whatever the shape.
        const d = gaugeAt(shape, rounding, ...p);
        return d > 0 ? [p[0] / d, p[1] / d, p[2] / d] : p;
      }),
    ),
  );
}

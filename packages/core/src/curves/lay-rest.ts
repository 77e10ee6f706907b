import type { Rail } from './frames.ts';
import { lanes } from './lay-lanes.ts';
import { beginAgain, sampleBefore, type Overshoot } from './on-track.ts';
import type { Track } from './track.ts';

/** Parts into which the axis of a mesh is cut to know where its points are on the rest curve. */
const PARTS = 1024;

/**
 * How far along the rest curve each part of the mesh's axis is: where the curve has the same coordinate, carried on
 * beyond its ends; a curve that runs back and forth along the axis, or across it, is met by share of length.
 */
export function restPlaces(track: Track, axis: number, low: number, span: number, flip: boolean): Float64Array {
  const { positions: p, lengths, count, length } = track;
  const out = new Float64Array(PARTS + 1);
  const coordinate = (i: number) => (flip ? low + span - p[i * 3 + axis] : p[i * 3 + axis] - low);
  let rising = count > 1 && !track.closed;
  for (let i = 0; i + 1 < count; i++) if (lengths[i + 1] > lengths[i] && !(coordinate(i + 1) > coordinate(i))) rising = false;
  let i = 0;
  for (let g = 0; g <= PARTS; g++) {
    const at = (g / PARTS) * span;
    if (!rising) {
      out[g] = (g / PARTS) * length;
      continue;
    }
    while (i < count - 2 && coordinate(i + 1) <= at) i++;
    const [a, b] = [coordinate(i), coordinate(i + 1)];
    out[g] = lengths[i] + ((at - a) / (b - a)) * (lengths[i + 1] - lengths[i]);
  }
  return out;
}

/**
 * The place against the frame of the rest curve, and how far along that it is. What lies beyond its ends there stays beyond
 * by as much, unless the curve is carried on anyway.
 */
export function againstRest(
  positions: Readonly<Float32Array>,
  from: number,
  to: number,
  rest: Rail,
  places: Readonly<Float64Array>,
  turns: Readonly<Float64Array> | undefined,
  overshoot: Overshoot,
  scale: number,
): void {
  const { along, share, tangent, normal, binormal, restWidth, restTurn } = lanes;
  const r = rest.track;
  const goesRound = overshoot === 'wrap' && r.closed;
  for (let i = 0, o = from * 3; i < to - from; i++, o += 3) {
    const g = Math.floor(Math.min(PARTS - 1, Math.max(0, share[i] * PARTS))) || 0;
    const before = places[g] + (places[g + 1] - places[g]) * (share[i] * PARTS - g);
    const at = goesRound ? beginAgain(r, before) : before < 0 ? 0 : before > r.length ? r.length : before;
    const over = goesRound ? 0 : before - at;
    const k = sampleBefore(r, at);
    const q = k + 1 < r.count ? k + 1 : k;
    const step = r.lengths[q] - r.lengths[k];
    const f = step > 0 ? (at - r.lengths[k]) / step : 0;
    local(rest, k, q, f, step, over, positions[o], positions[o + 1], positions[o + 2]);
    const isCarriedOn = overshoot === 'extend';
    along[i] = isCarriedOn ? before : at;
    tangent[i] = isCarriedOn ? place.a : place.a + over * scale;
    normal[i] = place.n;
    binormal[i] = place.b;
    restWidth[i] = r.width[k] * (1 - f) + r.width[q] * f;
    restTurn[i] = turns ? turns[k] * (1 - f) + turns[q] * f : 0;
  }
}

/** What `local` found. */
const place = { a: 0, n: 0, b: 0 };

/** A point against the frame of a rest curve between two samples, put into `place`. */
function local(
  { track, frames }: Rail,
  sample: number,
  next: number,
  f: number,
  step: number,
  beyond: number,
  x: number,
  y: number,
  z: number,
): void {
  const { positions: p, tangents: t, corners } = track;
  const { normals, binormals } = frames;
  const [ko, qo] = [sample * 3, next * 3];
  const e = 1 - f;
  const h1 = f * f * (3 - 2 * f);
  const h2 = f * e * e * step;
  const h3 = f * f * e * step;
  let [nn, bb] = [0, 0];
  for (let axis = 0; axis < 3; axis++) {
    const k = ko + axis;
    const q = qo + axis;
    const tangent = t[k] * e + t[q] * f;
    const centre = p[k] + (p[q] - p[k]) * h1 + t[k] * h2 - t[q] * h3 + tangent * beyond;
    frame[axis] = tangent;
    frame[3 + axis] = normals[k] * e + normals[q] * f;
    frame[6 + axis] = binormals[k] * e + binormals[q] * f;
    frame[9 + axis] = (axis === 0 ? x : axis === 1 ? y : z) - centre;
    nn += frame[3 + axis] * frame[3 + axis];
    bb += frame[6 + axis] * frame[6 + axis];
  }
  // The very frame that points are carried by (`lay.ts`), solved by Cramer's rule: between samples it is not quite square, and an unchanged
  // curve has to move nothing.
  const isPlain = corners !== undefined && (corners[sample] | corners[next]) !== 0;
  for (let axis = 0; axis < 3 && !isPlain; axis++) {
    frame[3 + axis] *= 1.5 - 0.5 * nn;
    frame[6 + axis] *= 1.5 - 0.5 * bb;
  }
  const whole = determinant(0, 3, 6) || 1;
  place.a = determinant(9, 3, 6) / whole;
  place.n = determinant(0, 9, 6) / whole;
  place.b = determinant(0, 3, 9) / whole;
}

/** Tangent, normal, binormal and the way to the point, for `local`. */
const frame = new Float64Array(12);

/** Of three columns of `frame`. */
function determinant(a: number, b: number, c: number): number {
  return (
    frame[a] * (frame[b + 1] * frame[c + 2] - frame[b + 2] * frame[c + 1]) +
    frame[a + 1] * (frame[b + 2] * frame[c] - frame[b] * frame[c + 2]) +
    frame[a + 2] * (frame[b] * frame[c + 1] - frame[b + 1] * frame[c])
  );
}

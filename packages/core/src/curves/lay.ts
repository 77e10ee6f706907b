import { respond, type CompiledResponse } from '../maths/response.ts';
import type { Frames } from './frames.ts';
import { beginAgain, sampleBefore, type Track } from './track.ts';

/** What becomes of places before the start and after the end of a curve. */
export type Overshoot = 'clamp' | 'extend' | 'wrap';

/** A track with its frames. */
export interface Rail {
  readonly track: Track;
  readonly frames: Frames;
}

export interface LayOptions {
  /** The axis of the mesh that follows the curve, and where it begins on it (metres) and how long it is. */
  readonly axis: 0 | 1 | 2;
  readonly low: number;
  readonly span: number;
  /** The mesh runs along the curve from its high end. */
  readonly flip: boolean;
  /** Middle of the cross-section on the two other axes, in cyclic order after `axis`. */
  readonly middle: readonly [number, number];
  /** Stretch the mesh over the whole curve; else it keeps its length. */
  readonly fit: boolean;
  /** Where the mesh begins, as a fraction of the curve. */
  readonly start: number;
  readonly stretch: number;
  readonly overshoot: Overshoot;
  /** Radians at the two ends of the mesh. */
  readonly rollStart: number;
  readonly rollEnd: number;
  /** Factor of the cross-section along the mesh; none is 1. With a rest curve it is at rest what it is now, so it is none. */
  readonly width?: CompiledResponse;
  readonly keepVolume: boolean;
}

/** Parts into which the axis of a mesh is cut to know where its points are on the rest curve. */
const PARTS = 1024;

/**
 * Bends points along a curve: the axis of the mesh becomes the curve, cross-sections ride on its frames. With a rest
 * curve, a point keeps its place relative to the frame it had at rest, `F · F₀⁻¹ · p` (DECISIONS 23), so nothing moves
 * while the curve is at rest: roll, width and what lies beyond the ends count as they were then. Where the rest curve has
 * no width, that of now is not followed.
 * @param out xyz × points; written, may be `positions`. @param weight one per point: how much of it is applied.
 */
export function layAlong(
  out: Float32Array,
  positions: Readonly<Float32Array>,
  now: Rail,
  rest: Rail | undefined,
  options: LayOptions,
  weight: Readonly<Float32Array> | undefined,
  checkpoint: () => void = () => {},
): Float32Array {
  const { axis, low, span, flip, middle, overshoot, rollStart, rollEnd, width } = options;
  const { track, frames } = now;
  const { positions: p, tangents: t, lengths, width: widths, length, count, corners } = track;
  const { normals: n, binormals: b } = frames;
  const u = (axis + 1) % 3;
  const v = (axis + 2) % 3;
  const restLength = rest ? rest.track.length : span;
  const scale = (options.fit && restLength > 0 ? length / restLength : 1) * options.stretch;
  const begin = options.start * length;
  const volume = options.keepVolume && scale > 0 ? 1 / Math.sqrt(scale) : 1;
  const along = rest ? restPlaces(rest.track, axis, low, span, flip) : undefined;
  const turns = turnsOf(now);
  const restTurns = rest && turnsOf(rest);
  const rolled = rollStart !== 0 || rollEnd !== 0 || turns !== undefined || restTurns !== undefined;
  const sign = flip ? -1 : 1;
  for (let i = 0, o = 0; o < positions.length; i++, o += 3) {
    if ((i & 16383) === 0) checkpoint();
    const w = weight ? weight[i] : 1;
    const x = positions[o],
      y = positions[o + 1],
      z = positions[o + 2];
    if (w === 0) {
      out[o] = x;
      out[o + 1] = y;
      out[o + 2] = z;
      continue;
    }
    // 1. How far along the mesh, and where that is on the curve at rest and now.
    const way = ((axis === 0 ? x : axis === 1 ? y : z) - low) * sign + (flip ? span : 0);
    const fraction = span > 0 ? way / span : 0;
    let before = way;
    if (along) {
      let g = fraction * PARTS;
      g = g < 0 ? 0 : g > PARTS - 1 ? PARTS - 1 : Math.floor(g);
      before = along[g] + (along[g + 1] - along[g]) * (fraction * PARTS - g);
    }
    let s = before * scale + begin;
    // 2. The place against the frame at rest: along, normal, binormal. What lies beyond its ends there stays beyond by
    // as much, unless the curve is carried on anyway.
    let beyond = 0;
    let la = 0;
    let ln = positions[o + u] - middle[0];
    let lb = (positions[o + v] - middle[1]) * sign;
    let restWidth = 1;
    let restTurn = 0;
    if (rest) {
      const r = rest.track;
      const goesRound = overshoot === 'wrap' && r.closed;
      const at = goesRound ? beginAgain(r, before) : before < 0 ? 0 : before > r.length ? r.length : before;
      const over = goesRound ? 0 : before - at;
      if (overshoot !== 'extend') {
        s = at * scale + begin;
        beyond = over * scale;
      }
      const k = sampleBefore(r, at);
      const q = k + 1 < r.count ? k + 1 : k;
      const step = r.lengths[q] - r.lengths[k];
      const f = step > 0 ? (at - r.lengths[k]) / step : 0;
      local(rest, k, q, f, step, over, x, y, z);
      la = place.a;
      ln = place.n;
      lb = place.b;
      restWidth = r.width[k] * (1 - f) + r.width[q] * f;
      if (restTurns) restTurn = restTurns[k] * (1 - f) + restTurns[q] * f;
    }
    // 3. The frame of the curve there.
    if (s < 0 || s > length) {
      if (overshoot === 'wrap') s = beginAgain(track, s);
      else {
        const end = s < 0 ? 0 : length;
        if (overshoot === 'extend') beyond = s - end;
        s = end;
      }
    }
    const k = sampleBefore(track, s);
    const q = k + 1 < count ? k + 1 : k;
    const step = lengths[q] - lengths[k];
    const f = step > 0 ? (s - lengths[k]) / step : 0;
    const e = 1 - f;
    const ko = k * 3;
    const qo = q * 3;
    const dx = p[qo] - p[ko],
      dy = p[qo + 1] - p[ko + 1],
      dz = p[qo + 2] - p[ko + 2];
    const h1 = f * f * (3 - 2 * f),
      h2 = f * e * e * step,
      h3 = f * f * e * step;
    let cx = p[ko] + dx * h1 + t[ko] * h2 - t[qo] * h3;
    let cy = p[ko + 1] + dy * h1 + t[ko + 1] * h2 - t[qo + 1] * h3;
    let cz = p[ko + 2] + dz * h1 + t[ko + 2] * h2 - t[qo + 2] * h3;
    let nx = n[ko] * e + n[qo] * f,
      ny = n[ko + 1] * e + n[qo + 1] * f,
      nz = n[ko + 2] * e + n[qo + 2] * f;
    let bx = b[ko] * e + b[qo] * f,
      by = b[ko + 1] * e + b[qo + 1] * f,
      bz = b[ko + 2] * e + b[qo + 2] * f;
    // One step of Newton's rule for 1/√: between unit vectors this close, length 1 to the fourth order of the angle. At
    // corners they are longer, and what lies between is on straight lines.
    const isPlain = corners !== undefined && (corners[k] | corners[q]) !== 0;
    const fn = isPlain ? 1 : 1.5 - 0.5 * (nx * nx + ny * ny + nz * nz);
    const fb = isPlain ? 1 : 1.5 - 0.5 * (bx * bx + by * by + bz * bz);
    // 4. The cross-section: its size and its roll.
    let size = volume * (restWidth !== 0 ? (widths[k] * e + widths[q] * f) / restWidth : 1);
    if (width && !rest) size *= respond(width, fraction);
    ln *= size;
    lb *= size;
    if (rolled) {
      const turn = turns ? turns[k] * e + turns[q] * f : 0;
      const angle = rollStart + (rollEnd - rollStart) * fraction + turn - restTurn;
      const cosine = Math.cos(angle);
      const sine = Math.sin(angle);
      const turned = ln * cosine - lb * sine;
      lb = ln * sine + lb * cosine;
      ln = turned;
    }
    nx *= fn * ln;
    ny *= fn * ln;
    nz *= fn * ln;
    bx *= fb * lb;
    by *= fb * lb;
    bz *= fb * lb;
    const tangent = la + beyond;
    if (tangent !== 0) {
      cx += (t[ko] * e + t[qo] * f) * tangent;
      cy += (t[ko + 1] * e + t[qo + 1] * f) * tangent;
      cz += (t[ko + 2] * e + t[qo + 2] * f) * tangent;
    }
    out[o] = x + w * (cx + nx + bx - x);
    out[o + 1] = y + w * (cy + ny + by - y);
    out[o + 2] = z + w * (cz + nz + bz - z);
  }
  return out;
}

/** By how much the section is turned at each sample of a rail, by its roll and the twist of its frames; undefined is not. */
function turnsOf({ track, frames: { twist } }: Rail): Float64Array | undefined {
  if (!twist) return track.roll.some((r) => r !== 0) ? track.roll : undefined;
  return track.roll.map((r, i) => r + twist[i]);
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
  // The very frame that step 3 makes, solved by Cramer's rule: between samples it is not quite square, and an unchanged
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

/**
 * How far along the rest curve each part of the mesh's axis is: where the curve has the same coordinate, carried on
 * beyond its ends; a curve that runs back and forth along the axis, or across it, is met by share of length.
 */
function restPlaces(track: Track, axis: number, low: number, span: number, flip: boolean): Float64Array {
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

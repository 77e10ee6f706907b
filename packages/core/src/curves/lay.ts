import { tellFinite } from '../maths/finite.ts';
import { respond, type CompiledResponse } from '../maths/response.ts';
import { CHUNK, lanes } from './lay-lanes.ts';
import { againstRest, restPlaces } from './lay-rest.ts';
import type { Rail } from './frames.ts';
import { beginAgain, sampleBefore, type Overshoot } from './on-track.ts';
import type { Track } from './track.ts';

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

/** How much of it is applied: a number for each point (step 1), or one for all (step 0). */
export interface LayWeight {
  readonly data: Readonly<Float32Array>;
  readonly step: number;
}

/**
 * Bends points along a curve: the axis of the mesh becomes the curve, cross-sections ride on its frames. With a rest
 * curve, a point keeps its place relative to the frame it had at rest, `F · F₀⁻¹ · p` (DECISIONS 23), so nothing moves
 * while the curve is at rest: roll, width and what lies beyond the ends count as they were then. Where the rest curve has
 * no width, that of now is not followed.
 * @param out xyz × points; written, may be `positions`.
 */
export function layAlong(
  out: Float32Array,
  positions: Readonly<Float32Array>,
  now: Rail,
  rest: Rail | undefined,
  options: LayOptions,
  weight: LayWeight,
  checkpoint: () => void = () => {},
): Float32Array {
  const { low, span, flip, overshoot, rollStart, rollEnd } = options;
  const { track } = now;
  const restLength = rest ? rest.track.length : span;
  const scale = (options.fit && restLength > 0 ? track.length / restLength : 1) * options.stretch;
  const begin = options.start * track.length;
  // Read as Float64 by the steps, they need not be told from other values at each point.
  const numbers = Float64Array.of(low, flip ? -1 : 1, flip ? span : 0, ...options.middle, scale, begin);
  const volume = options.keepVolume && scale > 0 ? 1 / Math.sqrt(scale) : 1;
  const along = rest && restPlaces(rest.track, options.axis, low, span, flip);
  const width = rest ? undefined : options.width;
  const stretches = stretchesOf(now);
  const turns = turnsOf(now);
  const restTurns = rest && turnsOf(rest);
  const isRolled = rollStart !== 0 || rollEnd !== 0 || turns !== undefined || restTurns !== undefined;
  const isSized =
    volume !== 1 || width !== undefined || !areAll(track.width, 1) || (rest !== undefined && !areAll(rest.track.width, 1));
  const count = positions.length / 3;
  let written = 0;
  for (let from = 0; from < count; from += CHUNK) {
    const to = Math.min(count, from + CHUNK);
    const n = to - from;
    if ((from & 16383) === 0) checkpoint();
    measure(positions, from, to, options.axis, numbers);
    if (along || isRolled || width) shareOut(n, span);
    if (rest && along) againstRest(positions, from, to, rest, along, restTurns, overshoot, scale);
    findSamples(n, track, numbers, overshoot);
    if (isSized) sizeSections(n, track, volume, rest !== undefined, width);
    if (isRolled) rollSections(n, turns, restTurns !== undefined, rollStart, rollEnd);
    written += carry(out, positions, from, to, stretches, weight);
  }
  tellFinite(out, written);
  return out;
}

/** Whether all samples have the same. Not by `every`: its function, inlined, made the optimiser give up the code each time. */
function areAll(data: Readonly<Float64Array>, value: number): boolean {
  for (let i = 0; i < data.length; i++) if (data[i] !== value) return false;
  return true;
}

/** How far along the mesh each point is, and its place against the frame of a mesh that lies along its axis. */
function measure(
  positions: Readonly<Float32Array>,
  from: number,
  to: number,
  axis: number,
  numbers: Readonly<Float64Array>,
): void {
  const { along, tangent, normal, binormal } = lanes;
  const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
  const low = numbers[0],
    sign = numbers[1],
    more = numbers[2],
    mu = numbers[3],
    mv = numbers[4];
  tangent.fill(0);
  for (let i = from, c = 0; i < to; i++, c++) {
    const o = (i * 3) & 0x3fffffff;
    along[c] = (positions[o + axis] - low) * sign + more;
    normal[c] = positions[o + u] - mu;
    binormal[c] = (positions[o + v] - mv) * sign;
  }
}

/** The share of the mesh's length. */
function shareOut(count: number, span: number): void {
  const { along, share } = lanes;
  for (let i = 0; i < count; i++) share[i] = span > 0 ? along[i] / span : 0;
}

/** Where each point is on the curve of now. */
function findSamples(count: number, track: Track, numbers: Readonly<Float64Array>, overshoot: Overshoot): void {
  const { along, tangent, sample, part } = lanes;
  const { lengths, length } = track;
  const last = track.count - 1;
  const scale = numbers[5],
    begin = numbers[6];
  let [k, start, end] = [0, 1, 0];
  for (let i = 0; i < count; i++) {
    let s = along[i] * scale + begin;
    if (s < 0 || s > length) {
      if (overshoot === 'wrap') s = beginAgain(track, s);
      else {
        const end = s < 0 ? 0 : length;
        if (overshoot === 'extend') tangent[i] += s - end;
        s = end;
      }
    }
    // Most points are on the same stretch as the one before.
    if (!(s >= start && s < end)) {
      k = sampleBefore(track, s);
      start = lengths[k];
      end = k < last ? lengths[k + 1] : start;
    }
    sample[i] = k;
    part[i] = end > start ? (s - start) / (end - start) : 0;
  }
}

/** The size of the cross-section: that of the curve against that at rest, and along the mesh. */
function sizeSections(
  count: number,
  { width: widths, count: samples }: Track,
  volume: number,
  hasRest: boolean,
  width: CompiledResponse | undefined,
): void {
  const { normal, binormal, restWidth, sample, part, share } = lanes;
  for (let i = 0; i < count; i++) {
    const k = sample[i];
    const q = k + 1 < samples ? k + 1 : k;
    const atRest = hasRest ? restWidth[i] : 1;
    let size = volume * (atRest !== 0 ? (widths[k] * (1 - part[i]) + widths[q] * part[i]) / atRest : 1);
    if (width) size *= respond(width, share[i]);
    normal[i] *= size;
    binormal[i] *= size;
  }
}

/** Turns the cross-section about the curve. */
function rollSections(
  count: number,
  turns: Readonly<Float64Array> | undefined,
  hasRestTurns: boolean,
  rollStart: number,
  rollEnd: number,
): void {
  const { normal, binormal, restTurn, sample, part, share } = lanes;
  for (let i = 0; i < count; i++) {
    const k = sample[i];
    const f = part[i];
    const turn = turns ? turns[k] * (1 - f) + turns[Math.min(k + 1, turns.length - 1)] * f : 0;
    const angle = rollStart + (rollEnd - rollStart) * share[i] + turn - (hasRestTurns ? restTurn[i] : 0);
    const cosine = Math.cos(angle);
    const sine = Math.sin(angle);
    const turned = normal[i] * cosine - binormal[i] * sine;
    binormal[i] = normal[i] * sine + binormal[i] * cosine;
    normal[i] = turned;
  }
}

/**
 * Numbers of a stretch between two samples: its place as a cubic of the part of the way, four for each axis; from 12, 18 and
 * 24 on normal, binormal and tangent at the first and how they change, axis by axis; at 30 whether one of the two is a corner.
 */
const STRETCH = 32;

/** A rail with all that is read of a stretch side by side; what begins with the last sample stays there. */
function stretchesOf({ track, frames }: Rail): Float64Array {
  const { count, positions: p, tangents: t, lengths, corners } = track;
  const { normals: n, binormals: b } = frames;
  const out = new Float64Array(count * STRETCH);
  for (let k = 0, row = 0; k < count; k++, row += STRETCH) {
    const q = Math.min(k + 1, count - 1);
    const step = lengths[q] - lengths[k];
    for (let axis = 0; axis < 3; axis++) {
      const i = k * 3 + axis;
      const j = q * 3 + axis;
      const way = p[j] - p[i];
      // Hermite's cubic: both places, and both tangents times the length between them.
      const cubic = row + axis * 4;
      out[cubic] = p[i];
      out[cubic + 1] = t[i] * step;
      out[cubic + 2] = 3 * way - (2 * t[i] + t[j]) * step;
      out[cubic + 3] = (t[i] + t[j]) * step - 2 * way;
      const change = row + axis * 2;
      out[change + 12] = n[i];
      out[change + 13] = n[j] - n[i];
      out[change + 18] = b[i];
      out[change + 19] = b[j] - b[i];
      out[change + 24] = t[i];
      out[change + 25] = t[j] - t[i];
    }
    out[row + 30] = corners ? corners[k] | corners[q] : 0;
  }
  return out;
}

/**
 * Puts the places against the frame at the curve of now. Points that follow each other on one stretch share what is read of it.
 * @returns the sum of what it wrote, without signs
 */
function carry(
  out: Float32Array,
  positions: Readonly<Float32Array>,
  from: number,
  to: number,
  r: Readonly<Float64Array>,
  { data: weight, step: stride }: LayWeight,
): number {
  const { tangent, normal, binormal, sample, part } = lanes;
  let written = 0;
  for (let c = 0, n = to - from, end = 0; c < n;) {
    while (end < n && sample[end] === sample[c]) end++;
    // Cut off at 30 bits, here and below: sums of it then need not be looked at for overflow.
    const k = (sample[c] * 32) & 0x3fffffff;
    const x0 = r[k],
      x1 = r[k + 1],
      x2 = r[k + 2],
      x3 = r[k + 3];
    const y0 = r[k + 4],
      y1 = r[k + 5],
      y2 = r[k + 6],
      y3 = r[k + 7];
    const z0 = r[k + 8],
      z1 = r[k + 9],
      z2 = r[k + 10],
      z3 = r[k + 11];
    const nx0 = r[k + 12],
      nx1 = r[k + 13],
      ny0 = r[k + 14],
      ny1 = r[k + 15],
      nz0 = r[k + 16],
      nz1 = r[k + 17];
    const bx0 = r[k + 18],
      bx1 = r[k + 19],
      by0 = r[k + 20],
      by1 = r[k + 21],
      bz0 = r[k + 22],
      bz1 = r[k + 23];
    const isCorner = r[k + 30] !== 0;
    for (; c < end; c++) {
      const o = ((from + c) * 3) & 0x3fffffff;
      const w = weight[(from + c) * stride];
      let x = positions[o],
        y = positions[o + 1],
        z = positions[o + 2];
      if (w !== 0) {
        const f = part[c];
        let cx = x0 + f * (x1 + f * (x2 + f * x3));
        let cy = y0 + f * (y1 + f * (y2 + f * y3));
        let cz = z0 + f * (z1 + f * (z2 + f * z3));
        const nx = nx0 + f * nx1,
          ny = ny0 + f * ny1,
          nz = nz0 + f * nz1;
        const bx = bx0 + f * bx1,
          by = by0 + f * by1,
          bz = bz0 + f * bz1;
        // One step of Newton's rule for 1/√: between unit vectors this close, length 1 to the fourth order of the angle. At
        // corners they are longer, and what lies between is on straight lines.
        const ln = (isCorner ? 1 : 1.5 - 0.5 * (nx * nx + ny * ny + nz * nz)) * normal[c];
        const lb = (isCorner ? 1 : 1.5 - 0.5 * (bx * bx + by * by + bz * bz)) * binormal[c];
        const lt = tangent[c];
        if (lt !== 0) {
          cx += (r[k + 24] + f * r[k + 25]) * lt;
          cy += (r[k + 26] + f * r[k + 27]) * lt;
          cz += (r[k + 28] + f * r[k + 29]) * lt;
        }
        x += w * (cx + nx * ln + bx * lb - x);
        y += w * (cy + ny * ln + by * lb - y);
        z += w * (cz + nz * ln + bz * lb - z);
      }
      out[o] = x;
      out[o + 1] = y;
      out[o + 2] = z;
      written += Math.abs(x) + Math.abs(y) + Math.abs(z);
    }
  }
  return written;
}

/** By how much the section is turned at each sample of a rail, by its roll and the twist of its frames; undefined is not. */
function turnsOf({ track, frames: { twist } }: Rail): Float64Array | undefined {
  if (!twist) return areAll(track.roll, 0) ? undefined : track.roll;
  return track.roll.map((r, i) => r + twist[i]);
}

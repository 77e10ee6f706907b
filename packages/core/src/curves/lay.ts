import { tellFinite } from '../maths/finite.ts';
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

/** How much of it is applied: a number for each point (step 1), or one for all (step 0). */
export interface LayWeight {
  readonly data: Readonly<Float32Array>;
  readonly step: number;
}

/** Parts into which the axis of a mesh is cut to know where its points are on the rest curve. */
const PARTS = 1024;

/** Points that go through each step together. */
const CHUNK = 1024;

/** What the steps hand on of each point of a chunk. */
const lanes = {
  /** Metres along the mesh's axis; then along the curve, of now at last. */
  along: new Float64Array(CHUNK),
  /** The share of the mesh's length, where it is asked for. */
  share: new Float64Array(CHUNK),
  /** The place against the frame: along the tangent, the normal and the binormal. */
  tangent: new Float64Array(CHUNK),
  normal: new Float64Array(CHUNK),
  binormal: new Float64Array(CHUNK),
  /** Width and turn of the section at rest. */
  restWidth: new Float64Array(CHUNK),
  restTurn: new Float64Array(CHUNK),
  /** The sample before it on the curve of now, and which part of the way to the next. */
  sample: new Int32Array(CHUNK),
  part: new Float64Array(CHUNK),
};

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

/**
 * The place against the frame of the rest curve, and how far along that it is. What lies beyond its ends there stays beyond
 * by as much, unless the curve is carried on anyway.
 */
function againstRest(
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
  const out = new Float64Array(count * STRETCH);
  for (let k = 0, row = 0; k < count; k++, row += STRETCH) {
    const q = Math.min(k + 1, count - 1);
    const step = lengths[q] - lengths[k];
    for (let axis = 0; axis < 3; axis++) {
      const [i, j] = [k * 3 + axis, q * 3 + axis];
      const way = p[j] - p[i];
      // Hermite's cubic: both places, and both tangents times the length between them.
      out.set([p[i], t[i] * step, 3 * way - (2 * t[i] + t[j]) * step, (t[i] + t[j]) * step - 2 * way], row + axis * 4);
      [frames.normals, frames.binormals, t].forEach((of, which) => {
        out.set([of[i], of[j] - of[i]], row + 12 + which * 6 + axis * 2);
      });
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

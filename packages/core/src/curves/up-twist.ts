import type { Vec3 } from '../maths/vector.ts';
import type { Track } from './track.ts';
import { angleAbout, square, turnOnto } from './transport.ts';

/** Where the sine between tangent and up is below this (15°), up is too near to tell how a frame lies. */
const NEAR = Math.sin(Math.PI / 12);
/** Half a turn, but for this much, could go either way round. */
const EITHER = 1e-6;

/** An angle, whole turns added, that is no more than half a turn away from another. */
export const beside = (other: number, angle: number): number => angle + 2 * Math.PI * Math.round((other - angle) / (2 * Math.PI));

/** Angles about the tangents that take the normals carried along a track to where they lie towards up. */
export interface UpTwist {
  readonly twist: Float64Array;
  /** Somewhere it is half a turn from before to after, which could as well go the other way round. */
  readonly isArbitrary: boolean;
}

/**
 * The twist that turns carried normals towards up. In stretches where the track itself goes (nearly) up or down it goes
 * evenly from the angle where they begin to the one where they end, the short way round; before the first and after the
 * last known angle it stays. Undefined where up tells nothing anywhere.
 * @param normals carried along without a twist.
 */
export function upTwist(track: Track, normals: Readonly<Float64Array>, up: Vec3): UpTwist | undefined {
  const { count, tangents: t, lengths, length, closed } = track;
  // 1. How well up tells, and the angle.
  const sines = new Float64Array(count);
  const angles = new Float64Array(count);
  const n = new Float64Array(3);
  const size = Math.hypot(...up);
  let best = 0;
  for (let i = 0, o = 0; i < count; i++, o += 3) {
    sines[i] =
      Math.hypot(up[1] * t[o + 2] - up[2] * t[o + 1], up[2] * t[o] - up[0] * t[o + 2], up[0] * t[o + 1] - up[1] * t[o]) / size;
    n.set(up);
    if (square(n, 0, t, o)) angles[i] = angleAbout(normals, o, n, 0, t, o);
    if (sines[i] > sines[best]) best = i;
  }
  if (!(sines[best] >= NEAR)) return undefined;
  // 2. A closed track is gone round from where up tells best, so that no stretch lies across its seam; beyond the seam
  // the carried normals are others, by the closing angle.
  const start = closed ? best : 0;
  const many = closed ? count + 1 : count;
  const at = (k: number) => (start + k) % count;
  const closing = closed ? closingAngle(normals, track) : 0;
  const isBeyond = (k: number) => start + k >= count;
  const angleAt = (k: number) => angles[at(k)] + (isBeyond(k) ? closing : 0);
  const lengthAt = (k: number) => lengths[at(k)] + (isBeyond(k) ? length : 0);
  const out = new Float64Array(many);
  let isArbitrary = false;
  let known = -1;
  for (let k = 0; k < many; k++) {
    if (sines[at(k)] < NEAR) continue;
    if (known < 0) {
      out[k] = angleAt(k);
      const [, angle] = border(k, k - 1, out[k]);
      for (let j = 0; j < k; j++) out[j] = angle;
    } else if (known === k - 1) out[k] = beside(out[known], angleAt(k));
    else isArbitrary = across(known, k) || isArbitrary;
    known = k;
  }
  const [, end] = border(known, known + 1, out[known]);
  for (let k = known + 1; k < many; k++) out[k] = end;
  // 3. Back to the track's own order, each angle beside the one before.
  const twist = new Float64Array(count);
  for (let k = 0; k < many; k++) twist[at(k)] = out[k] - (isBeyond(k) ? closing : 0);
  for (let i = 1; i < count; i++) twist[i] = beside(twist[i - 1], twist[i]);
  return { twist, isArbitrary };

  /** Where between one sample that is told and its neighbour that is not up ceases to tell: how far along, and the angle. */
  function border(inside: number, outside: number, angle: number): readonly [number, number] {
    if (outside < 0 || outside >= many) return [lengthAt(inside), angle];
    const [a, b] = [sines[at(inside)], sines[at(outside)]];
    const part = a > b ? (a - NEAR) / (a - b) : 0;
    const next = b > 1e-6 ? beside(angle, angleAt(outside)) : angle;
    return [lengthAt(inside) + (lengthAt(outside) - lengthAt(inside)) * part, angle + (next - angle) * part];
  }

  /** Fills a stretch between two samples that are told. @returns whether it could as well turn the other way round */
  function across(from: number, to: number): boolean {
    const [a, first] = border(from, from + 1, out[from]);
    const [b, last] = border(to, to - 1, angleAt(to));
    let turn = beside(0, last - first);
    const either = Math.abs(turn) > Math.PI - EITHER;
    if (either) turn = Math.PI;
    for (let k = from + 1; k < to; k++)
      out[k] = first + turn * (b > a ? Math.min(1, Math.max(0, (lengthAt(k) - a) / (b - a))) : 0.5);
    out[to] = first + turn + (angleAt(to) - last);
    return either;
  }
}

/** The angle about the tangent from the last carried normal to the first, on a track that meets itself. */
export function closingAngle(normals: Readonly<Float64Array>, { tangents, count }: Track): number {
  const last = normals.slice((count - 1) * 3);
  turnOnto(last, 0, tangents, (count - 1) * 3, tangents, 0);
  return angleAbout(last, 0, normals, 0, tangents, 0);
}

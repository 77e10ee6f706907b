import type { Neighbours } from '../geometry/edges.ts';
import type { Vec3 } from '../maths/vector.ts';

/** Where one paints: points as they stand on the stage (xyz each, metres) and along which edges they hang together. */
export interface PaintSurface {
  readonly pointCount: number;
  readonly positions: Readonly<Float32Array>;
  readonly neighbours: Neighbours;
}

/** How a brush fades from its middle to its rim. */
export const BRUSH_FADES = ['soft', 'even', 'pointed'] as const;
export type BrushFade = (typeof BRUSH_FADES)[number];

/** What a brush gives at a share of the way to its rim. */
function fadeAt(fade: BrushFade, share: number): number {
  if (share >= 1) return 0;
  if (fade === 'even') return 1;
  if (fade === 'pointed') return (1 - share) * (1 - share);
  const s = 1 - share;
  return s * s * (3 - 2 * s);
}

/** Points under a brush, and how much of it each gets, 0 to 1. */
export interface UnderBrush {
  readonly points: readonly number[];
  readonly shares: readonly number[];
  /** Points that were looked at to find them. */
  readonly visited: number;
}

/** Marks of which points were seen, for one search after the other: nothing is cleared between them. */
export class Seen {
  private readonly marks: Int32Array;
  private now = 0;

  constructor(pointCount: number) {
    this.marks = new Int32Array(pointCount);
  }

  begin(): void {
    this.now++;
  }

  /** Whether a point is seen for the first time since the beginning. */
  isNew(point: number): boolean {
    if (this.marks[point] === this.now) return false;
    this.marks[point] = this.now;
    return true;
  }
}

/**
 * The points within reach of a place, as far as edges lead to them without leaving the reach: a finger beside the one that
 * is painted, or the other side of a thin sheet, is not reached.
 * @param start the point nearest to the place; nothing is found where it is out of reach. @param reach metres
 */
export function underBrush(
  { positions, neighbours: { starts, points } }: PaintSurface,
  place: Vec3,
  start: number,
  reach: number,
  fade: BrushFade,
  seen: Seen,
): UnderBrush {
  const first = awayFrom(positions, start, place) / reach;
  if (!(first < 1)) return { points: [], shares: [], visited: 1 };
  const found = [start];
  const shares = [fadeAt(fade, first)];
  let visited = 1;
  seen.begin();
  seen.isNew(start);
  for (let at = 0; at < found.length; at++) {
    const p = found[at];
    for (let k = starts[p]; k < starts[p + 1]; k++) {
      const q = points[k];
      if (!seen.isNew(q)) continue;
      visited++;
      const share = awayFrom(positions, q, place) / reach;
      if (!(share < 1)) continue;
      found.push(q);
      shares.push(fadeAt(fade, share));
    }
  }
  return { points: found, shares, visited };
}

/** How far a point is from a place. */
export const awayFrom = (positions: Readonly<Float32Array>, p: number, [x, y, z]: Vec3): number =>
  Math.hypot(positions[p * 3] - x, positions[p * 3 + 1] - y, positions[p * 3 + 2] - z);

/** Places between two of a stroke, the last included, so near each other that the brush leaves no gaps. */
export function placesBetween(from: Vec3, to: Vec3, reach: number): Vec3[] {
  const length = Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2]);
  const count = Math.min(64, Math.max(1, Math.ceil((length / reach) * 3)));
  return Array.from({ length: count }, (_, i): Vec3 => {
    const t = (i + 1) / count;
    return [from[0] + (to[0] - from[0]) * t, from[1] + (to[1] - from[1]) * t, from[2] + (to[2] - from[2]) * t];
  });
}

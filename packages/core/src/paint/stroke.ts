import type { Vec3 } from '../maths/vector.ts';
import { awayFrom, placesBetween, Seen, underBrush, type BrushFade, type PaintSurface } from './brush.ts';
import type { PaintChange } from './painted.ts';
import { roundToOne, shareOut } from './share-out.ts';

/** What a brush does: adds, takes away, evens out with the neighbours, or leads to a value. */
export const BRUSH_MODES = ['add', 'take', 'smooth', 'value'] as const;
export type BrushMode = (typeof BRUSH_MODES)[number];

export interface Brush {
  readonly mode: BrushMode;
  /** What *value* leads to. */
  readonly value: number;
  /** 0 to 1: how far one stroke goes; of *add* and *take*, of the way from the least to the most. */
  readonly strength: number;
  /** Metres from the middle to the rim. */
  readonly reach: number;
  readonly fade: BrushFade;
}

/** Numbers that are painted, as they are when the stroke begins; only read. */
export interface PaintedNumbers {
  /** The attribute that is painted. */
  readonly name: string;
  readonly least: number;
  readonly most: number;
  /** Every attribute that matters: the one that is painted, and of weights all of them. */
  readonly columns: ReadonlyMap<string, Readonly<Float32Array>>;
  /** Attributes that sum to 1 with the painted one, which keep their proportions; null: it is by itself. */
  readonly together: { readonly locked: ReadonlySet<string> } | null;
}

/** Where else the brush paints: the partner of every point, −1 for none, and the attribute that is painted there. */
export interface Across {
  readonly partners: Readonly<Int32Array>;
  readonly nameAcross: (name: string) => string;
}

/**
 * One stroke of a brush: from the first touch until it is lifted. A point gets one coat, as much as the brush gave it at
 * most, however often and however slowly the brush passes, so that a stroke depends on its way alone.
 */
export class Stroke {
  /** Points looked at, and numbers worked out anew, so far. */
  visited = 0;
  written = 0;
  /** Points that could not give or take all: no other weight is there, or locks hold them. */
  readonly held = new Set<number>();
  private readonly coats = new Map<number, number>();
  private readonly coatsAcross = new Map<number, number>();
  private last: Vec3 | null = null;
  /** The points that were under the brush last. */
  private under: readonly number[] = [];
  private readonly names: readonly string[];
  private readonly seen: Seen;

  constructor(
    private readonly surface: PaintSurface,
    private readonly brush: Brush,
    private readonly numbers: PaintedNumbers,
    private readonly across: Across | null = null,
    seen?: Seen,
  ) {
    this.seen = seen ?? new Seen(surface.pointCount);
    const { name, columns, together } = numbers;
    this.names = together ? [...new Set([name, across?.nameAcross(name) ?? name, ...columns.keys()])] : [name];
  }

  /**
   * The brush is at a place, and was on the way to it since the last one.
   * @param nearest the point nearest to the place. @param pressure 0 to 1, of a pen
   */
  touch(place: Vec3, nearest: number, pressure = 1, surface: PaintSurface = this.surface): PaintChange {
    const coated: number[] = [];
    const places = this.last ? placesBetween(this.last, place, this.brush.reach) : [place];
    this.last = place;
    const coatOn = (p: number, coat: number) => {
      if (coat <= (this.coats.get(p) ?? 0)) return;
      this.coats.set(p, coat);
      coated.push(p);
    };
    for (const at of places) {
      // On the way the walk begins at what was under the brush before, or at where it goes.
      let start = nearest;
      if (at !== place)
        for (const p of this.under) if (awayFrom(surface.positions, p, at) < awayFrom(surface.positions, start, at)) start = p;
      const { points, shares, visited } = underBrush(surface, at, start, this.brush.reach, this.brush.fade, this.seen);
      this.visited += visited;
      points.forEach((p, i) => coatOn(p, shares[i] * pressure));
      if (points.length > 0) this.under = points;
      // A brush smaller than the faces paints the point that it is nearest to.
      else if (at === place) coatOn(nearest, pressure);
    }
    return this.paintCoats(new Set(coated));
  }

  /** Every point of some, or of all, gets a whole coat. */
  flood(points?: readonly number[]): PaintChange {
    const all = points ?? Array.from({ length: this.surface.pointCount }, (_, p) => p);
    for (const p of all) this.coats.set(p, 1);
    return this.paintCoats(new Set(all));
  }

  private paintCoats(coated: ReadonlySet<number>): PaintChange {
    const change = new Map<string, { points: number[]; values: number[] }>();
    const write = (name: string, p: number, value: number) => {
      let into = change.get(name);
      if (!into) change.set(name, (into = { points: [], values: [] }));
      into.points.push(p);
      into.values.push(value);
      this.written++;
    };
    const { name } = this.numbers;
    const others = new Set<number>();
    for (const p of coated) {
      const q = this.across?.partners[p] ?? -1;
      // A point on the plane is its own partner: it is painted once.
      if (!this.across || q < 0 || q === p) continue;
      const coat = this.coats.get(p) as number;
      if (coat <= (this.coatsAcross.get(q) ?? 0)) continue;
      this.coatsAcross.set(q, coat);
      others.add(q);
    }
    const nameAcross = this.across?.nameAcross(name) ?? name;
    for (const p of new Set([...coated, ...others])) {
      const coat = this.coats.get(p) ?? 0;
      const acrossCoat = this.coatsAcross.get(p) ?? 0;
      const parts =
        name === nameAcross
          ? [[name, Math.max(coat, acrossCoat)] as const]
          : ([
              [name, coat],
              [nameAcross, acrossCoat],
            ] as const);
      if (this.numbers.together) this.paintTogether(p, parts, write);
      else for (const [n, c] of parts) if (c > 0) write(n, p, this.painted(n, p, this.at(n, p), c));
    }
    return change;
  }

  private at(name: string, p: number): number {
    const v = this.numbers.columns.get(name)?.[p] ?? 0;
    return v - v === 0 ? v : 0;
  }

  /** The mean over the points next to one; its own number where there are none. */
  private around(name: string, p: number): number {
    const { starts, points } = this.surface.neighbours;
    let sum = 0;
    for (let k = starts[p]; k < starts[p + 1]; k++) sum += this.at(name, points[k]);
    const count = starts[p + 1] - starts[p];
    return count > 0 ? sum / count : this.at(name, p);
  }

  /** A number after a coat. */
  private painted(name: string, p: number, before: number, coat: number): number {
    const { mode, value, strength } = this.brush;
    const { least, most } = this.numbers;
    const by = coat * strength;
    const after =
      mode === 'add'
        ? before + by * (most - least)
        : mode === 'take'
          ? before - by * (most - least)
          : before + by * ((mode === 'smooth' ? this.around(name, p) : value) - before);
    return Number(Math.min(most, Math.max(least, after)).toFixed(5));
  }

  /** Weights of one point: those that are painted go where the brush leads them, the others share what is left. */
  private paintTogether(
    p: number,
    parts: readonly (readonly [string, number])[],
    write: (name: string, p: number, value: number) => void,
  ): void {
    const { together } = this.numbers;
    const shares = this.names.map((n) => this.at(n, p));
    const before = shares.slice();
    const locked = this.names.map((n) => together?.locked.has(n) ?? false);
    if (this.brush.mode === 'smooth') {
      const by = Math.max(...parts.map(([, coat]) => coat)) * this.brush.strength;
      this.names.forEach((n, i) => {
        if (!locked[i]) shares[i] += by * (this.around(n, p) - shares[i]);
      });
      normalise(shares, locked);
    } else
      for (const [n, coat] of parts) {
        const at = this.names.indexOf(n);
        if (coat > 0 && at >= 0 && !shareOut(shares, at, this.painted(n, p, shares[at], coat), locked)) this.held.add(p);
      }
    if (shares.every((w, i) => w === before[i])) return;
    this.names.forEach((n, i) => {
      if (shares[i] !== 0 || before[i] !== 0) write(n, p, shares[i]);
    });
  }
}

/** Brings the free shares to what locked ones leave of 1. */
function normalise(shares: number[], locked: readonly boolean[]): void {
  let kept = 0;
  let free = 0;
  shares.forEach((w, i) => (locked[i] ? (kept += w) : (free += w)));
  if (free <= 1e-9) return;
  const scale = Math.max(0, 1 - kept) / free;
  for (let i = 0; i < shares.length; i++) if (!locked[i]) shares[i] *= scale;
  roundToOne(shares, locked);
}

import { makeMesh, emptyMesh, type Mesh } from '../geometry/mesh.ts';
import { respond, type CompiledResponse } from '../maths/response.ts';
import { memoize } from '../memo.ts';
import { otherSide, ringFrame, type Rail } from './frames.ts';

/** A cross-section: xy pairs in order round it. */
export interface Section {
  readonly points: Float64Array;
  readonly closed: boolean;
}

export interface SweepOptions {
  /** Radians at the start and the end. */
  readonly rollStart: number;
  readonly rollEnd: number;
  /** Factor of the section along the length; none is 1. */
  readonly width?: CompiledResponse;
  /** Close both ends of an open tube with a face. */
  readonly caps: boolean;
  readonly checkpoint?: () => void;
}

/** A circle of so many sides, round the origin or off it. */
export function circleSection(radius: number, sides: number, centre: readonly [number, number] = [0, 0]): Section {
  const points = new Float64Array(sides * 2);
  for (let k = 0; k < sides; k++) {
    const angle = (k / sides) * 2 * Math.PI;
    points[k * 2] = centre[0] + Math.cos(angle) * radius;
    points[k * 2 + 1] = centre[1] + Math.sin(angle) * radius;
  }
  return { points, closed: true };
}

/** Sections of strands that lie side by side round the middle of a rope. One strand lies in the middle. */
export function strandSections(strands: number, radius: number, sides: number): Section[] {
  if (strands <= 1) return [circleSection(radius, sides)];
  // Circles of this size touch their neighbours.
  const from = radius / Math.sin(Math.PI / strands);
  return Array.from({ length: strands }, (_, s) => {
    const angle = (s / strands) * 2 * Math.PI;
    return circleSection(radius, sides, [Math.cos(angle) * from, Math.sin(angle) * from]);
  });
}

/**
 * Sections swept along rails: each section makes a tube along each rail, one ring of points per sample. Faces are
 * quads, facing outwards for sections that run anticlockwise. uv: u round the section, v along, in metres.
 */
export function sweepSections(rails: readonly Rail[], sections: readonly Section[], options: SweepOptions): Mesh {
  const perSample = sections.reduce((n, s) => n + s.points.length / 2, 0);
  const samples = rails.reduce((n, r) => n + ringsOf(r), 0);
  if (perSample === 0 || samples === 0) return emptyMesh();
  const positions = new Float32Array(samples * perSample * 3);
  const starts: number[] = [0];
  const corners: number[] = [];
  const uv: number[] = [];
  let base = 0;
  for (const rail of rails) {
    const rings = ringsOf(rail);
    for (const section of sections) {
      options.checkpoint?.();
      addTube(positions, base, rail, section, options);
      addFaces(base, rail, rings, section, options, starts, corners, uv);
      base += rings * (section.points.length / 2);
    }
  }
  return makeMesh(positions, Int32Array.from(starts), Int32Array.from(corners), {
    attributes: [{ name: 'uv', on: 'corner', type: 'pair', role: 'plain', data: Float32Array.from(uv) }],
  });
}

/** Samples of a rail that get a ring: a corner one for both its sides, and a closed rail does not repeat its first. */
const ringSamples = memoize(({ track }: Rail): number[] => {
  const { count, closed } = track;
  if (count < 2) return [];
  const isSecond = (j: number) => j > 0 && otherSide(track, j - 1) === j;
  return Array.from({ length: closed ? count - 1 : count }, (_, j) => j).filter((j) => !isSecond(j));
});
const ringsOf = (rail: Rail) => ringSamples(rail).length;

function addTube(out: Float32Array, base: number, rail: Rail, section: Section, options: SweepOptions): void {
  const { track, frames } = rail;
  const across = section.points.length / 2;
  const samples = ringSamples(rail);
  for (let ring = 0, o = base * 3; ring < samples.length; ring++) {
    const j = samples[ring];
    const fraction = track.length > 0 ? track.lengths[j] / track.length : 0;
    const twist = frames.twist ? frames.twist[j] : 0;
    const angle = options.rollStart + (options.rollEnd - options.rollStart) * fraction + track.roll[j] + twist;
    const size = track.width[j] * (options.width ? respond(options.width, fraction) : 1);
    const [n, b] = ringFrame(track, frames, j);
    const cosine = Math.cos(angle) * size;
    const sine = Math.sin(angle) * size;
    for (let k = 0; k < across; k++) {
      const x = section.points[k * 2] * cosine - section.points[k * 2 + 1] * sine;
      const y = section.points[k * 2] * sine + section.points[k * 2 + 1] * cosine;
      for (let axis = 0; axis < 3; axis++, o++) out[o] = track.positions[j * 3 + axis] + n[axis] * x + b[axis] * y;
    }
  }
}

function addFaces(
  base: number,
  rail: Rail,
  rings: number,
  section: Section,
  options: SweepOptions,
  starts: number[],
  corners: number[],
  uv: number[],
): void {
  const { track } = rail;
  const across = section.points.length / 2;
  const around = section.closed ? across : across - 1;
  const turns = areaOf(section) < 0;
  const samples = ringSamples(rail);
  const lengthAt = (ring: number) => (ring < rings ? track.lengths[samples[ring]] : track.length);
  const face = (points: number[], where: number[]) => {
    corners.push(...(turns ? points.reverse() : points));
    if (turns) for (let i = where.length - 2; i >= 0; i -= 2) uv.push(where[i], where[i + 1]);
    else uv.push(...where);
    starts.push(corners.length);
  };
  const bands = track.closed ? rings : rings - 1;
  for (let j = 0; j < bands; j++) {
    const next = (j + 1) % rings;
    for (let k = 0; k < around; k++) {
      const l = (k + 1) % across;
      const [u0, u1, v0, v1] = [k / around, (k + 1) / around, lengthAt(j), lengthAt(j + 1)];
      face(
        [base + j * across + k, base + j * across + l, base + next * across + l, base + next * across + k],
        [u0, v0, u1, v0, u1, v1, u0, v1],
      );
    }
  }
  if (!options.caps || track.closed || !section.closed || across < 3) return;
  const ring = (j: number) => Array.from({ length: across }, (_, k) => base + j * across + k);
  const flat = Array.from({ length: across }, (_, k) => [section.points[k * 2], section.points[k * 2 + 1]]);
  face(ring(0).reverse(), [...flat].reverse().flat());
  face(ring(rings - 1), flat.flat());
}

/** Twice the area of a closed section, positive when it runs anticlockwise; open ones count as such. */
function areaOf(section: Section): number {
  if (!section.closed) return 1;
  const p = section.points;
  let area = 0;
  for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) area += p[j] * p[i + 1] - p[i] * p[j + 1];
  return area;
}

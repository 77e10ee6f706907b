import type { Evaluation } from '../evaluate/evaluator.ts';
import type { Mesh } from '../../geometry/mesh.ts';
import { trianglesOf } from '../../geometry/triangles.ts';
import type { Vec3 } from '../../maths/vector.ts';
import { indexOf } from '../../nearest/shared.ts';
import type { Project } from '../../project/schema.ts';
import type { Catalogue } from '../node/catalogue.ts';
import type { Value } from '../node/values.ts';
import { resolveProject, type PortRef } from '../network/resolve.ts';

/** The outputs that tell of a node's contacts, and the mesh they touch. */
export interface ContactRefs {
  readonly places: PortRef;
  readonly before: PortRef;
  readonly after: PortRef;
  readonly touching: PortRef;
  readonly ground: PortRef;
}

/** Where a node tells of its contacts; undefined where it has none, or no ground arrives. */
export function contactRefs(catalogue: Catalogue, project: Project, node: string): ContactRefs | undefined {
  const found = resolveProject(catalogue, project).get(node);
  const ports = found && found.definition?.contacts?.(found.settings);
  const ground = ports && found.wires.get(ports.ground)?.from;
  if (!ports || !ground) return undefined;
  const of = (port: string): PortRef => ({ node, port });
  return { places: of(ports.places), before: of(ports.before), after: of(ports.after), touching: of(ports.touching), ground };
}

/** A number with the frame it was at. */
export interface AtFrame {
  readonly frame: number;
  readonly value: number;
}

/** What became of one contact over a range. Metres. */
export interface ContactRow {
  readonly name: string;
  /** How deep it was at most, before and after; null where it never was over the ground. */
  readonly before: AtFrame | null;
  readonly after: AtFrame | null;
  /** Frames at which it touches. */
  readonly touches: number;
  /** How far it moved over the ground while it touched, in all, and in one frame at most. */
  readonly slid: number;
  readonly slidMost: AtFrame | null;
  /** At each frame of the report. */
  readonly depthsBefore: Float32Array;
  readonly depthsAfter: Float32Array;
  readonly touching: Uint8Array;
  /** From the frame before to each; NaN where it did not touch at both, or the ground changed its faces. */
  readonly slides: Float32Array;
}

export interface ContactReport {
  readonly frames: readonly number[];
  readonly rows: readonly ContactRow[];
  /** Frames at which the contacts gave no numbers, or were others. */
  readonly without: readonly number[];
}

type Numbers = Readonly<Float32Array | Int32Array | Float64Array>;

/** What a frame told. */
interface Told {
  readonly places: Numbers;
  readonly before: Numbers;
  readonly after: Numbers;
  readonly touching: Numbers;
  readonly ground: Mesh;
  readonly names: readonly string[];
}

/** Above the ground by more than can be told: what a contact over no ground has. */
const NOWHERE = -1e8;

/**
 * Gathers what contacts do over frames, given in order; of what a frame told only the numbers are kept. Sliding is how far
 * a contact moved over the ground from one frame to the next while it touched at both: its place against where the spot of
 * ground that it was on went, so that feet on a moving deck that go along do not slide.
 */
export class ContactLog {
  private readonly frames: number[] = [];
  private readonly without: number[] = [];
  private names: readonly string[] | undefined;
  private readonly columns: Record<'before' | 'after' | 'touching' | 'slides', number[][]> = {
    ...{ before: [], after: [], touching: [], slides: [] },
  };
  private last: Told | undefined;

  constructor(private readonly refs: ContactRefs) {}

  get wanted(): readonly PortRef[] {
    return Object.values(this.refs) as PortRef[];
  }

  add(frame: number, evaluation: Pick<Evaluation, 'value'>): void {
    const told = this.known(this.read(evaluation));
    const { columns, last } = this;
    this.frames.push(frame);
    if (!told) this.without.push(frame);
    const each = (of: (t: Told, i: number) => number): number[] => (told ? told.names.map((_, i) => of(told, i)) : []);
    columns.before.push(each((t, i) => (t.before[i] > NOWHERE ? t.before[i] : NaN)));
    columns.after.push(each((t, i) => (t.after[i] > NOWHERE ? t.after[i] : NaN)));
    columns.touching.push(each((t, i) => (t.touching[i] ? 1 : 0)));
    columns.slides.push(
      each((t, i) =>
        last?.touching[i] && t.touching[i] ? slideOf(placeOf(last, i), placeOf(t, i), last.ground, t.ground) : NaN,
      ),
    );
    this.last = told;
  }

  /** What a frame told, if its contacts are those of the first that told of any. */
  private known(told: Told | undefined): Told | undefined {
    const names = (this.names ??= told?.names);
    return told && names && told.names.length === names.length && told.names.every((n, i) => n === names[i]) ? told : undefined;
  }

  private read(evaluation: Pick<Evaluation, 'value'>): Told | undefined {
    const { refs } = this;
    const places = numbersIn(evaluation.value(refs.places));
    const [before, after, touching] = [refs.before, refs.after, refs.touching].map((r) => numbersIn(evaluation.value(r)));
    const ground = evaluation.value(refs.ground);
    if (!places || !before || !after || !touching || ground?.form !== 'geometry') return undefined;
    const names = places.names ?? Array.from(before.data, (_, i) => `Point ${i}`);
    return {
      ...{ places: places.data, before: before.data, after: after.data, touching: touching.data },
      ...{ ground: ground.mesh, names },
    };
  }

  report(): ContactReport {
    const { frames, without, columns } = this;
    const rows = (this.names ?? []).map((name, i): ContactRow => {
      const column = (of: readonly (readonly number[])[]) => Float32Array.from(of, (row) => row[i] ?? NaN);
      const [depthsBefore, depthsAfter, slides] = [columns.before, columns.after, columns.slides].map(column);
      const touching = Uint8Array.from(columns.touching, (row) => row[i] ?? 0);
      return {
        ...{ name, depthsBefore, depthsAfter, touching, slides },
        before: greatest(frames, depthsBefore),
        after: greatest(frames, depthsAfter),
        touches: touching.reduce((n, t) => n + t, 0),
        slid: slides.reduce((sum, s) => (s > 0 ? sum + s : sum), 0),
        slidMost: greatest(frames, slides),
      };
    });
    return { frames, rows, without };
  }
}

function numbersIn(value: Value | undefined): { readonly data: Numbers; readonly names?: readonly string[] } | undefined {
  return value?.form === 'column' || value?.form === 'single' ? value : undefined;
}

const placeOf = ({ places }: Told, i: number): Vec3 => [places[i * 3], places[i * 3 + 1], places[i * 3 + 2]];

/** The greatest number that is one, with its frame. */
function greatest(frames: readonly number[], values: Readonly<Float32Array>): AtFrame | null {
  let at = -1;
  values.forEach((v, f) => {
    if (v - v === 0 && (at < 0 || v > values[at])) at = f;
  });
  return at < 0 ? null : { frame: frames[at], value: values[at] };
}

/** How far a place went over a ground: against where the nearest spot of it went. NaN where its faces are others. */
function slideOf(from: Vec3, to: Vec3, before: Mesh, after: Mesh): number {
  if (before.topology.id !== after.topology.id) return NaN;
  const moved = before.positions === after.positions ? [0, 0, 0] : spotMoved(from, before, after);
  return moved ? Math.hypot(...to.map((v, k) => v - from[k] - moved[k])) : NaN;
}

/** How far the spot of a ground nearest to a place went. */
function spotMoved(place: Vec3, before: Mesh, after: Mesh): number[] | undefined {
  const index = indexOf(before, 'faces');
  const t = index.nearest(...place);
  if (t < 0) return undefined;
  const { points } = trianglesOf(before.topology);
  const weights = [1 - index.weightB - index.weightC, index.weightB, index.weightC];
  return [0, 1, 2].map((k) =>
    weights.reduce((sum, w, c) => {
      const p = points[t * 3 + c] * 3 + k;
      return sum + w * (after.positions[p] - before.positions[p]);
    }, 0),
  );
}

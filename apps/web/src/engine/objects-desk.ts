import {
  grouped,
  objectsAt,
  restProblems,
  transformPacked,
  worldLookup,
  worldsAt,
  type Evaluation,
  type Evaluator,
  type Project,
} from '@umberfish/core';
import { paintFalloff } from './picture.ts';
import { liesByUv, pictureVertices } from './picture-vertices.ts';
import type { Baked } from '@umberfish/bake';
import type { Picture, PictureMesh, PictureRequest, Written } from './protocol.ts';

/** Motion over more frames is not written. */
const MOST_FRAMES = 100_000;

/** World matrices of objects over frames, sixteen numbers each, one object after the other for every frame. */
export async function worldsOver(
  evaluator: Evaluator,
  project: Project,
  objects: readonly string[],
  frames: readonly number[],
  beat: () => void,
): Promise<Float64Array> {
  const out = new Float64Array(frames.length * objects.length * 16);
  for (let i = 0, o = 0; i < frames.length; i++) {
    beat();
    for (const m of worldsAt(evaluator, project, objects, frames[i])) {
      out.set(m, o);
      o += 16;
    }
    // Pictures that were asked for meanwhile come first.
    await new Promise((resolve) => setTimeout(resolve, 0));
  }
  return out;
}

/** The motion of objects over the range of a project, as a file. @throws Error with a sentence when there is none */
export async function writeMotion(
  evaluator: Evaluator,
  project: Project,
  objects: readonly string[],
  format: 'glb' | 'csv',
  stem: string,
  checkpoint: () => void,
): Promise<Written> {
  const { bakeObjects } = await import('@umberfish/bake');
  const { first, last } = project.range;
  if (last - first >= MOST_FRAMES)
    throw new Error(
      `The range has more than ${grouped(MOST_FRAMES)} frames. Shorten it, in the settings of the project, and save the motion again.`,
    );
  const frames = Array.from({ length: Math.max(1, last - first + 1) }, (_, i) => first + i);
  return collected(bakeObjects({ project, evaluator, frames, objects, format, stem, keepGoing: true, checkpoint }));
}

/** What a bake made, all at once. @throws Error with its first problem when it made no file */
export async function collected(bake: AsyncGenerator<Baked, void>): Promise<Written> {
  const files: Written['files'][number][] = [];
  const notes = new Set<string>();
  for await (const made of bake) {
    if (made.kind === 'file') files.push(made);
    else if (made.kind !== 'progress') notes.add(made.message);
  }
  if (files.length === 0) throw new Error([...notes][0] ?? 'There was nothing to write.');
  return { files, notes: [...notes] };
}

/** Looks at what happens with everything at rest, anew only when graphs, rests or parents have changed. */
export class RestingLook {
  private known: (Pick<Project, 'graphs' | 'objects'> & { problems: ReturnType<typeof restProblems> }) | undefined;

  /** Reports of an evaluation, with what the look found. */
  reports(evaluator: Evaluator, project: Project, evaluation: Evaluation): Picture['reports'] {
    const { graphs, objects } = project;
    const { known } = this;
    const same =
      known?.graphs === graphs &&
      known.objects.length === objects.length &&
      objects.every((o, i) => o.rest === known.objects[i].rest && o.parent === known.objects[i].parent);
    const problems = same ? known.problems : restProblems(evaluator, project);
    this.known = { graphs, objects, problems };
    const reports = new Map(evaluation.reports);
    for (const [id, problem] of problems) {
      const report = reports.get(id);
      if (report && !report.failed) reports.set(id, { ...report, problems: [...report.problems, problem] });
    }
    return reports;
  }
}

/** Colours by a falloff of objects that no graph changes, each where it stands. */
export function paintedObjects(
  evaluator: Evaluator,
  project: Project,
  request: PictureRequest,
  evaluation: Evaluation,
): Picture['painted'] {
  const out = new Map<string, NonNullable<PictureMesh['colours']>>();
  const value = request.paintWith ? evaluation.value(request.paintWith) : undefined;
  if (value?.form !== 'falloff') return out;
  const worldOf = worldLookup(objectsAt(project, request.frame), 'channels', evaluation.driven);
  for (const { object, asset } of request.plain) {
    const mesh = evaluator.getAsset(asset);
    if (!mesh) continue;
    const places = transformPacked(new Float32Array(mesh.positions.length), mesh.positions, worldOf(object), 'position');
    const { colours } = paintFalloff(
      mesh,
      pictureVertices(mesh, liesByUv(request, mesh)),
      value.falloff,
      request.paintWith?.label ?? '',
      places,
    );
    if (colours) out.set(object, colours);
  }
  return out;
}

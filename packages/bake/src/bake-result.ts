import {
  copiedPoints,
  copiesToMesh,
  grouped,
  identity,
  invert,
  MOST_COPIED_POINTS,
  SHOWN_PORT,
  shownResults,
  transformMesh,
  worldsAt,
  type Mesh,
  type ShownResult,
  type Value,
} from '@umberfish/core';
import { notFiniteIn, writeGlb, writeMtl, writeObj } from '@umberfish/formats';
import type { Bake, Baked } from './bake.ts';
import { behind, channelErrors, nodeErrors, whoMadeIt } from './problems.ts';

/** What of a project's results is baked, and as what. */
export interface ResultBake extends Bake {
  readonly result: Pick<ShownResult, 'name' | 'node'>;
  readonly format: 'obj' | 'glb';
  /** Whether names of files have the frame in them; default: where there are several frames. */
  readonly numbered?: boolean;
}

/** Bakes a result at each frame to a file of its own, `stem.0001.obj`, and the materials of an OBJ to `stem.mtl`, once. */
export async function* bakeResult(bake: ResultBake): AsyncGenerator<Baked, void> {
  const { project, evaluator, frames, result, stem, format } = bake;
  const { catalogue } = evaluator;
  const concerned = behind(catalogue, project, [result.node]);
  const isNumbered = bake.numbered ?? frames.length > 1;
  let library: string | undefined;
  for (const [i, frame] of frames.entries()) {
    const ref = { node: result.node, port: SHOWN_PORT };
    const evaluation = evaluator.evaluate({ project, frame, wanted: [ref], purpose: 'bake', checkpoint: bake.checkpoint });
    const errors = [...channelErrors(concerned, frame), ...nodeErrors(catalogue, project, evaluation)];
    const made = inSpaceOf(bake, frame, meshOf(result.name, evaluation.value(ref)));
    if (made.why !== undefined && (errors.length === 0 || made.value)) errors.push(made.why);
    const bad = made.mesh && notFiniteIn(made.mesh);
    if (bad) {
      const who = whoMadeIt(catalogue, project, evaluation) ?? result.name;
      errors.push(`${who}: ${bad} is not a finite number, so it is not written.`);
    }
    for (const message of errors) yield { kind: 'problem', frame, message };
    if (errors.length > 0 && !bake.keepGoing) return;
    if (made.mesh && !bad) {
      const named = [{ name: result.name, mesh: made.mesh }];
      const name = `${stem}${isNumbered ? `.${numberOf(frame, frames[frames.length - 1])}` : ''}.${format}`;
      yield { kind: 'file', name, content: format === 'glb' ? await writeGlb(named) : writeObj(named, `${stem}.mtl`) };
      if (format === 'obj' && made.mesh.materials.length > 0 && library === undefined) {
        yield { kind: 'file', name: `${stem}.mtl`, content: (library = writeMtl(named)) };
        if (made.mesh.materials.some((m) => m.picture))
          yield { kind: 'note', message: `"${result.name}": an OBJ has no pictures in it; GLB keeps those of its materials.` };
      }
    }
    yield { kind: 'progress', done: i + 1, all: frames.length };
  }
}

interface Made {
  readonly value?: Value;
  readonly mesh?: Mesh;
  readonly why?: string;
}

/** What hangs under an object is written as that sees it: `parent⁻¹ · world` (DECISIONS 12). */
function inSpaceOf({ project, evaluator, result }: ResultBake, frame: number, made: Made): Made {
  const under = shownResults(evaluator.catalogue, project).find((r) => r.node === result.node)?.under ?? null;
  const parent = project.objects.find((o) => o.id === under);
  if (!made.mesh || !parent) return made;
  const [world] = worldsAt(evaluator, project, [parent.id], frame);
  const back = identity();
  if (!invert(back, world))
    return { ...made, mesh: undefined, why: `"${parent.name}" has no size, so nothing can be told in its space. Give it one.` };
  return { ...made, mesh: transformMesh(made.mesh, back, (count) => new Float32Array(count)) };
}

/** The mesh of a result, or why there is none. */
function meshOf(name: string, value: Value | undefined): Made {
  if (value?.form === 'geometry') return { value, mesh: value.mesh };
  if (value?.form === 'curves')
    return { value, why: `"${name}" is curves, which are not baked. Sweep Along Curve makes a mesh of them.` };
  if (value?.form !== 'copies') return { why: `"${name}" has no value: nothing arrives at it.` };
  const count = copiedPoints(value.copies);
  if (count > MOST_COPIED_POINTS) {
    const most = grouped(MOST_COPIED_POINTS);
    return { value, why: `the copies of "${name}" have ${grouped(count)} points; ${most} can be written.` };
  }
  return { value, mesh: copiesToMesh(value.copies) };
}

/** A frame with leading noughts, so that files stand in order. */
function numberOf(frame: number, last: number): string {
  const digits = Math.max(4, String(Math.abs(last)).length);
  return `${frame < 0 ? '-' : ''}${String(Math.abs(frame)).padStart(digits, '0')}`;
}

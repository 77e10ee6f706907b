import { basename, dirname, extname, join } from 'node:path';
import {
  CATALOGUE,
  copiedPoints,
  copiesToMesh,
  grouped,
  MOST_COPIED_POINTS,
  nodeTitle,
  problemWords,
  resolveProject,
  SHOWN_PORT,
  shownResults,
  upstreamObjects,
  withRemoved,
  wrongChannels,
  type Evaluation,
  type Mesh,
  type OpenedProject,
  type Project,
  type ShownResult,
  type Value,
} from '@umberfish/core';
import { notFiniteIn, writeGlb, writeMtl, writeObj } from '@umberfish/formats';
import { CommandError } from './command-error.ts';
import { writeWhole } from './files.ts';
import { parseFrames } from './frames.ts';
import { unknownName } from './names.ts';
import { evaluatorFor } from './open.ts';
import type { Output } from './output.ts';

export interface BakeOptions {
  result: string;
  frames?: string;
  out: string;
  keepGoing?: boolean;
}

/**
 * `umberfish bake`: writes a result at each frame to a file of its own, `name.0001.obj`; one frame to `name.obj`.
 * Files are told on the output, what is wrong on the error output.
 * @returns whether everything was baked without an error. @throws CommandError
 */
export async function bake(opened: OpenedProject, options: BakeOptions, output: Output): Promise<boolean> {
  const { project } = opened;
  const result = resultNamed(project, options.result);
  const ending = extname(options.out).toLowerCase();
  if (ending !== '.obj' && ending !== '.glb')
    throw new CommandError(`--out "${options.out}": the file must end in .obj or .glb.`);
  const frames = parseFrames(options.frames ?? String(project.range.first));
  const evaluator = evaluatorFor(opened);
  const concerned = behind(project, [result.node]);
  let clean = true;
  let library: string | undefined;
  for (const frame of frames) {
    const ref = { node: result.node, port: SHOWN_PORT };
    const evaluation = evaluator.evaluate({ project, frame, wanted: [ref] });
    const errors = [...channelErrors(concerned, frame), ...nodeErrors(project, evaluation)];
    const made = meshOf(result.name, evaluation.value(ref));
    if (made.why !== undefined && (errors.length === 0 || made.value)) errors.push(made.why);
    const bad = made.mesh && notFiniteIn(made.mesh);
    if (bad)
      errors.push(`${whoMadeIt(project, evaluation) ?? result.name}: ${bad} is not a finite number, so it is not written.`);
    for (const e of errors) output.error(`frame ${frame}: ${e}\n`);
    if (errors.length > 0) clean = false;
    if (errors.length > 0 && !options.keepGoing) return false;
    if (!made.mesh || bad) continue;
    const file = frames.length === 1 ? options.out : numbered(options.out, frame, frames[frames.length - 1]);
    const named = [{ name: result.name, mesh: made.mesh }];
    if (ending === '.glb') await writeWhole(file, await writeGlb(named));
    else {
      const name = `${basename(options.out, extname(options.out))}.mtl`;
      await writeWhole(file, writeObj(named, name));
      const materials = made.mesh.materials.length > 0 ? writeMtl(named) : undefined;
      if (materials !== undefined && library === undefined)
        await writeWhole(join(dirname(options.out), name), (library = materials));
    }
    output.out(`${file}\n`);
  }
  return clean;
}

function resultNamed(project: Project, name: string): ShownResult {
  const shown = shownResults(CATALOGUE, project);
  const found = shown.find((r) => r.name === name) ?? shown.find((r) => r.name.toLowerCase() === name.toLowerCase());
  if (found) return found;
  throw unknownName(
    'result',
    name,
    shown.map((r) => r.name),
    'add a Show Mesh node',
  );
}

/** The mesh of a result, or why there is none. */
function meshOf(name: string, value: Value | undefined): { value?: Value; mesh?: Mesh; why?: string } {
  if (value?.form === 'geometry') return { value, mesh: value.mesh };
  if (value?.form === 'curves')
    return {
      value,
      why: `"${name}" is curves, which are not baked. Sweep Along Curve makes a mesh of them.`,
    };
  if (value?.form !== 'copies') return { why: `"${name}" has no value: nothing arrives at it.` };
  const count = copiedPoints(value.copies);
  if (count > MOST_COPIED_POINTS)
    return {
      value,
      why: `the copies of "${name}" have ${grouped(count)} points; ${grouped(MOST_COPIED_POINTS)} can be written.`,
    };
  return { value, mesh: copiesToMesh(value.copies) };
}

/** A project with those of its objects, removed ones too, that anything behind some nodes reads, and others by id. */
export function behind(project: Project, nodes: readonly string[], others: readonly string[] = []): Project {
  const whole = withRemoved(project);
  const concerned = new Set([...upstreamObjects(CATALOGUE, whole, nodes), ...others]);
  return { ...whole, objects: whole.objects.filter((o) => concerned.has(o.id)) };
}

/** Channels that cannot be worked out at a frame, in sentences. */
export const channelErrors = (project: Project, frame: number): string[] =>
  wrongChannels(project, [frame]).map((w) => `${w.object.name}: ${w.message}`);

const placeOf = (project: Project, id: string): string => {
  const node = resolveProject(CATALOGUE, project).get(id);
  return node ? `${node.graph.name} / ${nodeTitle(node)}` : id;
};

/** Errors of the nodes of an evaluation, in sentences. */
export const nodeErrors = (project: Project, evaluation: Evaluation): string[] =>
  [...evaluation.reports.values()].flatMap((r) =>
    r.problems
      .filter((p) => p.severity === 'error' && p.code !== 'waits')
      .map((p) => `${placeOf(project, r.node)}: ${problemWords(p)}`),
  );

/** The first node that made something not finite, where one says so. */
function whoMadeIt(project: Project, evaluation: Evaluation): string | undefined {
  const first = [...evaluation.reports.values()].find((r) => r.problems.some((p) => p.code === 'not-finite'));
  return first && placeOf(project, first.node);
}

function numbered(out: string, frame: number, last: number): string {
  const digits = Math.max(4, String(Math.abs(last)).length);
  const number = `${frame < 0 ? '-' : ''}${String(Math.abs(frame)).padStart(digits, '0')}`;
  return join(dirname(out), `${basename(out, extname(out))}.${number}${extname(out)}`);
}

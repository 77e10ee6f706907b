import { mkdirSync, writeFileSync } from 'node:fs';
import { basename, dirname, extname, join } from 'node:path';
import type { Evaluator } from '@umberfish/core';
import {
  drivingNodes,
  nodeTitle,
  problemWords,
  resolveProject,
  SHOWN_PORT,
  shownResults,
  type Mesh,
  type Project,
} from '@umberfish/core';
import { writeGlb, writeMtl, writeObj } from '@umberfish/formats';
import { CommandError, evaluatorFor, openProject, parseFrames } from './open.ts';

export interface BakeOptions {
  result: string;
  frames?: string;
  out: string;
  keepGoing?: boolean;
}

/**
 * `umberfish bake`: writes a result at each frame to a file of its own, `name.0001.obj`; one frame to `name.obj`.
 * @param say is told each file and each problem. @returns whether everything was baked without an error.
 * @throws CommandError
 */
export async function bake(
  path: string,
  options: BakeOptions,
  say: (line: string) => void,
): Promise<boolean> {
  const opened = openProject(path);
  const { project } = opened;
  const shown = shownResults(project);
  const result =
    shown.find((r) => r.name === options.result) ??
    shown.find((r) => r.name.toLowerCase() === options.result.toLowerCase());
  if (!result) {
    throw new CommandError(
      `There is no result "${options.result}". Results: ${shown.map((r) => r.name).join(', ') || 'none; add a Show Mesh node'}.`,
    );
  }
  const ending = extname(options.out).toLowerCase();
  if (ending !== '.obj' && ending !== '.glb')
    throw new CommandError(`--out "${options.out}": the file must end in .obj or .glb.`);
  const frames = parseFrames(options.frames ?? String(project.range.first));
  mkdirSync(dirname(options.out) || '.', { recursive: true });
  const evaluator = evaluatorFor(opened);
  let clean = true;
  for (const frame of frames) {
    const ref = { node: result.node, port: SHOWN_PORT };
    const evaluation = evaluator.evaluate({ project, frame, wanted: [ref] });
    const errors = sentences(project, evaluation);
    const value = evaluation.value(ref);
    if (errors.length > 0) {
      clean = false;
      for (const e of errors) say(`frame ${frame}: ${e}`);
      if (!options.keepGoing) return false;
    }
    if (value?.form !== 'geometry') continue;
    const file = frames.length === 1 ? options.out : numbered(options.out, frame, frames[frames.length - 1]);
    await writeMesh(file, ending, result.name, value.mesh, frame === frames[0] ? options.out : undefined);
    say(file);
  }
  return clean;
}

/** Errors of the nodes that drive objects, at a frame. */
export function problemsAt(evaluator: Evaluator, project: Project, frame: number): string[] {
  const wanted = drivingNodes(project).map((node) => ({ node, port: SHOWN_PORT }));
  return sentences(project, evaluator.evaluate({ project, frame, wanted }));
}

function sentences(project: Project, evaluation: ReturnType<Evaluator['evaluate']>): string[] {
  const nodes = resolveProject(project);
  return [...evaluation.reports.values()].flatMap((r) => {
    const node = nodes.get(r.node);
    const errors = r.problems.filter((p) => p.severity === 'error' && p.code !== 'waits');
    return errors.map(
      (p) => `${node ? `${node.graph.name} / ${nodeTitle(node)}` : r.node}: ${problemWords(p)}`,
    );
  });
}

function numbered(out: string, frame: number, last: number): string {
  const digits = Math.max(4, String(Math.abs(last)).length);
  const number = `${frame < 0 ? '-' : ''}${String(Math.abs(frame)).padStart(digits, '0')}`;
  return join(dirname(out), `${basename(out, extname(out))}.${number}${extname(out)}`);
}

async function writeMesh(
  file: string,
  ending: string,
  name: string,
  mesh: Mesh,
  librarySource: string | undefined,
): Promise<void> {
  const named = [{ name, mesh }];
  if (ending === '.glb') {
    writeFileSync(file, await writeGlb(named));
    return;
  }
  const stem = basename(file, ending).replace(/\.-?\d+$/, '');
  writeFileSync(file, writeObj(named, `${stem}.mtl`));
  if (librarySource && mesh.materials.length > 0)
    writeFileSync(join(dirname(file), `${stem}.mtl`), writeMtl(named));
}

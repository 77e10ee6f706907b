import { basename, dirname, extname, join } from 'node:path';
import { CATALOGUE, shownResults, type ObjectRecord, type OpenedProject, type Project, type ShownResult } from '@umberfish/core';
import { bakeObjects, bakeResult, type Bake, type Baked } from '@umberfish/bake';
import { CommandError } from './command-error.ts';
import { writeWhole } from './files.ts';
import { parseFrames } from './frames.ts';
import { oneCalled, unknownName } from './names.ts';
import { evaluatorFor } from './open.ts';
import type { Output } from './output.ts';

/** What both bakes are told on the command line. */
interface Options {
  frames?: string;
  out: string;
  keepGoing?: boolean;
}

/**
 * `umberfish bake --result`: writes a result at each frame to a file of its own, `name.0001.obj`; one frame to `name.obj`.
 * @returns whether everything was baked without an error. @throws CommandError
 */
export function bakeOfResult(opened: OpenedProject, options: Options & { result: string }, output: Output): Promise<boolean> {
  const { project } = opened;
  const result = resultNamed(project, options.result);
  const format = endingOf(options.out, ['obj', 'glb'], 'the file must end in .obj or .glb.');
  const frames = parseFrames(options.frames ?? String(project.range.first));
  return carryOut(bakeResult({ ...bakeOf(opened, options, frames), result, format }), options, output);
}

/**
 * `umberfish bake --objects`: writes the motion of objects, by names parted by commas, to one GLB or CSV.
 * @returns whether everything was baked without an error. @throws CommandError
 */
export function bakeOfObjects(opened: OpenedProject, options: Options & { objects: string }, output: Output): Promise<boolean> {
  const { project } = opened;
  const objects = objectsNamed(project, options.objects).map((o) => o.id);
  const format = endingOf(options.out, ['glb', 'csv'], 'objects are baked to .glb or .csv.');
  const { first, last } = project.range;
  const frames = parseFrames(options.frames ?? `${first}-${last}`);
  return carryOut(bakeObjects({ ...bakeOf(opened, options, frames), objects, format }), options, output);
}

/** @throws CommandError when a file ends in something else */
function endingOf<T extends string>(out: string, endings: readonly T[], otherwise: string): T {
  const ending = extname(out).toLowerCase();
  const found = endings.find((e) => ending === `.${e}`);
  if (!found) throw new CommandError(`--out "${out}": ${otherwise}`);
  return found;
}

const bakeOf = (opened: OpenedProject, { out, keepGoing }: Options, frames: readonly number[]): Bake => ({
  project: opened.project,
  evaluator: evaluatorFor(opened),
  frames,
  stem: basename(out, extname(out)),
  keepGoing: keepGoing ?? false,
});

/** Puts files in their folder and tells them on the output; what is wrong goes to the error output. */
async function carryOut(bake: AsyncGenerator<Baked, void>, { out }: Options, output: Output): Promise<boolean> {
  let clean = true;
  for await (const made of bake) {
    if (made.kind === 'problem') {
      clean = false;
      output.error(`frame ${made.frame}: ${made.message}\n`);
    } else if (made.kind === 'note') output.error(`${made.message}\n`);
    else if (made.kind === 'file') {
      // The materials of an OBJ go with it; what was asked for ends as it was asked for.
      const isLibrary = made.name.endsWith('.mtl');
      const name = isLibrary ? made.name : `${basename(made.name, extname(made.name))}${extname(out)}`;
      const file = join(dirname(out), name);
      await writeWhole(file, made.content);
      if (!isLibrary) output.out(`${file}\n`);
    }
  }
  return clean;
}

function resultNamed(project: Project, name: string): ShownResult {
  const shown = shownResults(CATALOGUE, project);
  const found = oneCalled('result', name, shown, (r) => ({ id: r.node, name: r.name }));
  if (found) return found;
  throw unknownName(
    'result',
    name,
    shown.map((r) => r.name),
    'add a Show Mesh node',
  );
}

/**
 * Objects by names or ids parted by commas. A name may have commas itself: the longest that fits is taken.
 * @throws CommandError with the name that was likely meant
 */
function objectsNamed(project: Project, names: string): ObjectRecord[] {
  const parts = names.split(',');
  const chosen: ObjectRecord[] = [];
  for (let from = 0; from < parts.length;) {
    let to = parts.length;
    let found: ObjectRecord | undefined;
    for (; to > from && !found; to--) found = objectNamed(project, parts.slice(from, to).join(',').trim());
    if (!found)
      throw unknownName(
        'object',
        parts[from].trim(),
        project.objects.map((o) => o.name),
        'the project has no objects',
      );
    if (!chosen.includes(found)) chosen.push(found);
    from = to + 1;
  }
  return chosen;
}

const objectNamed = ({ objects }: Project, name: string): ObjectRecord | undefined =>
  oneCalled('object', name, objects, (o) => o);

import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, extname } from 'node:path';
import { channelsOver, sampleObjects, type Mesh } from '@umberfish/core';
import { writeChannelsCsv, writeObjectsGlb } from '@umberfish/formats';
import { problemsAt } from './bake.ts';
import { CommandError, evaluatorFor, openProject, parseFrames } from './open.ts';

export interface BakeObjectsOptions {
  objects: string;
  frames?: string;
  out: string;
  keepGoing?: boolean;
}

/**
 * `umberfish bake --objects`: writes the motion of objects, by names parted by commas, to one GLB or CSV.
 * @returns whether everything was baked without an error. @throws CommandError
 */
export async function bakeObjects(
  path: string,
  options: BakeObjectsOptions,
  say: (line: string) => void,
): Promise<boolean> {
  const opened = openProject(path);
  const { project } = opened;
  const named = options.objects.split(',').map((n) => n.trim());
  const chosen = named.map((name) => {
    const found =
      project.objects.find((o) => o.id === name || o.name === name) ??
      project.objects.find((o) => o.name.toLowerCase() === name.toLowerCase());
    if (!found)
      throw new CommandError(
        `There is no object "${name}". Objects: ${project.objects.map((o) => o.name).join(', ')}.`,
      );
    return found;
  });
  const ending = extname(options.out).toLowerCase();
  if (ending !== '.glb' && ending !== '.csv')
    throw new CommandError(`--out "${options.out}": objects are baked to .glb or .csv.`);
  const { first, last } = project.range;
  const frames = parseFrames(options.frames ?? `${first}-${last}`);
  const evaluator = evaluatorFor(opened);
  let clean = true;
  for (const frame of frames) {
    const errors = problemsAt(evaluator, project, frame);
    for (const e of errors) say(`frame ${frame}: ${e}`);
    if (errors.length > 0) clean = false;
    if (errors.length > 0 && !options.keepGoing) return false;
  }
  const ids = chosen.map((o) => o.id);
  const samples = sampleObjects(evaluator, project, ids, frames);
  mkdirSync(dirname(options.out) || '.', { recursive: true });
  if (ending === '.csv') {
    const channels = samples.filter((s) => ids.includes(s.object.id)).map(channelsOver);
    for (const { object, residual } of channels)
      if (residual > 1e-6) say(`"${object.name}" is sheared; its channels leave out ${(residual * 100).toPrecision(2)} % of that.`); // prettier-ignore
    writeFileSync(options.out, writeChannelsCsv(channels, frames));
  } else {
    const meshes = new Map<string, Mesh>();
    for (const o of chosen) {
      const mesh = o.mesh === null ? undefined : opened.assets.get(o.mesh);
      if (mesh) meshes.set(o.id, mesh);
    }
    const { bytes, notes } = await writeObjectsGlb(samples, frames, project.frameRate, meshes);
    notes.forEach(say);
    writeFileSync(options.out, bytes);
  }
  say(options.out);
  return clean;
}

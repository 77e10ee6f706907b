import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, extname } from 'node:path';
import { channelsOver, sampleObjects, type Mesh, type ObjectRecord, type Project } from '@umberfish/core';
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
  const chosen = objectsNamed(project, options.objects);
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

/**
 * Objects by names or ids parted by commas. A name may have commas itself: the longest that fits is taken.
 * @throws CommandError with the names there are
 */
function objectsNamed(project: Project, names: string): ObjectRecord[] {
  const parts = names.split(',');
  const chosen: ObjectRecord[] = [];
  for (let from = 0; from < parts.length;) {
    let to = parts.length;
    let found: ObjectRecord | undefined;
    for (; to > from && !found; to--) found = objectNamed(project, parts.slice(from, to).join(',').trim());
    if (!found) {
      const known = project.objects.map((o) => `"${o.name}"`).join(', ');
      throw new CommandError(`There is no object "${parts[from].trim()}". Objects: ${known}.`);
    }
    chosen.push(found);
    from = to + 1;
  }
  return chosen;
}

const objectNamed = ({ objects }: Project, name: string): ObjectRecord | undefined =>
  objects.find((o) => o.id === name || o.name === name) ??
  objects.find((o) => o.name.toLowerCase() === name.toLowerCase());

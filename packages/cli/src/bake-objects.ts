import { extname } from 'node:path';
import {
  CATALOGUE,
  channelsOver,
  drivingNodes,
  sampleObjects,
  SHOWN_PORT,
  withParents,
  type Mesh,
  type ObjectRecord,
  type OpenedProject,
  type Project,
} from '@umberfish/core';
import { writeChannelsCsv, writeObjectsGlb } from '@umberfish/formats';
import { behind, channelErrors, nodeErrors } from './bake.ts';
import { CommandError } from './command-error.ts';
import { writeWhole } from './files.ts';
import { parseFrames } from './frames.ts';
import type { Output } from './output.ts';
import { unknownName } from './names.ts';
import { evaluatorFor } from './open.ts';

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
export async function bakeObjects(opened: OpenedProject, options: BakeObjectsOptions, output: Output): Promise<boolean> {
  const { project } = opened;
  const chosen = objectsNamed(project, options.objects);
  const ids = chosen.map((o) => o.id);
  const ending = extname(options.out).toLowerCase();
  if (ending !== '.glb' && ending !== '.csv')
    throw new CommandError(`--out "${options.out}": objects are baked to .glb or .csv.`);
  const { first, last } = project.range;
  const frames = parseFrames(options.frames ?? `${first}-${last}`);
  const evaluator = evaluatorFor(opened);
  const wanted = drivingNodes(CATALOGUE, project).map((node) => ({ node, port: SHOWN_PORT }));
  const concerned = behind(
    project,
    wanted.map((w) => w.node),
    withParents(project, ids).map((o) => o.id),
  );
  let clean = true;
  for (const frame of frames) {
    const evaluation = evaluator.evaluate({ project, frame, wanted });
    const errors = [...channelErrors(concerned, frame), ...nodeErrors(project, evaluation)];
    for (const e of errors) output.error(`frame ${frame}: ${e}\n`);
    if (errors.length > 0) clean = false;
    if (errors.length > 0 && !options.keepGoing) return false;
  }
  const samples = sampleObjects(evaluator, project, ids, frames);
  if (ending === '.csv') {
    const named = new Set(ids);
    const channels = samples.filter((s) => named.has(s.object.id)).map(channelsOver);
    for (const { object, residual } of channels)
      if (residual > 1e-6)
        output.error(`"${object.name}" is sheared; its channels leave out ${(residual * 100).toPrecision(2)} % of that.\n`);
    await writeWhole(options.out, writeChannelsCsv(channels, frames));
  } else {
    const meshes = new Map<string, Mesh>();
    for (const o of chosen) {
      const mesh = o.mesh === null ? undefined : opened.assets.get(o.mesh);
      if (mesh) meshes.set(o.id, mesh);
    }
    const { bytes, notes } = await writeObjectsGlb(samples, frames, project.frameRate, meshes);
    for (const note of notes) output.error(`${note}\n`);
    await writeWhole(options.out, bytes);
  }
  output.out(`${options.out}\n`);
  return clean;
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
  objects.find((o) => o.id === name || o.name.trim() === name) ??
  objects.find((o) => o.name.toLowerCase() === name.toLowerCase());

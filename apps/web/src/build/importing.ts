import { wrap } from 'comlink';
import {
  channelsFor,
  counted,
  makeObject,
  tracksFor,
  withChannels,
  type ObjectRecord,
  type Project,
} from '@umberfish/core';
import type { ImportUnits } from '@umberfish/formats';
import type { Reader, ReadFiles } from '../engine/import-worker.ts';
import { engine } from '../engine/index.ts';
import { addMeshObject, addObject, freeName, newId } from '../state/edits.ts';
import { applyEdit, store } from '../state/store.ts';
import { objectsPicked, remarked } from '../state/ui-slice.ts';
import { readFiles } from '../storage/files.ts';
import { tidied } from './scene/pose-commands.ts';

/** Units an OBJ file may be in. */
export const UNITS: readonly { value: string; label: string; metres: number }[] = [
  { value: 'm', label: 'Metres', metres: 1 },
  { value: 'cm', label: 'Centimetres', metres: 0.01 },
  { value: 'mm', label: 'Millimetres', metres: 0.001 },
  { value: 'in', label: 'Inches', metres: 0.0254 },
  { value: 'ft', label: 'Feet', metres: 0.3048 },
];

/** Whether the files leave their units open, so that the person must be asked. */
export const asksForUnits = (files: readonly File[]): boolean => files.some((f) => /\.obj$/i.test(f.name));

/** Reads mesh files and puts an object for each mesh into the open project, as one step; picks them. */
export async function importIntoProject(files: readonly File[], units: ImportUnits): Promise<void> {
  let imported: ReadFiles;
  try {
    imported = await readAway(files, units);
  } catch (error) {
    store.dispatch(remarked({ text: (error as Error).message, kind: 'wrong' }));
    return;
  }
  const origin = files.map((f) => f.name).join(', ');
  const { project } = store.getState().project;
  if (!project) return;
  for (const m of imported.meshes) engine.addAsset(m.id, m.mesh);
  const added: string[] = [];
  let next = project;
  for (const o of imported.objects) {
    const mesh = o.mesh === null ? undefined : imported.meshes[o.mesh];
    const record = recordOf(
      next,
      o,
      added,
      mesh?.id ?? null,
      imported.objects.some((x) => x.parent === added.length),
    );
    added.push(record.id);
    next = mesh ? addMeshObject(assetOf(mesh, origin), record)(next) : addObject(record)(next);
  }
  applyEdit(`Import ${origin}`, () => next);
  store.dispatch(objectsPicked(added));
  const count = imported.meshes.reduce((n, m) => n + m.mesh.topology.pointCount, 0);
  const told = [`Imported ${origin}: ${counted(count, 'point')}.`, ...imported.notes].join(' ');
  store.dispatch(remarked({ text: told, kind: 'done' }));
}

const assetOf = (m: ReadFiles['meshes'][number], origin: string) => ({
  id: m.id,
  name: m.name,
  points: m.mesh.topology.pointCount,
  faces: m.mesh.topology.faceCount,
  origin,
});

/** An object of a file as one of the project, with its motion as keys. */
function recordOf(
  project: Project,
  o: ReadFiles['objects'][number],
  before: readonly string[],
  mesh: string | null,
  hasChildren: boolean,
): ObjectRecord {
  const type = mesh !== null ? 'mesh' : hasChildren ? 'group' : 'locator';
  const plain = makeObject(newId(type), freeName(project, o.name), type, {
    mesh,
    parent: o.parent === null ? null : before[o.parent],
  });
  const placed = withChannels(plain, tidied(channelsFor(plain, o.matrix).values));
  const still = { ...placed, rest: placed.channels };
  if (!o.motion) return still;
  const frames = o.motion.seconds.map((s) =>
    Number((project.range.first + s * project.frameRate).toFixed(4)),
  );
  return {
    ...still,
    animated: tracksFor(still, frames, o.motion.matrices, o.motion.steps ? 'step' : 'straight'),
  };
}

/** Reads the files in a worker of their own, so that a large one does not hold up the page. */
export async function readAway(files: readonly File[], units: ImportUnits): Promise<ReadFiles> {
  const worker = new Worker(new URL('../engine/import-worker.ts', import.meta.url), { type: 'module' });
  try {
    return await wrap<Reader>(worker).read(await readFiles(files), units);
  } finally {
    worker.terminate();
  }
}

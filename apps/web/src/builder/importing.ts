import {
  channelsFor,
  counted,
  makeObject,
  tracksFor,
  withChannels,
  type AssetRecord,
  type ObjectRecord,
  type Project,
  addGraph,
  addMeshObjects,
  skinGraph,
  freeNames,
  newId,
} from '@umberfish/core';
import { wrap, type Remote } from 'comlink';
import type { ImportUnits } from '@umberfish/formats';
import type { Reader, ReadFiles } from '../engine/import-worker.ts';
import { engine } from '../engine/index.ts';
import { applyEdit, store } from '../state/store.ts';
import { objectsPicked, remarked, uiSet } from '../state/ui-slice.ts';
import { readFiles } from '../storage/files.ts';
import { CANCEL_READING_EVENT } from './cancel-reading.ts';
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

/** How long reading goes on before the page says so and offers to end it (ms). */
const TELL_AFTER = 500;

/** Reads mesh files and puts an object for each mesh into the open project, as one step; picks them. */
export async function importIntoProject(files: readonly File[], units: ImportUnits): Promise<void> {
  const into = store.getState().project.project?.id;
  let read: ReadFiles;
  try {
    read = await readAway(files, units);
  } catch (error) {
    const text = error instanceof Cancelled ? `${error.message} Nothing was imported.` : (error as Error).message;
    store.dispatch(remarked({ text, kind: error instanceof Cancelled ? 'done' : 'wrong' }));
    return;
  }
  const { project } = store.getState().project;
  if (!project || project.id !== into) {
    const text = `${read.origins.join(', ')} was read after its project was left, and is not in it. Import it there again.`;
    store.dispatch(remarked({ text, kind: 'wrong' }));
    return;
  }
  for (const m of read.meshes) engine.addAsset(m.id, m.mesh);
  const objects = recordsOf(project, read);
  const skins = read.objects.flatMap((o, i) => (o.chain === undefined ? [] : [skinGraph(objects[i], objects[o.chain])]));
  const add = addMeshObjects(read.meshes.map(assetOf), objects);
  applyEdit(`Import ${read.origins.join(', ')}`, (p) => skins.reduce((now, g) => addGraph(g)(now), add(p)));
  store.dispatch(objectsPicked(objects.map((o) => o.id)));
  const count = read.meshes.reduce((n, m) => n + m.mesh.topology.pointCount, 0);
  const told = [`Imported ${read.origins.join(', ')}: ${counted(count, 'point')}.`, ...read.notes].join(' ');
  store.dispatch(remarked({ text: told, kind: read.refused.length > 0 ? 'wrong' : 'done' }));
}

/** A mesh that was read, as an asset of the project. */
export const assetOf = (m: ReadFiles['meshes'][number]): AssetRecord => ({
  id: m.id,
  name: m.name,
  points: m.mesh.topology.pointCount,
  faces: m.mesh.topology.faceCount,
  origin: m.origin,
});

/** Objects of files as those of the project, parents before what hangs under them. */
function recordsOf(project: Project, read: ReadFiles): ObjectRecord[] {
  const free = freeNames(project);
  const parents = new Set(read.objects.map((o) => o.parent));
  const records: ObjectRecord[] = [];
  read.objects.forEach((o, i) => {
    const mesh = o.mesh === null ? null : read.meshes[o.mesh].id;
    const type = o.kind ?? (mesh !== null ? 'mesh' : parents.has(i) ? 'group' : 'locator');
    const parent = o.parent === null ? null : records[o.parent].id;
    records.push(
      recordOf(
        project,
        o,
        makeObject(
          newId(type),
          o.kind === 'joint' ? o.name : free(o.name),
          type,
          type === 'mesh' ? { mesh, parent } : { parent },
        ),
      ),
    );
  });
  return records;
}

/** An object with the place and the motion it has in a file. */
function recordOf(project: Project, o: ReadFiles['objects'][number], plain: ObjectRecord): ObjectRecord {
  const placed = withChannels(plain, tidied(channelsFor(plain, o.matrix).values));
  const rest = o.rest ? withChannels(plain, tidied(channelsFor(plain, o.rest).values)).channels : placed.channels;
  const still = { ...placed, rest };
  if (!o.motion) return still;
  const frames = o.motion.seconds.map((s) => Number((project.range.first + s * project.frameRate).toFixed(4)));
  return {
    ...still,
    animated: tracksFor(still, frames, o.motion.matrices, o.motion.steps ? 'step' : 'straight').animated,
  };
}

/** Reading was ended by whoever asked for it. */
export class Cancelled extends Error {}

/**
 * Reads the files in a worker of their own, so that a large one does not hold up the page; where it takes long, that is
 * said, with a way to end it.
 * @throws Cancelled where it was ended, Error with a sentence where a file cannot be read
 */
export async function readAway(files: readonly File[], units: ImportUnits): Promise<ReadFiles> {
  const names = files.map((f) => f.name).join(', ');
  const ending = new AbortController();
  const cancel = () => ending.abort(new Cancelled(`Reading ${names} was cancelled.`));
  window.addEventListener(CANCEL_READING_EVENT, cancel);
  const telling = window.setTimeout(() => store.dispatch(uiSet({ reading: names })), TELL_AFTER);
  try {
    return await withReader(async (reader) => reader.read(await readFiles(files), units), ending.signal);
  } finally {
    window.clearTimeout(telling);
    window.removeEventListener(CANCEL_READING_EVENT, cancel);
    // Others may be read yet, which is told instead.
    if (store.getState().ui.reading === names) store.dispatch(uiSet({ reading: null }));
  }
}

/** The size of the largest of some OBJ files, in the units of the files; undefined where none tells. */
export async function extentAway(files: readonly File[]): Promise<readonly [number, number, number] | undefined> {
  const all = await withReader(async (reader) => reader.extents(await readFiles(files)));
  return all.filter((e) => e !== undefined).sort((a, b) => Math.max(...b) - Math.max(...a))[0];
}

async function withReader<T>(work: (reader: Remote<Reader>) => Promise<T>, ended?: AbortSignal): Promise<T> {
  const worker = new Worker(new URL('../engine/import-worker.ts', import.meta.url), { type: 'module' });
  try {
    // What has ended answers no more.
    const cut = new Promise<never>((_, refuse) => ended?.addEventListener('abort', () => refuse(ended.reason as Error)));
    return await Promise.race([work(wrap<Reader>(worker)), cut]);
  } finally {
    worker.terminate();
  }
}

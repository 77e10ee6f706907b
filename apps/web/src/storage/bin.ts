import { newId, type Project } from '@umberfish/core';
import { forgetLeftOff } from '../state/left-off.ts';
import { database, pruneMeshes, type BinnedProject } from './database.ts';
import { tellTabs } from './other-tabs.ts';

/** How long what was removed can be put back. */
export const DAYS_KEPT = 30;
const DAY_IN_MS = 86_400_000;

/** Puts a project into the bin: it is off the shelf, and nothing of it is lost. */
export async function binProject(id: string): Promise<void> {
  await database.transaction('rw', database.projects, database.meshes, database.bin, async () => {
    const project = await database.projects.get(id);
    if (!project) return;
    const { assets = [] } = project.document as Partial<Project>;
    const meshBytes: Record<string, number> = {};
    for (const asset of assets) meshBytes[asset.id] = bytesOf((await database.meshes.get(asset.id))?.data);
    const bytes = JSON.stringify(project.document).length + (project.thumbnail?.length ?? 0);
    await database.bin.put({ key: newId('removed'), removedAt: Date.now(), bytes, meshBytes, project });
    await database.projects.delete(id);
  });
  tellTabs({ id, removed: true });
}

/** Removes a project from the shelf for good, where there is no room to keep it in the bin. */
export async function removeForGood(id: string): Promise<void> {
  await database.transaction('rw', database.projects, database.meshes, database.bin, async () => {
    await database.projects.delete(id);
    await pruneMeshes();
  });
  forgetLeftOff(id);
  tellTabs({ id, removed: true });
}

/** What is in the bin, removed last first. What has been there for too long goes for good first. */
export async function listBin(now = Date.now()): Promise<BinnedProject[]> {
  const stale = await database.bin
    .where('removedAt')
    .below(now - DAYS_KEPT * DAY_IN_MS)
    .primaryKeys();
  if (stale.length > 0) await emptyBin(stale);
  return database.bin.orderBy('removedAt').reverse().toArray();
}

/** Days until a project in the bin goes for good, rounded up. */
export const daysLeft = ({ removedAt }: BinnedProject, now = Date.now()): number =>
  Math.max(0, Math.ceil(DAYS_KEPT - (now - removedAt) / DAY_IN_MS));

/** Bytes that are free again once all of some projects in the bin are gone; meshes that others use are not. */
export async function bytesIn(binned: readonly BinnedProject[]): Promise<number> {
  const used = new Set<string>();
  for (const { document } of await database.projects.toArray())
    for (const { id } of (document as Partial<Project>).assets ?? []) used.add(id);
  const meshes = new Map(binned.flatMap((b) => Object.entries(b.meshBytes)));
  const documents = binned.reduce((n, b) => n + b.bytes, 0);
  return [...meshes].reduce((n, [id, bytes]) => n + (used.has(id) ? 0 : bytes), documents);
}

/** Puts a project back on the shelf; where its id has been taken since, it gets another. @returns its id */
export const restoreProject = (key: string): Promise<string> =>
  database.transaction('rw', database.projects, database.bin, async () => {
    const binned = await database.bin.get(key);
    if (!binned) throw new Error('It is no longer in the bin: another tab restored it, or emptied the bin.');
    const { project } = binned;
    const isTaken = (await database.projects.get(project.id)) !== undefined;
    const id = isTaken ? newId('project') : project.id;
    const name = isTaken ? `${project.name.slice(0, 180)} (restored)` : project.name;
    const document = { ...(project.document as Project), id, name };
    await database.projects.add({ ...project, id, name, document, revision: project.revision + 1 });
    await database.bin.delete(key);
    return id;
  });

/** Removes projects from the bin for good, with the meshes that nothing else uses. */
export async function emptyBin(keys: readonly string[]): Promise<void> {
  const ids = await database.transaction('rw', database.projects, database.meshes, database.bin, async () => {
    const gone = (await database.bin.bulkGet([...keys])).flatMap((b) => (b ? [b.project.id] : []));
    await database.bin.bulkDelete([...keys]);
    await pruneMeshes();
    const kept = new Set(await database.projects.toCollection().primaryKeys());
    return gone.filter((id) => !kept.has(id));
  });
  ids.forEach(forgetLeftOff);
}

/** Bytes that stored data takes, about: its arrays and texts. */
function bytesOf(data: unknown): number {
  if (typeof data === 'string') return data.length;
  if (ArrayBuffer.isView(data)) return data.byteLength;
  if (typeof data !== 'object' || data === null) return 8;
  return Object.values(data).reduce((n: number, each) => n + bytesOf(each), 0);
}

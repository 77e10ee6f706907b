import Dexie, { type EntityTable } from 'dexie';
import {
  meshFromData,
  meshToArrays,
  presentMeshes,
  readProjectDocument,
  type Assets,
  type Mesh,
  type OpenedProject,
  type Project,
} from '@umberfish/core';

/** A project as it is stored; meshes are kept apart, so that an edit does not write them again. */
export interface StoredProject {
  id: string;
  name: string;
  changedAt: number;
  /** Counts saves; a save on top of another tab's is refused. */
  revision: number;
  document: unknown;
  thumbnail: string | null;
}

/** A project in the bin, with its meshes still in the store. */
export interface BinnedProject {
  /** Its own: several removed projects may have had one id. */
  key: string;
  removedAt: number;
  /** Bytes of the document, and of each of its meshes by id. */
  bytes: number;
  meshBytes: Record<string, number>;
  project: StoredProject;
}

interface StoredMesh {
  id: string;
  data: unknown;
}

/** A published version of a module, as the text of its file. */
export interface StoredModule {
  /** `id@version` */
  key: string;
  id: string;
  name: string;
  hash: string;
  text: string;
}

/** Of the tables below; a newer application has a higher one. */
const VERSION = 3;

class Database extends Dexie {
  modules!: EntityTable<StoredModule, 'key'>;
  projects!: EntityTable<StoredProject, 'id'>;
  meshes!: EntityTable<StoredMesh, 'id'>;
  bin!: EntityTable<BinnedProject, 'key'>;

  /** The store belongs to a newer application: it was taken over in another tab, or found so. */
  isOutdated = false;

  constructor() {
    super('umberfish');
    this.version(1).stores({ projects: 'id, changedAt', meshes: 'id' });
    this.version(2).stores({ modules: 'key, id' });
    this.version(VERSION).stores({ bin: 'key, removedAt' });
    // A newer application in another tab brings the store up to date, for which it is closed here.
    this.on('versionchange', () => void (this.isOutdated = true));
    // The library opens a store of any later version, whose records may mean what is not known here. Its versions are the
    // browser's by ten.
    const refuseNewer = () => {
      if (this.backendDB().version < (VERSION + 1) * 10) return;
      this.isOutdated = true;
      throw new Error('The store is of a newer version.');
    };
    this.on('ready', refuseNewer, true);
  }

  /** Calls back when the store cannot be brought up to date because a tab of an older version holds it. @returns an end to that */
  whenBlocked(tell: () => void): () => void {
    this.on('blocked', tell);
    return () => this.on('blocked').unsubscribe(tell);
  }
}

/** This browser's store; rooms of it have files of their own. */
export const database = new Database();

/** Another tab saved this project since it was opened here, or one of its id is there already. */
export class ChangedElsewhere extends Error {}

export const listProjects = (): Promise<StoredProject[]> => database.projects.orderBy('changedAt').reverse().toArray();

/** Whether there is a project of an id, now. */
export const isStored = async (id: string): Promise<boolean> => (await database.projects.where('id').equals(id).count()) > 0;

/** Opens a stored project with its meshes. @throws Error with a sentence */
export async function loadProject(id: string): Promise<(OpenedProject & { revision: number }) | undefined> {
  const stored = await database.projects.get(id);
  if (!stored) return undefined;
  const { project, repairs } = readProjectDocument(stored.document);
  const assets = new Map<string, Mesh>();
  const asPresent = presentMeshes(project);
  const problems = [...repairs];
  for (const asset of project.assets) {
    const kept = await database.meshes.get(asset.id);
    if (kept) assets.set(asset.id, asPresent(meshFromData(kept.data)));
    else problems.push(`The mesh "${asset.name}" is no longer stored in this browser.`);
  }
  return { project, assets, repairs: problems, revision: stored.revision };
}

/**
 * On top of what a save goes: of the revision the project was opened with or last saved as; of nothing, for one that
 * must not be there yet; or of whatever stands there, which someone has to have asked for.
 */
export type SaveBase = number | 'nothing' | 'anything';

/**
 * Stores a document and those of its meshes that are not stored yet: all of it, or nothing.
 * @returns the new revision. @throws ChangedElsewhere
 */
export async function saveProject(project: Project, assets: Assets, base: SaveBase): Promise<number> {
  const ids = project.assets.map((a) => a.id).filter((id) => assets.has(id));
  return database.transaction('rw', database.projects, database.meshes, async () => {
    const stored = await database.projects.get(project.id);
    if (stored && base !== 'anything' && stored.revision !== base) throw new ChangedElsewhere();
    const known = new Set(await database.meshes.where('id').anyOf(ids).primaryKeys());
    for (const id of ids) if (!known.has(id)) await database.meshes.put({ id, data: meshToArrays(assets.get(id) as Mesh) });
    const before = typeof base === 'number' ? base : 0;
    const revision = Math.max(stored?.revision ?? 0, before) + 1;
    await database.projects.put({
      id: project.id,
      name: project.name,
      changedAt: Date.now(),
      revision,
      document: project,
      thumbnail: stored?.thumbnail ?? null,
    });
    return revision;
  });
}

export async function saveThumbnail(id: string, thumbnail: string): Promise<void> {
  await database.projects.update(id, { thumbnail });
}

/** Removes the meshes that no project uses, neither on the shelf nor in the bin. To be called in a transaction. */
export async function pruneMeshes(): Promise<void> {
  const used = new Set<string>();
  const binned = (await database.bin.toArray()).map((b) => b.project);
  for (const p of [...(await database.projects.toArray()), ...binned])
    for (const a of (p.document as Project).assets ?? []) used.add(a.id);
  const all = await database.meshes.toCollection().primaryKeys();
  await database.meshes.bulkDelete(all.filter((m) => !used.has(m)));
}

/** Whether the browser refused something for want of room. */
export function isNoRoom(error: unknown): boolean {
  const { name, message, inner } = error as Error & { inner?: Error };
  return /quota|disk|no space/i.test([name, message, inner?.name, inner?.message].join(' '));
}

/** Why the browser does not store or read something, in words that go on after a colon. */
export function storageReason(error: unknown): string {
  const { name, message, inner } = error as Error & { inner?: Error };
  const all = [name, message, inner?.name, inner?.message].join(' ');
  if (database.isOutdated || /VersionError/.test(all))
    return "a newer version of Umberfish has this browser's storage now; save this project to a file, then load the page again";
  if (isNoRoom(error))
    return 'the browser has no room left for this site; empty the bin on the shelf, remove a project for good, or save this one to a file';
  if (/InvalidState|Security|MissingAPI|OpenFailed|DatabaseClosed|NotFound/i.test(all))
    return 'the browser does not let this page store data (a private window?)';
  if (/Abort|Timeout|Transaction/i.test(all)) return 'the browser broke off';
  return message || name;
}

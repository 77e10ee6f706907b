import Dexie, { type EntityTable } from 'dexie';
import {
  meshFromData,
  meshToData,
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

interface StoredMesh {
  id: string;
  data: unknown;
}

class Database extends Dexie {
  projects!: EntityTable<StoredProject, 'id'>;
  meshes!: EntityTable<StoredMesh, 'id'>;

  constructor() {
    super('umberfish');
    this.version(1).stores({ projects: 'id, changedAt', meshes: 'id' });
  }
}

const database = new Database();

/** Another tab saved this project since it was opened here. */
export class ChangedElsewhere extends Error {}

export const listProjects = (): Promise<StoredProject[]> =>
  database.projects.orderBy('changedAt').reverse().toArray();

/** Opens a stored project with its meshes. @throws Error with a sentence */
export async function loadProject(id: string): Promise<(OpenedProject & { revision: number }) | undefined> {
  const stored = await database.projects.get(id);
  if (!stored) return undefined;
  const { project, repairs } = readProjectDocument(stored.document);
  const assets = new Map<string, Mesh>();
  const problems = [...repairs];
  for (const asset of project.assets) {
    const kept = await database.meshes.get(asset.id);
    if (kept) assets.set(asset.id, meshFromData(kept.data));
    else problems.push(`The mesh "${asset.name}" is no longer stored in this browser.`);
  }
  return { project, assets, repairs: problems, revision: stored.revision };
}

/** Stores meshes that are not stored yet. */
export async function saveMeshes(assets: Assets): Promise<void> {
  for (const [id, mesh] of assets) {
    if ((await database.meshes.where('id').equals(id).count()) === 0)
      await database.meshes.put({ id, data: meshToData(mesh) });
  }
}

/**
 * Stores a document on top of the revision it was opened with or last saved as.
 * @param base null to store it whatever stands there.
 * @returns the new revision. @throws ChangedElsewhere
 */
export async function saveDocument(
  project: Project,
  base: number | null,
  thumbnail: string | null,
): Promise<number> {
  return database.transaction('rw', database.projects, async () => {
    const stored = await database.projects.get(project.id);
    if (stored && base !== null && stored.revision !== base) throw new ChangedElsewhere();
    const revision = (stored?.revision ?? 0) + 1;
    const picture = thumbnail ?? stored?.thumbnail ?? null;
    await database.projects.put({
      id: project.id,
      name: project.name,
      changedAt: Date.now(),
      revision,
      document: project,
      thumbnail: picture,
    });
    return revision;
  });
}

export async function saveThumbnail(id: string, thumbnail: string): Promise<void> {
  await database.projects.update(id, { thumbnail });
}

/** Removes a project, and the meshes no other project uses. */
export async function removeProject(id: string): Promise<void> {
  await database.transaction('rw', database.projects, database.meshes, async () => {
    await database.projects.delete(id);
    const used = new Set<string>();
    for (const p of await database.projects.toArray())
      for (const a of (p.document as Project).assets ?? []) used.add(a.id);
    const all = await database.meshes.toCollection().primaryKeys();
    await database.meshes.bulkDelete(all.filter((m) => !used.has(m)));
  });
}

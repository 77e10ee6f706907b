import { opened } from '../state/project-slice.ts';
import { saveChanged } from '../state/save-slice.ts';
import type { Store } from '../state/store.ts';
import type { Engine } from '../engine/engine.ts';
import type { Project } from '@umberfish/core';
import { ChangedElsewhere, loadProject, saveDocument, saveMeshes, saveThumbnail } from './database.ts';

const WAIT_IN_MS = 400;

/** Saves every edit by itself, soon after the last change, and tells how it stands. */
export class Autosave {
  private saved: Project | null = null;
  private revision: number | null = null;
  private seen: Project | null = null;
  private timer = 0;
  private busy = false;
  private readonly channel =
    typeof BroadcastChannel === 'undefined' ? null : new BroadcastChannel('umberfish-saves');

  constructor(
    private readonly store: Store,
    private readonly engine: Engine,
  ) {
    store.subscribe(() => this.look());
    this.channel?.addEventListener('message', (event: MessageEvent<{ id: string; revision: number }>) => {
      const { project } = store.getState().project;
      if (project?.id !== event.data.id || this.revision === null || event.data.revision <= this.revision)
        return;
      store.dispatch(saveChanged({ status: 'elsewhere' }));
    });
    window.addEventListener('pagehide', () => void this.flush());
  }

  /** A project was opened from the store (or just put there) at a revision. */
  begin(project: Project, revision: number): void {
    window.clearTimeout(this.timer);
    this.saved = project;
    this.revision = revision;
    this.store.dispatch(saveChanged({ status: 'saved', at: Date.now() }));
  }

  end(): void {
    void this.flush();
    this.revision = null;
    this.saved = null;
  }

  /** Saves now what is not saved. */
  async flush(): Promise<void> {
    window.clearTimeout(this.timer);
    const { project } = this.store.getState().project;
    if (!project || this.revision === null || project === this.saved || this.busy) return;
    if (this.store.getState().save.status === 'elsewhere') return;
    this.busy = true;
    this.store.dispatch(saveChanged({ status: 'saving' }));
    try {
      await saveMeshes(this.engine.getAssets());
      this.revision = await saveDocument(project, this.revision, null);
      this.saved = project;
      this.channel?.postMessage({ id: project.id, revision: this.revision });
      this.store.dispatch(saveChanged({ status: 'saved', at: Date.now() }));
    } catch (error) {
      if (error instanceof ChangedElsewhere) this.store.dispatch(saveChanged({ status: 'elsewhere' }));
      else this.store.dispatch(saveChanged({ status: 'failed', reason: reasonOf(error) }));
    } finally {
      this.busy = false;
    }
    if (this.store.getState().project.project !== this.saved) this.schedule();
  }

  /** Another tab's version wins: opens what is stored. */
  async takeTheirs(): Promise<void> {
    const { project } = this.store.getState().project;
    const found = project ? await loadProject(project.id) : undefined;
    if (!found) return;
    this.engine.open(found.assets);
    this.store.dispatch(opened({ project: found.project, repairs: found.repairs }));
    this.begin(found.project, found.revision);
  }

  /** This tab's version wins: stores it over the other tab's. */
  async keepMine(): Promise<void> {
    const { project } = this.store.getState().project;
    if (!project) return;
    this.revision = await saveDocument(project, null, null);
    this.saved = project;
    this.channel?.postMessage({ id: project.id, revision: this.revision });
    this.store.dispatch(saveChanged({ status: 'saved', at: Date.now() }));
  }

  async keepThumbnail(id: string, picture: string): Promise<void> {
    try {
      await saveThumbnail(id, picture);
    } catch {
      // A missing thumbnail is no loss; the save itself reports what fails.
    }
  }

  private look(): void {
    const { project } = this.store.getState().project;
    // Anything else that changes, such as the frame while playing, must not put the save off.
    if (project === this.seen) return;
    this.seen = project;
    if (project && this.revision !== null && project !== this.saved) this.schedule();
  }

  private schedule(): void {
    if (this.store.getState().save.status === 'elsewhere') return;
    window.clearTimeout(this.timer);
    this.timer = window.setTimeout(() => void this.flush(), WAIT_IN_MS);
  }
}

function reasonOf(error: unknown): string {
  const name = (error as Error).name;
  if (/quota/i.test(name) || /quota/i.test((error as Error).message))
    return 'the browser has no room left for this site';
  if (/InvalidState|Security|MissingAPI|OpenFailed|DatabaseClosed/i.test(name))
    return 'the browser does not let this page store data (a private window?)';
  return (error as Error).message || name;
}

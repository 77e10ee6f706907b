import type { Project } from '@umberfish/core';
import { opened } from '../state/project-slice.ts';
import { saveChanged } from '../state/save-slice.ts';
import type { Store } from '../state/store.ts';
import type { Engine } from '../engine/engine.ts';
import { hearTabs, tellTabs } from './other-tabs.ts';
import { ChangedElsewhere, loadProject, saveProject, saveThumbnail, storageReason, type SaveBase } from './database.ts';

const WAIT_IN_MS = 400;
/** A save that failed is tried again after so long, then after twice as long, and so on up to the last. */
const RETRY_IN_MS = [2000, 30_000] as const;

/**
 * Saves every edit by itself, soon after the last change, and tells how it stands: what is not stored is never called
 * saved. Only one save runs at a time; edits that come meanwhile are saved after it.
 */
export class Autosave {
  /** The document as it was stored last; null when it never was. */
  private saved: Project | null = null;
  private base: SaveBase | null = null;
  private seen: Project | null = null;
  private timer = 0;
  private retry: number = RETRY_IN_MS[0];
  private running: Promise<void> | null = null;

  constructor(
    private readonly store: Store,
    private readonly engine: Engine,
  ) {
    store.subscribe(() => this.look());
    hearTabs((message) => {
      const { base } = this;
      if (this.present?.id !== message.id || typeof base !== 'number') return;
      if ('removed' in message) store.dispatch(saveChanged({ status: 'elsewhere', isRemoved: true }));
      else if (message.revision > base) store.dispatch(saveChanged({ status: 'elsewhere' }));
    });
    // A page that is put away may not come back.
    window.addEventListener('pagehide', () => void this.flush());
    document.addEventListener('visibilitychange', () => document.hidden && void this.flush());
    window.addEventListener('beforeunload', (event) => {
      if (!this.isUnsaved) return;
      void this.flush();
      event.preventDefault();
    });
  }

  private get present(): Project | null {
    return this.store.getState().project.project;
  }

  /** Whether something would be lost if the page closed now. */
  get isUnsaved(): boolean {
    const { present } = this;
    return present !== null && this.base !== null && present !== this.saved;
  }

  /** A project was opened from the store (or just put there) at a revision. */
  begin(project: Project, revision: number): void {
    window.clearTimeout(this.timer);
    this.saved = project;
    this.base = revision;
    this.retry = RETRY_IN_MS[0];
    this.store.dispatch(saveChanged({ status: 'saved', at: Date.now() }));
  }

  /** A project was opened that could not be stored; that is tried again. */
  beginUnstored(reason: string): void {
    this.saved = null;
    this.base = 'nothing';
    this.fail(reason);
  }

  end(): void {
    window.clearTimeout(this.timer);
    this.base = null;
    this.saved = null;
  }

  /** Saves now what is not saved, and waits for what is being saved. @returns whether all is saved after it */
  async flush(): Promise<boolean> {
    window.clearTimeout(this.timer);
    await this.idle();
    if (!this.isUnsaved) return true;
    if (this.store.getState().save.status === 'elsewhere' || this.base === null) return false;
    await this.save(this.base);
    return !this.isUnsaved;
  }

  /** Another tab's version wins: opens what is stored. */
  async takeTheirs(): Promise<void> {
    const project = this.present;
    try {
      const found = project ? await loadProject(project.id) : undefined;
      if (!found) {
        // There is nothing to take: it was removed.
        if (project) this.store.dispatch(saveChanged({ status: 'elsewhere', isRemoved: true }));
        return;
      }
      this.engine.open(found.assets);
      this.store.dispatch(opened({ project: found.project, repairs: found.repairs }));
      this.begin(found.project, found.revision);
    } catch (error) {
      this.store.dispatch(saveChanged({ status: 'elsewhere', reason: storageReason(error) }));
    }
  }

  /** This tab's version wins: stores it, with its meshes, over the other tab's. @returns whether that succeeded */
  async keepMine(): Promise<boolean> {
    await this.idle();
    await this.save('anything');
    return !this.isUnsaved;
  }

  async keepThumbnail(id: string, picture: string): Promise<void> {
    try {
      await saveThumbnail(id, picture);
    } catch {
      // A missing thumbnail is no loss; the save itself reports what fails.
    }
  }

  /** Waits until no save runs. Of several who wait, the first may begin another: the others wait for that too. */
  private async idle(): Promise<void> {
    while (this.running) await this.running;
  }

  /** One save at a time; never rejects. Only to be called when none runs. */
  private save(base: SaveBase): Promise<void> {
    this.running = this.storeOn(base).finally(() => (this.running = null));
    return this.running;
  }

  private async storeOn(base: SaveBase): Promise<void> {
    const project = this.present;
    if (!project || this.base === null) return;
    const wasElsewhere = this.store.getState().save.status === 'elsewhere';
    this.store.dispatch(saveChanged({ status: 'saving' }));
    try {
      const revision = await saveProject(project, this.engine.getAssets(), base);
      tellTabs({ id: project.id, revision });
      // Meanwhile another project may have been opened.
      if (this.present?.id !== project.id || this.base === null) return;
      this.saved = project;
      this.base = revision;
      this.retry = RETRY_IN_MS[0];
      if (this.isUnsaved) this.schedule();
      else this.store.dispatch(saveChanged({ status: 'saved', at: Date.now() }));
    } catch (error) {
      if (this.present?.id !== project.id) return;
      if (error instanceof ChangedElsewhere) this.store.dispatch(saveChanged({ status: 'elsewhere' }));
      else if (wasElsewhere) this.store.dispatch(saveChanged({ status: 'elsewhere', reason: storageReason(error) }));
      else this.fail(storageReason(error));
    }
  }

  private fail(reason: string): void {
    this.store.dispatch(saveChanged({ status: 'failed', reason }));
    window.clearTimeout(this.timer);
    this.timer = window.setTimeout(() => void this.flush(), this.retry);
    this.retry = Math.min(RETRY_IN_MS[1], this.retry * 2);
  }

  private look(): void {
    const project = this.present;
    // Anything else that changes, such as the frame while playing, must not put the save off.
    if (project === this.seen) return;
    this.seen = project;
    if (!this.isUnsaved) {
      // Undone back to what is stored.
      if (project && this.base !== null && !this.running && this.store.getState().save.status === 'unsaved')
        this.store.dispatch(saveChanged({ status: 'saved', at: Date.now() }));
    } else this.schedule();
  }

  private schedule(): void {
    const { status } = this.store.getState().save;
    if (status === 'elsewhere') return;
    if (status !== 'failed') this.store.dispatch(saveChanged({ status: 'unsaved' }));
    window.clearTimeout(this.timer);
    this.timer = window.setTimeout(() => void this.flush(), WAIT_IN_MS);
  }
}

import { wrap, type Remote } from 'comlink';
import type { Mesh, PortRef, Project, Snapshot, Vec3 } from '@umberfish/core';
import {
  evaluationReset,
  grewSlow,
  keeping,
  keptFound,
  pictureShown,
  settled,
  troubled,
  unsettled,
  workerStarted,
} from '../state/evaluation-slice.ts';
import type { Store } from '../state/store.ts';
import type { UiState } from '../state/ui-slice.ts';
import { GeometryStore } from './geometry-store.ts';
import { keepMemory, memoryInBytes } from './memory.ts';
import {
  CONTROL,
  type PictureRequest,
  type WriteRequest,
  type Written,
  type WrittenMotion,
} from './protocol.ts';
import type { History } from './range.ts';
import { requestFor } from './request.ts';
import type { StudioApi } from './worker.ts';

/** A running request is left to finish for so long before a newer one stops it: a quick graph shows every step. */
const PATIENCE_IN_MS = 150;
/** After so long the page says that it works, and offers to stop. */
const SLOW_AFTER_MS = 400;
/** A worker that gives no sign of life for so long is taken for lost. */
const LOST_AFTER_MS = 15_000;
/** So long after the picture came to rest it is looked which frames are kept. */
const KEPT_AFTER_MS = 300;

/** What of the interface decides what is evaluated. */
const ASKING = ['graph', 'nodes', 'port', 'tableOn', 'frame', 'pinA', 'pinB', 'onlyChanged', 'differenceNeedles', 'paint'] as const; // prettier-ignore
type UiPart = Pick<UiState, (typeof ASKING)[number]>;

/**
 * Keeps the picture up with the document: asks the worker for what the screen shows, one request at a time, the
 * latest wins; restarts the worker when it breaks or hangs. The document never goes through here, so it is safe.
 */
export class Engine {
  readonly geometry = new GeometryStore();
  private worker: Worker | null = null;
  private studio: Remote<StudioApi> | null = null;
  private readonly control: Int32Array | null;
  private readonly assets = new Map<string, Mesh>();
  private sentProject: Project | null = null;
  private running: { id: number; since: number } | null = null;
  private pending = false;
  /** Files being written; the worker is then busy without giving signs of life. */
  private writing = 0;
  private nextId = 1;
  private seen: { project: Project | null; ui: UiPart | null } = { project: null, ui: null };
  private slowTimer = 0;
  private keptTimer = 0;
  /** After a breakdown nothing is evaluated until the document changes. */
  private halted = false;

  constructor(private readonly store: Store) {
    const shares = typeof SharedArrayBuffer !== 'undefined' && self.crossOriginIsolated;
    this.control = shares ? new Int32Array(new SharedArrayBuffer(CONTROL.size * 4)) : null;
    this.startWorker();
    store.subscribe(() => this.look());
  }

  /** Meshes of a newly opened project. */
  open(assets: ReadonlyMap<string, Mesh>): void {
    this.assets.clear();
    this.geometry.clear();
    this.store.dispatch(evaluationReset());
    this.seen = { project: null, ui: null };
    this.halted = false;
    this.restart();
    for (const [id, mesh] of assets) this.addAsset(id, mesh);
  }

  addAsset(id: string, mesh: Mesh): void {
    this.assets.set(id, mesh);
    void this.studio?.setAsset(id, mesh);
  }

  /** How much memory results may take, from now on and in this browser. */
  setMemory(gigabytes: number): void {
    keepMemory(gigabytes);
    void this.studio?.setBudget(gigabytes * 1e9);
  }

  getAssets(): ReadonlyMap<string, Mesh> {
    return this.assets;
  }

  /** Rows of the table, or null when there is none. */
  rows(first: number, count: number, sort: { column: number; descending: boolean } | null) {
    return this.studio?.rows(first, count, sort) ?? Promise.resolve(null);
  }

  rowOf(element: number, sort: { column: number; descending: boolean } | null) {
    return this.studio?.rowOf(element, sort) ?? Promise.resolve(element);
  }

  /** What an output is over a range of frames; null when a newer picture came first. */
  async history(ref: PortRef, first: number, last: number): Promise<History | null> {
    return (await this.studio?.history(ref, first, last)) ?? null;
  }

  changePoints(
    asset: string,
    points: readonly number[],
    how: 'grow' | 'shrink' | 'invert',
  ): Promise<number[]> {
    return this.studio?.changePoints(asset, points, how) ?? Promise.resolve([...points]);
  }

  /** Evaluates the whole range ahead, so that it plays at once. */
  async keepRange(): Promise<void> {
    const { project, ui } = this.store.getState();
    if (!project.project || !this.studio) return;
    const { first, last } = project.project.range;
    const { wanted } = requestFor(project.project, ui, 0);
    this.store.dispatch(keeping(true));
    try {
      await this.studio.keepRange(wanted, first, last);
    } finally {
      this.store.dispatch(keeping(false));
    }
    await this.lookForKept();
  }

  /** Looks which frames of the range are kept. */
  private async lookForKept(): Promise<void> {
    const { project, ui } = this.store.getState();
    if (!project.project || !this.studio || this.running) return;
    const { first, last } = project.project.range;
    const frames = await this.studio.keptFrames(requestFor(project.project, ui, 0).wanted, first, last);
    if (project.project === this.store.getState().project.project) this.store.dispatch(keptFound(frames));
  }

  /** Elements of the table whose value in a column lies within a range. */
  within(column: number, from: number, to: number): Promise<number[]> {
    return this.studio?.within(column, from, to) ?? Promise.resolve([]);
  }

  /** The table as CSV, or null when there is none. */
  csv(sort: { column: number; descending: boolean } | null) {
    return this.studio?.csv(sort) ?? Promise.resolve(null);
  }

  /** Writes the motion of objects over the range. @throws Error with a sentence */
  async writeObjects(
    project: Project,
    ids: readonly string[],
    format: 'glb' | 'csv',
  ): Promise<WrittenMotion> {
    if (!this.studio) throw new Error('The evaluation is being started anew. Try again in a moment.');
    this.writing++;
    try {
      return await this.studio.writeObjects(project, ids, format);
    } finally {
      this.writing--;
    }
  }

  /** Where everything a constraint reads stands; undefined when something is missing. */
  snapshot(project: Project, frame: number, node: string): Promise<Snapshot | undefined> {
    return this.studio?.snapshot(project, frame, node) ?? Promise.resolve(undefined);
  }

  /** Where on a result at rest a place lies that is on it now. */
  placeAtRest(project: Project, frame: number, node: string, place: Vec3): Promise<Vec3> {
    return this.studio?.placeAtRest(project, frame, node, place) ?? Promise.resolve(place);
  }

  /** World matrices of objects over frames; null while the worker is started anew. */
  async worlds(
    project: Project,
    objects: readonly string[],
    frames: readonly number[],
  ): Promise<Float64Array | null> {
    return (await this.studio?.worlds(project, objects, frames)) ?? null;
  }

  /** Evaluates a result and writes it to a file's content. @throws Error with a sentence */
  async write(request: WriteRequest): Promise<Written> {
    if (!this.studio) throw new Error('The evaluation is being started anew. Try again in a moment.');
    this.writing++;
    try {
      return await this.studio.write(request);
    } finally {
      this.writing--;
    }
  }

  /** Stops what runs; the picture stays as it is until something changes. */
  stop(): void {
    if (!this.running) return;
    this.halted = true;
    this.pending = false;
    this.cancel();
    const id = this.running.id;
    this.store.dispatch(
      troubled('Stopped. The picture is older than the document; change anything to evaluate again.'),
    );
    window.setTimeout(() => {
      if (this.running?.id === id)
        this.revive(
          'The evaluation did not stop when asked, so the worker was started anew. Nothing is lost; change anything to evaluate again.',
        );
    }, 1000);
  }

  /** Evaluates again after a stop or breakdown, or once while paused. */
  resume(): void {
    this.halted = false;
    this.store.dispatch(troubled(null));
    this.ask();
  }

  private startWorker(): void {
    this.worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' });
    this.worker.addEventListener('error', (event) => {
      event.preventDefault();
      this.revive(
        `The evaluation broke (${event.message || 'the worker ended'}). It was started anew and nothing is lost; change anything to try again.`,
      );
    });
    this.studio = wrap<StudioApi>(this.worker);
    void this.studio.start(this.control, memoryInBytes());
    for (const [id, mesh] of this.assets) void this.studio.setAsset(id, mesh);
    this.sentProject = null;
    this.store.dispatch(workerStarted());
  }

  private restart(): void {
    this.worker?.terminate();
    this.running = null;
    window.clearTimeout(this.slowTimer);
    this.geometry.forget();
    this.pending = false;
    this.startWorker();
  }

  private revive(reason: string): void {
    // What broke it would break it again: nothing is evaluated until the document changes or someone asks.
    const { project, ui } = this.store.getState();
    this.seen = { project: project.project, ui };
    this.halted = true;
    this.restart();
    this.store.dispatch(troubled(reason));
  }

  private look(): void {
    const { project, ui } = this.store.getState();
    const before = this.seen;
    const seen = before.ui;
    const sameUi = seen !== null && ASKING.every((k) => seen[k] === ui[k]);
    if (before.project === project.project && sameUi) return;
    const edited = before.project !== project.project;
    this.seen = { project: project.project, ui };
    if (!project.project) return;
    if (ui.paused) {
      this.store.dispatch(unsettled());
      return;
    }
    if (this.halted && !edited) return;
    this.halted = false;
    this.ask();
  }

  private ask(): void {
    this.store.dispatch(unsettled());
    if (this.running) {
      this.pending = true;
      const left = PATIENCE_IN_MS - (performance.now() - this.running.since);
      const { id } = this.running;
      if (left <= 0) this.cancel();
      else window.setTimeout(() => this.pending && this.running?.id === id && this.cancel(), left);
      return;
    }
    void this.run();
  }

  private cancel(): void {
    const newest = this.nextId;
    if (this.control) Atomics.store(this.control, CONTROL.newest, newest);
    else void this.studio?.announce(newest);
  }

  private async run(): Promise<void> {
    const { project, ui } = this.store.getState();
    if (!project.project || !this.studio) return;
    const id = this.nextId++;
    const request: PictureRequest = {
      ...requestFor(project.project, ui, id),
      project: this.sentProject === project.project ? null : project.project,
    };
    this.sentProject = project.project;
    this.running = { id, since: performance.now() };
    this.pending = false;
    if (this.control) Atomics.store(this.control, CONTROL.newest, id);
    this.watch(id);
    const { studio } = this;
    try {
      const picture = await studio.draw(request);
      if (studio !== this.studio) return;
      if (picture && picture.id > this.store.getState().evaluation.shown) {
        this.geometry.accept(picture);
        const { reports, statistics, costInMs } = picture;
        this.store.dispatch(pictureShown({ request: id, reports, statistics, frameCostInMs: costInMs }));
      }
    } catch (error) {
      if (studio === this.studio)
        this.revive(
          `The evaluation broke (${(error as Error).message}). It was started anew and nothing is lost; change anything to try again.`,
        );
      return;
    }
    window.clearTimeout(this.slowTimer);
    this.running = null;
    if (this.pending) return void this.run();
    this.store.dispatch(settled());
    window.clearTimeout(this.keptTimer);
    this.keptTimer = window.setTimeout(() => void this.lookForKept(), KEPT_AFTER_MS);
  }

  /** How many nodes of the running evaluation are done; undefined where it cannot be told. */
  progress(): { done: number; all: number } | undefined {
    if (!this.control || !this.running) return undefined;
    const [done, all] = [CONTROL.done, CONTROL.all].map((word) =>
      Atomics.load(this.control as Int32Array, word),
    );
    return all > 0 ? { done, all } : undefined;
  }

  /** Says when a request takes long, and gives the worker up when it shows no sign of life. */
  private watch(id: number): void {
    window.clearTimeout(this.slowTimer);
    let beats = -1;
    const look = () => {
      if (this.running?.id !== id) return;
      if (!this.store.getState().evaluation.slow) this.store.dispatch(grewSlow());
      const now = this.control ? Atomics.load(this.control, CONTROL.beats) : -1;
      if (
        this.control &&
        this.writing === 0 &&
        now === beats &&
        performance.now() - this.running.since > LOST_AFTER_MS
      ) {
        this.revive(
          'The evaluation gave no sign of life for 15 seconds, so it was stopped and started anew. Nothing is lost; change anything to try again.',
        );
        return;
      }
      beats = now;
      this.slowTimer = window.setTimeout(look, LOST_AFTER_MS);
    };
    this.slowTimer = window.setTimeout(look, SLOW_AFTER_MS);
  }
}

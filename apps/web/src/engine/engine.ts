import type { Remote } from 'comlink';
import {
  differenceOf,
  type ContactReport,
  type Mesh,
  type PortRef,
  type Project,
  type Snapshot,
  type Standing,
  type Vec3,
} from '@umberfish/core';
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
import { CONTROL, type PictureRequest, type WriteRequest, type Written } from './protocol.ts';
import type { Paintable, PaintAsked } from './paint-desk.ts';
import type { History } from './range.ts';
import { isLetRun, letRun } from './patience.ts';
import { LAST_PART, partOf, requestFor } from './request.ts';
import type { StudioApi } from './worker.ts';
import { WorkerLine, WorkerLost } from './worker-line.ts';

/** A running request is left to finish for so long before a newer one stops it: a quick graph shows every step. */
const PATIENCE_IN_MS = 150;
/** After so long the page says that it works, and offers to stop. */
const SLOW_AFTER_MS = 400;
/** So long after the picture came to rest it is looked which frames are kept. */
const KEPT_AFTER_MS = 300;

/** Of a longer range only the first frames are kept ahead. */
const MOST_KEPT = 2000;

/** The frames of a project that are kept ahead. */
export function keepable({ range: { first, last } }: Project): { first: number; last: number; all: boolean } {
  const most = first + MOST_KEPT - 1;
  return { first, last: Math.min(last, most), all: last <= most };
}

/** What of the interface decides what is evaluated. */
const ASKING = [
  'graph',
  'nodes',
  'port',
  'tableOn',
  'frame',
  'pinA',
  'pinB',
  'onlyChanged',
  'differenceNeedles',
  'paint',
  'painting',
  'shading',
  'hovered',
  'animating',
] as const satisfies readonly (keyof UiState)[];

/** All of it that matters now: ghosts of other frames are of what is picked, while nothing plays. */
const askedBy = (ui: UiState): readonly unknown[] => [
  ...ASKING.map((k) => ui[k]),
  ...(ui.animating && ui.ghosts.before + ui.ghosts.after > 0 ? [ui.ghosts, ui.objects, ui.playing] : []),
];

/**
 * Keeps the picture up with the document: asks the worker for what the screen shows, one request at a time, the
 * latest wins; restarts the worker when it breaks or hangs. The document never goes through here, so it is safe.
 */
export class Engine {
  readonly geometry = new GeometryStore();
  private readonly control: Int32Array | null;
  private line: WorkerLine;
  private readonly assets = new Map<string, Mesh>();
  private sentProject: Project | null = null;
  private running: { id: number; since: number } | null = null;
  private pending = false;
  private nextId = 1;
  private seen: { project: Project | null; ui: UiState | null } = { project: null, ui: null };
  private slowTimer = 0;
  private keptTimer = 0;
  /** After a breakdown nothing is evaluated until the document changes. */
  private halted = false;
  /** How much of a project that was opened is drawn so far. */
  private part = 0;

  constructor(private readonly store: Store) {
    const shares = typeof SharedArrayBuffer !== 'undefined' && self.crossOriginIsolated;
    this.control = shares ? new Int32Array(new SharedArrayBuffer(CONTROL.size * 4)) : null;
    this.line = this.newLine();
    store.dispatch(workerStarted());
    store.subscribe(() => this.look());
  }

  /** Meshes of a newly opened project. */
  open(assets: ReadonlyMap<string, Mesh>): void {
    this.assets.clear();
    for (const [id, mesh] of assets) this.assets.set(id, mesh);
    this.geometry.clear();
    // Nothing is asked for until the document is there that goes with them.
    const { project, ui } = this.store.getState();
    this.seen = { project: project.project, ui };
    this.store.dispatch(evaluationReset());
    this.halted = false;
    this.part = 0;
    this.restart();
  }

  addAsset(id: string, mesh: Mesh): void {
    this.assets.set(id, mesh);
    this.line.tell((s) => s.setAsset(id, mesh));
  }

  /** How much memory results may take, from now on and in this browser. */
  setMemory(gigabytes: number): void {
    keepMemory(gigabytes);
    this.line.tell((s) => s.setBudget(gigabytes * 1e9));
  }

  getAssets(): ReadonlyMap<string, Mesh> {
    return this.assets;
  }

  /** Asks for something where nothing is to be said when the worker is lost: the page tells that by itself. */
  private askQuietly<T, F>(work: (studio: Remote<StudioApi>) => Promise<T>, otherwise: F): Promise<T | F> {
    return this.line.ask(work).catch((error: unknown) => {
      if (error instanceof WorkerLost) return otherwise;
      throw error;
    });
  }

  /** Rows of the table, or null when there is none. */
  rows(first: number, count: number, sort: { column: number; descending: boolean } | null) {
    return this.askQuietly((s) => s.rows(first, count, sort), null);
  }

  rowOf(element: number, sort: { column: number; descending: boolean } | null) {
    return this.askQuietly((s) => s.rowOf(element, sort), element);
  }

  /** What an output is over a range of frames; null when a newer picture came first. */
  history(ref: PortRef, first: number, last: number): Promise<History | null> {
    return this.askQuietly((s) => s.history(ref, first, last), null);
  }

  /** What the contacts of a node do over a range of frames; null when a newer picture came first. */
  contacts(node: string, first: number, last: number): Promise<ContactReport | null> {
    return this.askQuietly((s) => s.contacts(node, first, last), null);
  }

  changePoints(asset: string, points: readonly number[], how: 'grow' | 'shrink' | 'invert'): Promise<number[]> {
    return this.askQuietly((s) => s.changePoints(asset, points, how), [...points]);
  }

  /** Evaluates the whole range ahead, so that it plays at once. */
  async keepRange(): Promise<void> {
    const { project, ui } = this.store.getState();
    if (!project.project) return;
    const { first, last } = keepable(project.project);
    const { wanted } = requestFor(project.project, ui, 0);
    this.store.dispatch(keeping(true));
    try {
      await this.askQuietly((s) => s.keepRange(wanted, first, last), false);
    } finally {
      this.store.dispatch(keeping(false));
    }
    await this.lookForKept();
  }

  /** Looks which frames of the range are kept. */
  private async lookForKept(): Promise<void> {
    const { project, ui } = this.store.getState();
    if (!project.project || this.running) return;
    const { first, last } = keepable(project.project);
    const { wanted } = requestFor(project.project, ui, 0);
    const frames = await this.askQuietly((s) => s.keptFrames(wanted, first, last), []);
    if (project.project === this.store.getState().project.project) this.store.dispatch(keptFound(frames));
  }

  /** Elements of the table whose value in a column lies within a range. */
  within(column: number, from: number, to: number): Promise<number[]> {
    return this.askQuietly((s) => s.within(column, from, to), []);
  }

  /** The table as CSV, or null when there is none. */
  csv(sort: { column: number; descending: boolean } | null) {
    return this.askQuietly((s) => s.csv(sort), null);
  }

  /** Writes the motion of objects over the range. @throws Error with a sentence */
  writeObjects(project: Project, ids: readonly string[], format: 'glb' | 'csv', stem: string): Promise<Written> {
    return this.line.ask((s) => s.writeObjects(project, ids, format, stem), true);
  }

  /** Where everything a constraint reads stands; undefined when something is missing. @throws Error with a sentence */
  snapshot(project: Project, frame: number, node: string, standing?: Standing): Promise<Snapshot | undefined> {
    return this.line.ask((s) => s.snapshot(project, frame, node, standing));
  }

  /** What an output is as a mesh by itself; undefined where it is none. @throws Error with a sentence */
  meshOf(project: Project, frame: number, ref: PortRef): Promise<{ id: string; mesh: Mesh } | undefined> {
    return this.line.ask((s) => s.meshOf(project, frame, ref));
  }

  /** What a brush has to know of an output; undefined where it is no mesh. */
  paintable(frame: number, ref: PortRef, asked: PaintAsked): Promise<Paintable | undefined> {
    return this.askQuietly((s) => s.paintable(frame, ref, asked), undefined);
  }

  /** Where on a result at rest a place lies that is on it now. @throws Error with a sentence */
  placeAtRest(project: Project, frame: number, node: string, place: Vec3): Promise<Vec3> {
    return this.line.ask((s) => s.placeAtRest(project, frame, node, place));
  }

  /** World matrices of objects over frames. @throws Error with a sentence */
  worlds(project: Project, objects: readonly string[], frames: readonly number[]): Promise<Float64Array> {
    return this.line.ask((s) => s.worlds(project, objects, frames));
  }

  /** Evaluates a result and writes it to a file's content. @throws Error with a sentence */
  write(request: WriteRequest): Promise<Written> {
    return this.line.ask((s) => s.write(request), true);
  }

  /** Stops what runs; the picture stays as it is until something changes. */
  stop(): void {
    if (!this.running) return;
    this.halted = true;
    this.pending = false;
    this.cancel();
    const id = this.running.id;
    this.store.dispatch(troubled('Stopped. The picture is older than the document; change anything to evaluate again.'));
    window.setTimeout(() => {
      if (this.running?.id !== id) return;
      // What was changed meanwhile is evaluated at once.
      const isNewer = this.pending;
      this.revive(
        'The evaluation did not stop when asked, so the worker was started anew. Nothing is lost; change anything to evaluate again.',
      );
      if (isNewer) this.resume();
    }, 1000);
  }

  /** Evaluates again after a stop or breakdown, or once while paused. */
  resume(): void {
    this.halted = false;
    this.store.dispatch(troubled(null));
    this.askForPicture();
  }

  private newLine(): WorkerLine {
    const line = new WorkerLine(
      this.control,
      memoryInBytes(),
      (reason, wasSilent) => this.revive(reason, wasSilent),
      () => this.isPatient(),
    );
    for (const [id, mesh] of this.assets) line.tell((s) => s.setAsset(id, mesh));
    this.sentProject = null;
    return line;
  }

  private restart(): void {
    this.line.end();
    this.running = null;
    window.clearTimeout(this.slowTimer);
    this.geometry.forget();
    this.pending = false;
    this.line = this.newLine();
    // Only now: whoever hears of it asks the new one.
    this.store.dispatch(workerStarted());
  }

  /** Whether what is open may take as long as it likes for a step. */
  private isPatient(): boolean {
    const { project, ui } = this.store.getState();
    return project.project !== null && ui.graph !== null && isLetRun(project.project.id, ui.graph);
  }

  /** Evaluates again after a step took too long, and lets the open graph take its time from now on. */
  goOn(): void {
    const { project, ui } = this.store.getState();
    if (project.project && ui.graph !== null) letRun(project.project.id, ui.graph);
    this.resume();
  }

  private revive(reason: string, wasSilent = false): void {
    // What broke it would break it again: nothing is evaluated until the document changes or someone asks.
    const { project, ui } = this.store.getState();
    this.seen = { project: project.project, ui };
    this.halted = true;
    this.restart();
    this.store.dispatch(troubled(reason, wasSilent));
  }

  private look(): void {
    const { project, ui } = this.store.getState();
    const before = this.seen;
    // Most of what the page does asks for nothing.
    if (before.project === project.project && before.ui === ui) return;
    const [was, asked] = [before.ui ? askedBy(before.ui) : null, askedBy(ui)];
    const sameUi = was !== null && was.length === asked.length && was.every((v, i) => v === asked[i]);
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
    this.askForPicture();
  }

  private askForPicture(): void {
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
    else this.line.tell((s) => s.announce(newest));
  }

  /** What the worker has to be sent to have a document: an edit travels as what it changed. */
  private toSend(project: Project): PictureRequest['project'] {
    const sent = this.sentProject;
    if (sent === project) return null;
    return sent ? { difference: differenceOf(sent, project) } : { whole: project };
  }

  private async run(): Promise<void> {
    const { project, ui } = this.store.getState();
    if (!project.project) return;
    const id = this.nextId++;
    const request: PictureRequest = {
      ...partOf(requestFor(project.project, ui, id), project.project, ui.graph, this.part),
      project: this.toSend(project.project),
      ...(project.gesture !== null && { gesture: `${project.past.length} ${project.gesture}` }),
    };
    this.sentProject = project.project;
    this.running = { id, since: performance.now() };
    this.pending = false;
    if (this.control) Atomics.store(this.control, CONTROL.newest, id);
    this.watch(id);
    const { line } = this;
    try {
      const picture = await line.ask((s) => s.draw(request));
      if (line !== this.line) return;
      if (picture && picture.id > this.store.getState().evaluation.shown) {
        this.geometry.accept(picture);
        const { reports, statistics, costInMs } = picture;
        this.store.dispatch(pictureShown({ request: id, reports, statistics, frameCostInMs: costInMs }));
      }
    } catch (error) {
      if (line === this.line)
        this.revive(
          `The evaluation broke (${(error as Error).message}). It was started anew and nothing is lost; change anything to try again.`,
        );
      return;
    }
    window.clearTimeout(this.slowTimer);
    this.running = null;
    const isWhole = this.part >= LAST_PART;
    this.part = Math.min(LAST_PART, this.part + 1);
    if (this.pending || !isWhole) return void this.run();
    this.store.dispatch(settled());
    window.clearTimeout(this.keptTimer);
    this.keptTimer = window.setTimeout(() => void this.lookForKept(), KEPT_AFTER_MS);
  }

  /** How many nodes of the running evaluation are done; undefined where it cannot be told. */
  progress(): { done: number; all: number } | undefined {
    if (!this.control || !this.running) return undefined;
    const [done, all] = [CONTROL.done, CONTROL.all].map((word) => Atomics.load(this.control as Int32Array, word));
    return all > 0 ? { done, all } : undefined;
  }

  /** Says when a picture takes long. */
  private watch(id: number): void {
    window.clearTimeout(this.slowTimer);
    this.slowTimer = window.setTimeout(() => this.running?.id === id && this.store.dispatch(grewSlow()), SLOW_AFTER_MS);
  }
}

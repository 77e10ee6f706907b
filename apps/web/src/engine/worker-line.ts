import { releaseProxy, wrap, type Remote } from 'comlink';
import { CONTROL } from './protocol.ts';
import type { StudioApi } from './worker.ts';

/** A worker that is busy with one thing and gives no sign of life for so long is taken for lost. */
const LOST_AFTER_MS = 15_000;
/** The same while it writes a file, which it cannot tell the steps of. */
const LOST_WRITING_AFTER_MS = 60_000;
const LOOK_EVERY_MS = 1000;

/** The worker was lost, or given up, while something was asked of it. */
export class WorkerLost extends Error {
  constructor() {
    super('The evaluation ended before this was done. It was started anew and nothing is lost; try again.');
  }
}

type Work<T> = (studio: Remote<StudioApi>) => Promise<T>;

/**
 * A worker and the line to it, from its start to its end. Everything that is asked of it ends: with the result, or with
 * `WorkerLost`. That the worker is gone is noticed at once; that it hangs, when it has shown no sign of life for long.
 */
export class WorkerLine {
  private readonly worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' });
  private readonly studio = wrap<StudioApi>(this.worker);
  private readonly asked = new Set<{ readonly writes: boolean }>();
  private readonly watching = new AbortController();
  private readonly gone: Promise<never>;
  private giveUp: (why: WorkerLost) => void = () => {};
  private hasEnded = false;
  private timer = 0;

  /**
   * @param control shared words by which the worker shows signs of life, or null.
   * @param lost is told, once, why the worker is lost, in a sentence, and whether it was given up because it was silent;
   *   the line has then ended.
   * @param isPatient whether it may be silent for as long as it likes.
   */
  constructor(
    private readonly control: Int32Array | null,
    memoryInBytes: number,
    private readonly lost: (reason: string, wasSilent: boolean) => void,
    private readonly isPatient: () => boolean,
  ) {
    this.gone = new Promise((_, reject) => (this.giveUp = reject));
    // Whoever asks for something waits for this too; nobody may be asking.
    this.gone.catch(() => {});
    this.worker.addEventListener('error', (event) => {
      event.preventDefault();
      this.broke(event.message || 'the worker ended');
    });
    this.worker.addEventListener('messageerror', () => this.broke('an answer could not be read'));
    // The worker holds a lock as long as it lives: when the page gets it, the worker is gone, whatever it was doing.
    const lock = `umberfish-worker-${crypto.randomUUID()}`;
    const { signal } = this.watching;
    void this.ask((s) => s.start(control, memoryInBytes, lock))
      .then(() => navigator.locks?.request(lock, { signal }, () => void setTimeout(() => this.broke('the worker ended'))))
      .catch(() => {});
  }

  /** @throws WorkerLost, or what the worker throws: an Error with a sentence */
  async ask<T>(work: Work<T>, writes = false): Promise<T> {
    const request = { writes };
    this.asked.add(request);
    if (this.asked.size === 1) this.watch();
    try {
      return await Promise.race([work(this.studio), this.gone]);
    } finally {
      this.asked.delete(request);
    }
  }

  /** Tells it something that is not worth a word when it is lost. */
  tell(work: Work<void>): void {
    void this.ask(work).catch(() => {});
  }

  /** Ends the worker, and everything that is asked of it. */
  end(): void {
    if (this.hasEnded) return;
    this.hasEnded = true;
    this.watching.abort();
    window.clearTimeout(this.timer);
    // Else the line and the worker would hold one another for good.
    this.studio[releaseProxy]();
    this.worker.terminate();
    this.giveUp(new WorkerLost());
  }

  private broke(what: string): void {
    this.lose(`The evaluation broke (${what}). It was started anew and nothing is lost; change anything to try again.`, false);
  }

  private lose(reason: string, wasSilent: boolean): void {
    if (this.hasEnded) return;
    this.end();
    this.lost(reason, wasSilent);
  }

  /** Without shared memory it cannot be told how far a worker is; that it ended is heard all the same. */
  private watch(): void {
    const { control } = this;
    if (!control) return;
    window.clearTimeout(this.timer);
    let beats = -1;
    let since = performance.now();
    const look = () => {
      if (this.asked.size === 0) return;
      const now = Atomics.load(control, CONTROL.beats);
      if (now !== beats) since = performance.now();
      beats = now;
      const most = [...this.asked].some((a) => a.writes) ? LOST_WRITING_AFTER_MS : LOST_AFTER_MS;
      if (performance.now() - since > most && !this.isPatient())
        this.lose(
          `One step took more than ${most / 1000} seconds, so the evaluation was stopped. Nothing is lost: let it go on for as long as it takes, or change anything to try again.`,
          true,
        );
      else this.timer = window.setTimeout(look, LOOK_EVERY_MS);
    };
    this.timer = window.setTimeout(look, LOOK_EVERY_MS);
  }
}

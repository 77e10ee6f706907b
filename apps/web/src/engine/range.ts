import { Cancelled, statisticsOf, type Evaluation, type Evaluator, type PortRef, type Project } from '@umberfish/core';

/** What a value was at each frame of a range: by component, vectors by length. */
export interface History {
  readonly frames: number[];
  readonly minimum: number[];
  readonly mean: number[];
  readonly maximum: number[];
}

/** Lets messages in, so that a picture that is asked for meanwhile comes first. */
const breathe = () => new Promise((resolve) => setTimeout(resolve, 0));

export interface RangeWork {
  readonly evaluator: Evaluator;
  readonly project: Project;
  readonly wanted: readonly PortRef[];
  readonly first: number;
  readonly last: number;
  readonly step: number;
  /** Whether it is still wanted. */
  goesOn(): boolean;
}

/** Evaluates the frames of a range, one at a time; what came of each is given to `take`. @returns whether it finished */
export async function overRange(work: RangeWork, take: (frame: number, e: Evaluation) => void): Promise<boolean> {
  const { evaluator, project, wanted } = work;
  const checkpoint = () => {
    if (!work.goesOn()) throw new Cancelled();
  };
  for (let frame = work.first; frame <= work.last; frame += work.step) {
    await breathe();
    try {
      checkpoint();
      take(frame, evaluator.evaluate({ project, frame, wanted, purpose: 'history', checkpoint }));
    } catch (error) {
      if (error instanceof Cancelled) return false;
      throw error;
    }
  }
  return true;
}

/** Adds what a value is at a frame. */
export function addToHistory(history: History, frame: number, evaluation: Evaluation, ref: PortRef): void {
  const value = evaluation.value(ref);
  if (!value || value.kind === 'matrix') return;
  const s = statisticsOf(value, 1);
  const one = s.minimum.length === 1;
  history.frames.push(frame);
  history.minimum.push(one ? s.minimum[0] : s.histogramFrom);
  history.maximum.push(one ? s.maximum[0] : s.histogramTo);
  history.mean.push(one ? s.mean[0] : Math.hypot(...s.mean));
}

/** A history as CSV. */
export async function historyToCsv(h: History): Promise<string> {
  const { writeCsv } = await import('@umberfish/formats');
  return writeCsv(
    ['frame', 'minimum', 'mean', 'maximum'],
    h.frames.map((f, i) => [f, h.minimum[i], h.mean[i], h.maximum[i]]),
  );
}

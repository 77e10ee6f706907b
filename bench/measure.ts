export type Work = () => unknown;

/** A line to be measured: two pieces of work and what their ratio should reach. */
export interface Trial {
  name: string;
  ours: Work;
  reference: Work;
  /** `lower`: the ratio is ours ÷ reference; `higher`: reference ÷ ours (how many times faster we are). */
  better: 'lower' | 'higher';
  target: number;
  rounds: number;
}

/** One line of the report: our time against a reference's, in one run. */
export interface Result {
  name: string;
  /** Milliseconds, the best of the rounds. */
  ours: number;
  reference: number;
  ratio: number;
  /** Whether a lower or a higher ratio is better, and what it should reach. */
  better: 'lower' | 'higher';
  target: number;
  ok: boolean;
  /** In how many processes it was measured; this is the best of each side. */
  tries: number;
}

/** Contents the optimiser must not remove. */
export const sink = { value: 0 };

/** What this measures finer than is chance: the best of a set of rounds is another by so much at the next. */
const FINEST = 0.01;

/** How many times the rounds are taken again while a best is still getting better. */
const AGAIN = 3;

/**
 * The best milliseconds of two pieces of work done in turn, so that a machine that drifts drifts for both. A busy machine
 * can only add time, so the best is what each would take on a quiet one: rounds go on, up to {@link AGAIN} times as many,
 * until a whole set of them has bettered neither by 1 %.
 */
export async function bestOf(one: Work, other: Work, rounds: number): Promise<[number, number]> {
  const best: [number, number] = [Infinity, Infinity];
  const time = async (work: Work, which: 0 | 1) => {
    const before = performance.now();
    const done = work();
    if (done instanceof Promise) await done;
    best[which] = Math.min(best[which], performance.now() - before);
  };
  for (let set = 0; set < AGAIN; set++) {
    const [a, b] = best;
    for (let i = 0; i < rounds; i++) {
      await time(one, 0);
      await time(other, 1);
    }
    if (best[0] > (1 - FINEST) * a && best[1] > (1 - FINEST) * b) break;
  }
  return best;
}

/** A trial from its parts; see {@link Trial}. */
export const compare = (
  name: string,
  ours: Work,
  reference: Work,
  better: Trial['better'],
  target: number,
  rounds = 15,
): Trial => ({ name, ours, reference, better, target, rounds });

/** The line of the report that a trial comes to. */
export async function measure(trial: Trial): Promise<Result> {
  const [ours, reference] = await bestOf(trial.ours, trial.reference, trial.rounds);
  return resultOf(trial, ours, reference, 1);
}

/** The line of the report for the best times of both sides, in so many processes. */
export function resultOf(
  { name, better, target }: Pick<Trial, 'name' | 'better' | 'target'>,
  ours: number,
  reference: number,
  tries: number,
): Result {
  const ratio = better === 'lower' ? ours / reference : reference / ours;
  const ok = better === 'lower' ? ratio <= target * (1 + FINEST) : ratio >= target * (1 - FINEST);
  return { name, ours, reference, ratio, better, target, ok, tries };
}

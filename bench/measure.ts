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
}

/** Contents the optimiser must not remove. */
export const sink = { value: 0 };

/**
 * Times two pieces of work in turn, so that a machine that drifts drifts for both, and takes the best of each.
 * @param better `lower`: the ratio is ours ÷ reference; `higher`: reference ÷ ours (how many times faster we are).
 */
export function compare(
  name: string,
  ours: () => void,
  reference: () => void,
  better: 'lower' | 'higher',
  target: number,
  rounds = 15,
): Result {
  let a = Infinity;
  let b = Infinity;
  const time = (work: () => void) => {
    const before = performance.now();
    work();
    return performance.now() - before;
  };
  for (let i = 0; i < rounds; i++) {
    a = Math.min(a, time(ours));
    b = Math.min(b, time(reference));
  }
  const ratio = better === 'lower' ? a / b : b / a;
  return {
    name,
    ours: a,
    reference: b,
    ratio,
    better,
    target,
    ok: better === 'lower' ? ratio <= target : ratio >= target,
  };
}

import { isSameProblem, type Problem } from '../node/problems.ts';
import type { PortSummary } from './cache.ts';
import { summariesOf } from './entry.ts';
import { bitOf } from './outline.ts';
import type { Plan } from './plan.ts';
import type { Store } from './store.ts';

/** What a card shows of its node. */
export interface NodeReport {
  readonly node: string;
  readonly costInMs: number;
  /** Nodes run as one chain with it, 1 when alone. */
  readonly chained: number;
  /** Whether this evaluation computed it, or took it from what was kept. */
  readonly fresh: boolean;
  readonly failed: boolean;
  readonly problems: readonly Problem[];
  readonly outputs: Readonly<Record<string, PortSummary>>;
}

/**
 * What cards show of the units of a plan; those of one node together. A problem of some outputs is told while somebody
 * reads one of them, whether or not it had to be worked out just now.
 */
export function reportsOf(plan: Plan, store: Store): ReadonlyMap<string, NodeReport> {
  const reports = new Map<string, NodeReport>();
  const { read } = plan.flat;
  for (let i = 0; i < plan.count; i++) {
    const planned = plan.unit(i);
    const entry = store.get(planned);
    if (!entry) continue;
    const id = planned.unit.node.record.id;
    const before = reports.get(id);
    const outputs = summariesOf(entry);
    const { unit } = planned;
    const problems = entry.problems.filter((p) => !p.about || p.about.some((port) => (read[i] & bitOf(unit, port)) !== 0));
    reports.set(id, {
      node: id,
      costInMs: (before?.costInMs ?? 0) + entry.costInMs,
      chained: Math.max(before?.chained ?? 1, entry.chained),
      fresh: (before?.fresh ?? false) || planned.isNeeded,
      failed: (before?.failed ?? false) || entry.failed,
      problems: before ? joined(before.problems, problems) : problems,
      outputs: before ? { ...before.outputs, ...outputs } : outputs,
    });
  }
  return reports;
}

/** Problems of two parts of one node; what both say is said once. */
const joined = (a: readonly Problem[], b: readonly Problem[]): readonly Problem[] => [
  ...a,
  ...b.filter((p) => !a.some((q) => isSameProblem(p, q))),
];

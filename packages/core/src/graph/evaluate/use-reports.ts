import type { Expanded } from '../../modules/expand.ts';
import { isSameProblem, type Problem } from '../node/problems.ts';
import type { NodeReport } from './reports.ts';

/** Reports with those of uses: what is inside of each, put together; its outputs are those of the nodes that make them. */
export function withUses(reports: ReadonlyMap<string, NodeReport>, expanded: Expanded): ReadonlyMap<string, NodeReport> {
  if (expanded.uses.length === 0) return reports;
  const all = new Map(reports);
  const inside = new Map<string, NodeReport[]>();
  for (const report of reports.values())
    for (let end = report.node.indexOf('/'); end >= 0; end = report.node.indexOf('/', end + 1)) {
      const use = report.node.slice(0, end);
      const known = inside.get(use);
      if (known) known.push(report);
      else inside.set(use, [report]);
    }
  /** What is said of outputs where they truly are. */
  const summaries = (node: string, ports: readonly string[]): NodeReport['outputs'] => {
    const outputs: Record<string, NodeReport['outputs'][string]> = {};
    for (const port of ports) {
      const source = expanded.sourceOf({ node, port });
      const summary = source && reports.get(source.node)?.outputs[source.port];
      if (summary) outputs[port] = summary;
    }
    return outputs;
  };
  for (const { path, outs, ins, wayIn } of expanded.uses) {
    const of = inside.get(path) ?? [];
    const outputs = summaries(path, outs);
    if (wayIn !== undefined)
      all.set(wayIn, {
        node: wayIn,
        costInMs: 0,
        chained: 1,
        fresh: false,
        failed: false,
        problems: [],
        outputs: summaries(wayIn, ins),
      });
    if (of.length === 0 && Object.keys(outputs).length === 0) continue;
    all.set(path, {
      node: path,
      costInMs: of.reduce((sum, r) => sum + r.costInMs, 0),
      chained: 1,
      fresh: of.some((r) => r.fresh),
      failed: of.some((r) => r.failed),
      problems: together(of.flatMap((r) => r.problems)),
      outputs,
    });
  }
  return all;
}

/** Problems, each once. */
function together(problems: readonly Problem[]): readonly Problem[] {
  const out: Problem[] = [];
  for (const p of problems) if (!out.some((q) => isSameProblem(p, q))) out.push(p);
  return out;
}

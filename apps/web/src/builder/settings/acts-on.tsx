import { graphWithNode, kindOf, nodesActingOn, nodeTitle, type ObjectRecord, type Project, changeNode } from '@umberfish/core';
import { SkipForward } from 'lucide-react';
import { applyEdit, useStore } from '../../state/store.ts';
import { formatCost } from '../../ui/format.ts';
import { goToNode, titleOfPath } from '../bench/paths.ts';
import { catalogue } from '../../state/catalogue.ts';

/** Everything that makes or changes an object's mesh, in order, whatever graph it is in. */
export function ActsOn({ project, object }: { project: Project; object: ObjectRecord }) {
  const reports = useStore((s) => s.evaluation.reports);
  const nodes = nodesActingOn(catalogue(), project, object.id);
  if (kindOf(object).drawn !== 'mesh') return null;
  return (
    <section className="mt-2" aria-label="What acts on this mesh">
      <h3 className="text-soft">What acts on this mesh</h3>
      {nodes.length === 0 && <p className="text-xs text-faint">Nothing: it is shown as it came.</p>}
      <ol className="mt-0.5">
        {nodes.map((n, i) => {
          const report = reports.get(n.record.id);
          const { skip } = n.record;
          return (
            <li key={n.record.id} data-acts={n.record.id} className="flex h-6 items-center gap-1 text-xs">
              <span className="number w-4 shrink-0 text-right text-faint">{i + 1}</span>
              <button
                type="button"
                title={`In ${n.graph.name}. Go to it.`}
                className={`min-w-0 flex-1 truncate text-left hover:underline ${report?.failed ? 'text-rust' : skip ? 'text-faint line-through' : 'text-umber'}`}
                onClick={() => goToNode(n.record.id)}
              >
                {titleOfPath(project, n)}
              </button>
              <span className="number shrink-0 text-faint">{report ? formatCost(report.costInMs) : '–'}</span>
              <button
                type="button"
                aria-pressed={skip}
                aria-label={skip ? `Do not skip ${nodeTitle(n)}` : `Skip ${nodeTitle(n)}`}
                title={skip ? 'It is skipped; click to let it act again' : 'Skip it'}
                className={`shrink-0 rounded p-0.5 ${skip ? 'bg-pick-wash text-pick' : 'text-faint hover:text-ink'}`}
                onClick={() =>
                  applyEdit('Skip', changeNode(graphWithNode(project, n.record.id) ?? '', n.record.id, { skip: !skip }))
                }
              >
                <SkipForward size={12} />
              </button>
            </li>
          );
        })}
      </ol>
    </section>
  );
}

import { useMemo } from 'react';
import { nodeTitle, problemWords, resolveProject, type Severity } from '@umberfish/core';
import { selectProject, useStore } from '../../state/store.ts';
import { goToNode, titleOfPath } from '../bench/paths.ts';
import { catalogue } from '../../state/catalogue.ts';

interface Message {
  key: string;
  node: string;
  where: string;
  severity: Severity;
  text: string;
}

/** Every message of every node that was evaluated, errors first. */
export function useMessages(): Message[] {
  const reports = useStore((s) => s.evaluation.reports);
  const project = useStore(selectProject);
  return useMemo(() => {
    const nodes = project ? resolveProject(catalogue(), project) : new Map();
    const all: Message[] = [];
    for (const report of reports.values()) {
      const node = nodes.get(report.node);
      if (!node) continue;
      report.problems.forEach((p, i) => {
        const where = `${node.graph.name} / ${project ? titleOfPath(project, node) : nodeTitle(node)}`;
        all.push({
          key: `${report.node} ${i}`,
          node: report.node,
          where,
          severity: p.severity,
          text: problemWords(p),
        });
      });
    }
    const rank = { error: 0, warning: 1, note: 2 };
    return all.sort((a, b) => rank[a.severity] - rank[b.severity]);
  }, [reports, project]);
}

const WORDS: Record<Severity, string> = { error: 'Error', warning: 'Warning', note: 'Note' };

export function Messages({ messages }: { messages: readonly Message[] }) {
  if (messages.length === 0) return <p className="p-4 text-soft">Nothing is wrong with what is evaluated.</p>;
  return (
    <ul className="divide-y divide-line select-text" data-messages>
      {messages.map((m) => (
        <li key={m.key} className="flex gap-3 px-3 py-2">
          <span className={`w-14 shrink-0 ${m.severity === 'error' ? 'font-semibold text-rust' : 'text-soft'}`}>
            {WORDS[m.severity]}
          </span>
          <div>
            <button
              type="button"
              className="text-umber hover:underline"
              onClick={() => {
                goToNode(m.node);
              }}
            >
              {m.where}
            </button>
            <p className="leading-snug">{m.text}</p>
          </div>
        </li>
      ))}
    </ul>
  );
}

import { nodeTitle, resolveGraph, type SectionRecord, changeSection } from '@umberfish/core';
import { Handle, Position, type NodeProps } from '@xyflow/react';
import { ChevronDown, ChevronRight } from 'lucide-react';
import { memo } from 'react';
import { applyEdit, selectGraph, store, useSend, useStore } from '../../state/store.ts';
import { sectionPicked } from '../../state/ui-slice.ts';
import type { SectionNode } from './flow.ts';
import { catalogue } from '../../state/catalogue.ts';

/** Folds or unfolds. */
export function foldSection(section: SectionRecord): void {
  const graph = selectGraph(store.getState());
  if (graph)
    applyEdit(
      section.folded ? 'Unfold section' : 'Fold section',
      changeSection(graph.id, section.id, { folded: !section.folded }),
    );
}

/** A titled box round some cards, with a note above; folded it is one small card that says what is inside. */
export const Section = memo(function Section({ data, selected }: NodeProps<SectionNode>) {
  const { section } = data;
  const send = useSend();
  const edge = selected ? 'border-pick' : 'border-line-strong';
  const pick = () => send(sectionPicked(section.id));
  const fold = (
    <button
      type="button"
      aria-label={section.folded ? `Unfold ${section.title}` : `Fold ${section.title}`}
      aria-expanded={!section.folded}
      className="nodrag shrink-0 rounded p-0.5 text-soft hover:bg-sunk hover:text-ink"
      onClick={(e) => {
        e.stopPropagation();
        foldSection(section);
      }}
    >
      {section.folded ? <ChevronRight size={14} /> : <ChevronDown size={14} />}
    </button>
  );
  if (section.folded) {
    return (
      <article
        data-section={section.id}
        data-folded
        aria-label={section.title}
        onClick={pick}
        className={`section-handle section-${section.tint} flex size-full cursor-grab flex-col justify-center gap-1 rounded-[3px] border-2 border-double px-2 ${edge}`}
      >
        <Handle type="target" position={Position.Left} id="in" isConnectable={false} />
        <header className="flex items-center gap-1">
          {fold}
          <h3 className="truncate font-serif text-[13px] font-semibold">{section.title}</h3>
        </header>
        <Summary section={section} />
        <Handle type="source" position={Position.Right} id="out" isConnectable={false} />
      </article>
    );
  }
  return (
    <article
      data-section={section.id}
      aria-label={section.title}
      className={`pointer-events-none size-full rounded-md border ${edge} section-${section.tint}`}
    >
      <header
        onClick={pick}
        className={`section-handle pointer-events-auto absolute inset-x-0 bottom-full cursor-grab rounded-t-md border border-b-0 px-2 py-1 ${edge} section-${section.tint}`}
      >
        <span className="flex items-center gap-1">
          {fold}
          <h3 className="min-w-0 flex-1 truncate font-serif text-sm font-semibold">{section.title}</h3>
        </span>
        {section.note && <p className="pb-0.5 pl-5 text-xs leading-snug whitespace-pre-line text-soft">{section.note}</p>}
      </header>
    </article>
  );
});

/** What a folded section holds: how many nodes, what they cost, and whether one is in trouble. */
function Summary({ section }: { section: SectionRecord }) {
  const titles = useStore((s) => {
    const graph = selectGraph(s);
    const nodes = graph ? resolveGraph(catalogue(), graph) : undefined;
    return section.nodes
      .map((n) => nodes?.get(n))
      .flatMap((n) => (n ? [nodeTitle(n)] : []))
      .join(', ');
  });
  const failed = useStore((s) => section.nodes.some((n) => s.evaluation.reports.get(n)?.failed));
  const cost = useStore((s) => section.nodes.reduce((sum, n) => sum + (s.evaluation.reports.get(n)?.costInMs ?? 0), 0));
  const { length } = section.nodes;
  return (
    <p className={`truncate pl-5 text-[11px] ${failed ? 'text-rust' : 'text-soft'}`} title={titles}>
      {failed ? 'a node inside has an error' : `${length} ${length === 1 ? 'node' : 'nodes'} · ${cost.toFixed(1)} ms`}
    </p>
  );
}

import {
  nodeTitle,
  problemWords,
  resolveGraph,
  sentenceContext,
  SHOWN_PORT,
  typedInput,
  type NodeReport,
  type PortKind,
  type ResolvedNode,
  type Response,
  typeOfUse,
  usedKey,
  versionWords,
} from '@umberfish/core';
import { shownPorts } from '@umberfish/bench-layout';
import { useStoreApi, type NodeProps } from '@xyflow/react';
import { Eye, EyeOff, SkipForward } from 'lucide-react';
import { memo, useEffect, useRef, useState } from 'react';
import { selectGraph, store, useStore } from '../../state/store.ts';
import { nodesPicked } from '../../state/ui-slice.ts';
import { formatCost } from '../../ui/format.ts';
import { responsePath } from '../../ui/response-editor.tsx';
import { Hint } from '../../ui/hint.tsx';
import { useFits } from './drag-fits.ts';
import { FarTitle } from './far-title.tsx';
import type { CardNode } from './flow.ts';
import { InputRow, OutputRow, Shown } from './card-rows.tsx';
import { aroundCards, NOTHING_AROUND } from './around-cards.ts';
import { measureCard } from './measure-cards.ts';
import { ProbeStrip } from './probe-strip.tsx';
import { useLibrary } from '../../library/use-library.ts';
import { newerOf } from '../../storage/library.ts';
import { catalogue } from '../../state/catalogue.ts';

const NO_PROJECT = { objects: [], removed: [] };

/** A node on the bench: title and cost, what it does, ports, probes, and what is wrong with it. */
export const Card = memo(function Card({ id, selected }: NodeProps<CardNode>) {
  const renders = useRef(0);
  renders.current++;
  const node = useStore((s) => {
    const graph = selectGraph(s);
    return graph ? resolveGraph(catalogue(), graph).get(id)?.record : undefined;
  });
  const around = useStore((s) => {
    const graph = selectGraph(s);
    return (graph && aroundCards(catalogue(), graph).get(id)) ?? NOTHING_AROUND;
  });
  const words = useStore((s) => {
    const graph = selectGraph(s);
    const all = graph && resolveGraph(catalogue(), graph);
    const at = all?.get(id);
    return at?.definition?.sentence(
      at.settings,
      sentenceContext(s.project.project ?? NO_PROJECT, at, all as ReadonlyMap<string, ResolvedNode>),
    );
  });
  const report = useStore((s) => s.evaluation.reports.get(id));
  const previewed = useStore((s) => selectGraph(s)?.preview === id);
  const pickedPort = useStore((s) => (s.ui.port?.node === id ? s.ui.port.port : null));
  const resolved = useStore((s) => {
    const graph = selectGraph(s);
    return graph && node ? keepParts(graph, id) : undefined;
  });
  const fits = useFits(id);
  const [hovered, setHovered] = useState(false);
  const [connected, kinds, read] = JSON.parse(around) as [string[], (PortKind | null)[], string[]];
  const watched = new Set([...(node?.probes ?? []), ...(pickedPort === null ? [] : [pickedPort])]);
  const shown = resolved && shownPorts(resolved, { wired: new Set(connected), read: new Set(read), watched });
  // Open while it is picked, or while a wire is held over it that fits something of it.
  const isOpen = selected || (hovered && fits !== undefined && fits.size > 0);
  const ports = isOpen || !shown ? resolved : shown;
  const rows = ports ? [...ports.inputs, ...ports.outputs].map((p) => p.id).join() : '';
  const root = useRef<HTMLElement>(null);
  const flow = useStoreApi();
  // The flow measures ports when a card grows; where rows only take each other's places, it has to be told. Its own hook
  // looks the card up by an id that may be anything.
  useEffect(() => {
    const nodeElement = root.current?.closest<HTMLDivElement>('.react-flow__node');
    if (nodeElement) measureCard(flow, id, nodeElement);
  }, [flow, id, rows]);
  if (!node || !resolved || !shown || !ports) return null;
  const title = nodeTitle(resolved);
  const shows = resolved.definition?.shows !== undefined;
  const failed = report?.failed ?? false;
  const problems = (report?.problems ?? []).filter((p) => p.code !== 'waits' || failed);
  const sentence = words ?? 'unknown type, kept as it is';
  const edge = selected ? 'border-pick shadow-[0_0_0_1px_var(--pick)]' : failed ? 'border-rust' : 'border-line-strong';
  return (
    <article
      ref={root}
      data-card={id}
      data-type={node.type}
      data-renders={renders.current}
      data-failed={failed}
      aria-label={title}
      data-folded={isOpen ? 0 : shown.folded}
      onPointerEnter={() => setHovered(true)}
      onPointerLeave={() => setHovered(false)}
      className={`relative w-[160px] ${fits?.size === 0 ? 'opacity-40' : ''} rounded-[3px] border bg-raised text-[12px] leading-tight ${edge} ${shows ? 'border-l-4 border-l-umber' : ''} ${node.skip ? 'opacity-60' : ''}`}
    >
      <header className="flex h-7 items-center justify-between gap-1 border-b border-line px-2">
        <Hint text={resolved.definition?.summary ?? 'A type of node this version does not know.'} side="top">
          <h3 className="truncate text-xs font-semibold">{title}</h3>
        </Hint>
        <span className="flex shrink-0 items-center gap-1 text-[10.5px] text-faint">
          {usedKey(node) !== undefined && <NewerMark type={node.type} />}
          {node.skip && <SkipForward size={11} aria-label="Skipped" />}
          {previewed && <Eye size={12} className="text-pick" aria-label="Previewed in the stage" />}
          <Cost report={report} />
        </span>
      </header>
      <Heat report={report} />
      <FarTitle title={title} />
      <div className="flex items-baseline gap-1 border-b border-line px-2 py-1 text-soft">
        <p className="min-w-0 flex-1 truncate" title={sentence}>
          {sentence}
        </p>
        {!isOpen && shown.folded > 0 && (
          <button
            type="button"
            data-more={shown.folded}
            title="Inputs where they come, and outputs that nobody reads. Pick the card to see them."
            className="nodrag shrink-0 text-[10.5px] text-faint hover:text-ink hover:underline"
            onClick={(e) => {
              e.stopPropagation();
              store.dispatch(nodesPicked([id]));
            }}
          >
            {shown.folded} more
          </button>
        )}
      </div>
      {typeof resolved.settings.response === 'object' && resolved.settings.response && node.type === 'response' && (
        <Curve response={resolved.settings.response as Response} />
      )}
      <div className="py-1">
        {ports.inputs.map((port) => (
          <InputRow key={port.id} node={id} port={port} connected={connected.includes(port.id)} value={typedInput(port, node)} />
        ))}
        {ports.outputs.map((port) => (
          <OutputRow
            key={port.id}
            node={id}
            port={port}
            kind={kinds[resolved.outputs.indexOf(port)] ?? port.kind}
            report={report}
            picked={pickedPort === port.id}
          />
        ))}
        {shows && <Shown node={id} report={report} picked={pickedPort === SHOWN_PORT} />}
      </div>
      {node.probes.map((port) => (
        <ProbeStrip key={port} node={id} port={port} label={resolved.outputs.find((o) => o.id === port)?.label ?? port} />
      ))}
      {problems.map((p, i) => (
        <p
          key={i}
          data-problem={p.code}
          // A note is short until its card is picked, so that it does not cover the card below.
          title={problemWords(p)}
          className={`${p.severity === 'error' || selected ? '' : 'line-clamp-2 pb-0!'} border-t px-2 py-1.5 leading-snug ${p.severity === 'error' ? 'border-rust bg-rust-wash text-rust' : 'border-line text-soft'}`}
        >
          {p.severity === 'warning' && <strong className="font-semibold text-rust">Note: </strong>}
          {problemWords(p)}
          {'origins' in p && p.origins && (
            <span className="mt-1 flex flex-wrap gap-x-2">
              {p.origins.map((o) => (
                <button
                  key={o.node}
                  type="button"
                  data-origin={o.node}
                  className="nodrag underline"
                  onClick={() => store.dispatch(nodesPicked([o.node]))}
                >
                  Go to {o.title}
                </button>
              ))}
            </span>
          )}
        </p>
      ))}
    </article>
  );
});

/** The resolved node, the same object as long as its record is. */
const kept = new WeakMap<object, ResolvedNode>();
function keepParts(graph: Parameters<typeof resolveGraph>[1], id: string): ResolvedNode | undefined {
  const now = resolveGraph(catalogue(), graph).get(id);
  if (!now) return undefined;
  const before = kept.get(now.record);
  if (before) return before;
  kept.set(now.record, now);
  return now;
}

/** A quiet mark on a use: the library has a newer version of its module. */
function NewerMark({ type }: { type: string }) {
  const module = useStore((s) => s.project.project?.modules.find((m) => typeOfUse(m) === type));
  const library = useLibrary();
  const newer = module && library && newerOf(library, module);
  if (!newer) return null;
  const words = `The library has ${versionWords(newer.file.module.version)}`;
  return <span role="img" aria-label={words} title={words} className="size-1.5 rounded-full bg-moss" />;
}

function Cost({ report }: { report: NodeReport | undefined }) {
  if (!report) {
    return (
      <Hint text="Not evaluated: nothing shown, probed or picked asks for it." side="top">
        <EyeOff size={11} aria-label="Not evaluated" />
      </Hint>
    );
  }
  const text =
    report.chained > 1
      ? `Run as one with ${report.chained - 1} other nodes; its share of their time.`
      : 'The time it took when it was last computed.';
  return (
    <Hint text={text} side="top">
      <span className="number">
        {report.chained > 1 ? '≈' : ''}
        {formatCost(report.costInMs)}
      </span>
    </Hint>
  );
}

function Curve({ response }: { response: Response }) {
  return (
    <svg viewBox="0 0 168 44" className="mx-2 mt-1.5 block w-[142px] border border-line bg-paper" aria-hidden>
      <path
        d={responsePath(
          response,
          (t) => 4 + t * 160,
          (v) => 38 - v * 32,
          60,
        )}
        fill="none"
        stroke="var(--umber)"
        strokeWidth={1.5}
      />
    </svg>
  );
}

/** A bar as long as the node's share of the dearest node's cost; the bench holds that cost, so cards need not. */
function Heat({ report }: { report: NodeReport | undefined }) {
  if (!report || report.costInMs < 0.05) return null;
  const width = `calc(min(1, ${report.costInMs.toFixed(2)} / var(--dearest, 1)) * 100%)`;
  return <div aria-hidden data-heat className="-mt-px h-0.5 bg-clay" style={{ width }} />;
}

import { CATALOGUE, idInGraph, KIND_TAGS, offeredWays, packNodes, type OfferedWay, type PortKind } from '@umberfish/core';
import { useMemo, useState } from 'react';
import { applyEdit, selectGraph, selectProject, store, useStore } from '../../state/store.ts';
import { nodesPicked, remarked } from '../../state/ui-slice.ts';
import { Button } from '../../ui/button.tsx';
import { plainNumber } from '../../ui/format.ts';
import { Modal } from '../../ui/modal.tsx';

/** Makes a module of the picked cards: what crosses its wall, and what that is called. */
export function MakeDialog({ onClose }: { onClose(): void }) {
  const project = useStore(selectProject);
  const graph = useStore(selectGraph);
  const picked = useStore((s) => s.ui.nodes);
  const [name, setName] = useState('');
  const offered = useMemo(
    () => (project && graph ? offeredWays(CATALOGUE, project, graph.id, picked) : []),
    [project, graph, picked],
  );
  const [taken, setTaken] = useState<ReadonlySet<string>>(new Set());
  const [names, setNames] = useState<ReadonlyMap<string, string>>(new Map());
  if (!project || !graph) return null;
  const nameOf = (o: OfferedWay) => names.get(o.way.id) ?? o.way.name;
  const isTaken = (o: OfferedWay) => o.needed || taken.has(o.way.id);
  const toggle = (o: OfferedWay) => {
    const next = new Set(taken);
    if (!next.delete(o.way.id)) next.add(o.way.id);
    setTaken(next);
  };
  const make = () => {
    const ways = offered.filter(isTaken).map((o) => ({ ...o, way: { ...o.way, name: nameOf(o).trim() || o.way.name } }));
    const packed = packNodes(CATALOGUE, project, graph.id, picked, name.trim() || 'Module', ways);
    applyEdit('Make a module', () => packed.project);
    store.dispatch(nodesPicked([idInGraph(graph.id, packed.use)]));
    store.dispatch(
      remarked({
        text: `"${packed.module.name}" is a module now. Double-click its card, or press Enter, to look inside.`,
        kind: 'done',
      }),
    );
    onClose();
    // Keys go to the bench again, once the sheet has let go of them.
    window.setTimeout(() => document.querySelector<HTMLElement>('[data-bench]')?.focus(), 50);
  };
  const list = (side: 'in' | 'out', title: string, none: string) => {
    const mine = offered.filter((o) => o.side === side);
    return (
      <section aria-label={title}>
        <h3 className="mb-0.5 font-semibold">{title}</h3>
        {mine.length === 0 && <p className="text-xs text-faint">{none}</p>}
        <ul className="flex flex-col">
          {mine.map((o) => (
            <li key={o.way.id} data-offer={o.way.name} data-taken={isTaken(o)} className="flex h-7 items-center gap-2">
              <input
                type="checkbox"
                aria-label={`Let ${o.way.name} cross`}
                checked={isTaken(o)}
                disabled={o.needed}
                onChange={() => toggle(o)}
                className="accent-umber"
              />
              <span className="number w-8 shrink-0 text-[10.5px] text-faint">
                {o.way.kind in KIND_TAGS ? KIND_TAGS[o.way.kind as PortKind] : 'set'}
              </span>
              <input
                aria-label={`Name of ${o.way.name}`}
                value={nameOf(o)}
                disabled={!isTaken(o)}
                onChange={(e) => setNames(new Map(names).set(o.way.id, e.target.value))}
                className="h-6 min-w-0 flex-1 rounded border border-line-strong bg-raised px-1.5 outline-none focus:border-pick disabled:border-transparent disabled:bg-transparent disabled:text-soft"
              />
              <span className="number w-28 shrink-0 truncate text-right text-xs text-faint" title={whereOf(o, graph)}>
                {typeof o.way.default === 'number' ? `${plainNumber(o.way.default)} ${o.way.unit}` : whereOf(o, graph)}
              </span>
            </li>
          ))}
        </ul>
      </section>
    );
  };
  return (
    <Modal
      open
      title="Make a module"
      about={`${picked.length} ${picked.length === 1 ? 'card becomes' : 'cards become'} one. What is wired to others crosses the wall; tick what shall be a dial besides.`}
      onClose={onClose}
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          make();
        }}
        className="flex flex-col gap-3"
        data-make-module
      >
        <label className="flex items-center gap-2">
          <span className="w-16 shrink-0 text-soft">Name</span>
          <input
            autoFocus
            aria-label="Name of the module"
            value={name}
            placeholder="What it does, in a word or two"
            onChange={(e) => setName(e.target.value)}
            className="h-7 min-w-0 flex-1 rounded border border-line-strong bg-raised px-2 outline-none focus:border-pick"
          />
        </label>
        <div className="flex max-h-[46vh] flex-col gap-3 overflow-auto pr-1">
          {list('in', 'Ways in', 'Nothing comes in.')}
          {list('out', 'Ways out', 'No wire leaves the picked cards: nothing would come out. Pick cards whose results are used.')}
        </div>
        <div className="flex justify-end gap-2">
          <Button look="framed" onClick={onClose}>
            Cancel
          </Button>
          <Button look="strong" onClick={make}>
            Make it
          </Button>
        </div>
      </form>
    </Modal>
  );
}

/** The card that a way is of. */
const whereOf = (o: OfferedWay, graph: { nodes: readonly { id: string; title: string; type: string }[] }): string => {
  const node = graph.nodes.find((n) => n.id === o.at.node);
  return node ? node.title || (CATALOGUE.get(node.type)?.title ?? '') : '';
};

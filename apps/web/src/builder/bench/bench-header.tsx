import { pathOfInside, rootGraph } from '@umberfish/core';
import { Eye, Pin, Plus, SkipForward } from 'lucide-react';
import { useEffect, useState } from 'react';
import { useViewport } from '@xyflow/react';
import { selectGraph, store, useSend, useStore } from '../../state/store.ts';
import { nodesPicked, uiSet } from '../../state/ui-slice.ts';
import { engine } from '../../engine/index.ts';
import { Button } from '../../ui/button.tsx';
import { formatCost } from '../../ui/format.ts';
import { Menu } from '../../ui/menu.tsx';
import { Crumbs } from '../modules/crumbs.tsx';
import { makeModule } from '../modules/commands.ts';
import { useDearest } from './dearest.ts';
import { GraphList } from './graph-list.tsx';
import { openPalette } from './palette.ts';
import type { BenchCommands } from './use-bench-commands.ts';

/** Over the bench: which graph, what it costs, and what can be done with it. */
export function BenchHeader({ commands }: { commands: BenchCommands }) {
  const graph = useStore(selectGraph);
  const graphs = useStore((s) => s.project.project?.graphs);
  const inside = useStore((s) => s.ui.graph !== null && pathOfInside(s.ui.graph) !== undefined);
  const send = useSend();
  const wanted = useStore((s) => s.ui.graph);
  // What one is inside of may go, by undoing for instance: then one is outside again.
  useEffect(() => {
    if (wanted === null || graph || !graphs) return;
    const { project } = store.getState().project;
    const next = (project && rootGraph(project, wanted)) ?? graphs.at(0);
    send(uiSet({ graph: next?.id ?? null, nodes: [], port: null, element: null }));
  }, [wanted, graph, graphs, send]);
  return (
    <header className="@container flex h-9 shrink-0 items-center gap-1 overflow-hidden border-b border-line px-3">
      {!inside && <GraphList />}
      <Crumbs />
      <Working nodes={graph?.nodes.length ?? 0} />
      <span className="flex-1" />
      <Button
        onClick={() => openPalette({ end: null, at: null })}
        hint="Add a node (Ctrl K, or double-click the bench)"
        className="!px-1.5"
        aria-label="Add"
      >
        <Plus size={15} /> <span className="hidden @min-[420px]:inline">Add</span>
      </Button>
      <Button onClick={commands.preview} hint="Show the picked node in the stage (P)" className="!px-1.5" aria-label="Preview">
        <Eye size={14} className="@min-[600px]:hidden" />
        <span className="hidden @min-[600px]:inline">Preview</span>
      </Button>
      <Button
        onClick={() => commands.probe()}
        hint="Pin a readout on the picked output or wire (R)"
        className="!px-1.5"
        aria-label="Probe"
      >
        <Pin size={14} className="@min-[600px]:hidden" />
        <span className="hidden @min-[600px]:inline">Probe</span>
      </Button>
      <Button
        onClick={commands.skip}
        hint="Let the picked nodes pass their input through (S)"
        className="!px-1.5"
        aria-label="Skip"
      >
        <SkipForward size={14} className="@min-[600px]:hidden" />
        <span className="hidden @min-[600px]:inline">Skip</span>
      </Button>
      <Menu
        align="end"
        trigger={
          <button type="button" className="h-7 shrink-0 rounded px-1.5 whitespace-nowrap text-soft hover:bg-sunk hover:text-ink">
            Arrange <span className="text-faint">▾</span>
          </button>
        }
        items={[
          { label: 'Frame picked nodes, or all', keys: 'F', onSelect: commands.fit },
          { label: 'Tidy along the wires', keys: 'L', onSelect: commands.tidy },
          null,
          { label: 'Put in a section, or take out', keys: 'N', onSelect: commands.section },
          { label: 'Make a module…', keys: 'M', onSelect: makeModule },
          { label: 'Replace by another kind…', keys: 'X', onSelect: commands.replace },
          { label: 'Align left edges', onSelect: () => commands.align('left') },
          { label: 'Align tops', onSelect: () => commands.align('top') },
          { label: 'Stack below each other', onSelect: () => commands.align('spread') },
          null,
          {
            label: 'Find on the bench…',
            keys: 'Ctrl F',
            onSelect: () => openPalette({ end: null, at: null, find: true }),
          },
          { label: 'Map of the graph', onSelect: commands.toggleMap },
        ]}
      />
      <Zoom />
    </header>
  );
}

function Zoom() {
  const { zoom } = useViewport();
  return (
    <span className="number hidden shrink-0 text-right text-xs whitespace-nowrap text-faint @min-[380px]:block">
      {Math.round(zoom * 100)} %
    </span>
  );
}

/** How far the evaluation has come, looked at now and then. */
function Progress() {
  const [at, setAt] = useState(() => engine.progress());
  useEffect(() => {
    const timer = window.setInterval(() => setAt(engine.progress()), 250);
    return () => window.clearInterval(timer);
  }, []);
  return (
    <span className="whitespace-nowrap" data-progress={at?.done}>
      {at ? `Working… ${at.done + 1} of ${at.all} nodes` : 'Working…'}
    </span>
  );
}

/** What a frame costs; while it takes long, that it works, and a way to stop. */
function Working({ nodes }: { nodes: number }) {
  const { slow, trouble, settled, frameCostInMs } = useStore((s) => s.evaluation);
  const paused = useStore((s) => s.ui.paused);
  const dearest = useDearest();
  const send = useSend();
  // What went wrong stands over the page, with what can be done.
  if (trouble) return <span className="text-rust">Not evaluated</span>;
  if (slow) {
    return (
      <span data-working className="flex items-center gap-2 text-umber">
        <Progress />
        <Button look="framed" className="!h-6" onClick={() => engine.stop()}>
          Stop
        </Button>
      </span>
    );
  }
  if (paused) {
    return (
      <span data-paused={settled ? 'fresh' : 'stale'} className="flex items-center gap-2 text-umber">
        {settled ? 'Paused' : 'Paused, picture is old'}
        <Button look="framed" className="!h-6" onClick={() => engine.resume()} hint="Evaluate once, and stay paused">
          Once
        </Button>
        <Button look="framed" className="!h-6" onClick={() => setPaused(false)}>
          Resume
        </Button>
      </span>
    );
  }
  return (
    <Menu
      trigger={
        <button
          type="button"
          data-cost
          className="truncate rounded px-1 text-xs whitespace-nowrap text-soft hover:bg-sunk"
          title="What the last picture cost; click for the dearest nodes"
        >
          <span className="hidden @min-[600px]:inline">
            {nodes} {nodes === 1 ? 'node' : 'nodes'} ·{' '}
          </span>
          <span className="number">{formatCost(frameCostInMs)}</span>
        </button>
      }
      items={
        dearest.length > 0
          ? dearest.map((d) => ({
              label: d.title,
              keys: formatCost(d.costInMs),
              onSelect: () => send(nodesPicked([d.node])),
            }))
          : [{ label: 'Nothing was evaluated yet', disabled: true, onSelect: () => {} }]
      }
    />
  );
}

/** Pauses evaluation, or resumes it and catches up. */
export function setPaused(paused: boolean): void {
  store.dispatch(uiSet({ paused }));
  if (!paused) engine.resume();
}

import { exposeInput, exposeOutput } from '@umberfish/core';
import {
  checkConnection,
  type GraphRecord,
  type PortRef,
  moveToSection,
  connect,
  moveNodes,
  newId,
  putBetween,
  takeOut,
  removeWires,
} from '@umberfish/core';
import {
  applyNodeChanges,
  MiniMap,
  Background,
  BackgroundVariant,
  ReactFlow,
  SelectionMode,
  useReactFlow,
  useStore as useFlowStore,
  type Connection,
  type FinalConnectionState,
  type NodeChange,
  type OnConnectStartParams,
} from '@xyflow/react';
import { useCallback, useEffect, useMemo, useRef, useState, type CSSProperties, type KeyboardEvent } from 'react';
import { lookInside, pickedUse } from '../modules/commands.ts';
import { useDearest } from './dearest.ts';
import { gestureEnded } from '../../state/project-slice.ts';
import { views } from '../../state/left-off.ts';
import { applyEdit, selectGraph, store, useSend, useStore } from '../../state/store.ts';
import { nodesPicked, portPicked, remarked, sectionPicked } from '../../state/ui-slice.ts';
import { Button } from '../../ui/button.tsx';
import { ContextMenu } from '../../ui/context-menu.tsx';
import { BenchHeader } from './bench-header.tsx';
import { Card } from './card.tsx';
import { looseEnd } from './catalogue.ts';
import { dragBegan, dragEnded } from './drag-fits.ts';
import { boxes, sectionOf, syncNodes, syncWires, type BenchNode, type WireEdge } from './flow.ts';
import { openView, READABLE } from './open-view.ts';
import { openPalette } from './palette.ts';
import { wiresOnPath } from './path.ts';
import { Section } from './section.tsx';
import { benchMenuAt } from './bench-menu.ts';
import { useBenchClipboard, useBenchCommands } from './use-bench-commands.ts';
import { Wire } from './wire.tsx';
import { catalogue } from '../../state/catalogue.ts';

const NODE_TYPES = { card: Card, section: Section };
const EDGE_TYPES = { wire: Wire };
const PRO = { hideAttribution: true };

/** The graph editor. */
export function Bench() {
  const graph = useStore(selectGraph);
  const picked = useStore((s) => s.ui.nodes);
  const pickedSection = useStore((s) => s.ui.section);
  const map = useStore((s) => s.ui.map);
  const send = useSend();
  const flow = useReactFlow<BenchNode, WireEdge>();
  const [cards, setCards] = useState<BenchNode[]>([]);
  const [pickedWires, setPickedWires] = useState<readonly string[]>([]);
  const wiresBefore = useRef<WireEdge[]>([]);
  const refusal = useRef<string | null>(null);
  const start = useRef<OnConnectStartParams | null>(null);
  const commands = useBenchCommands();
  useBenchClipboard();
  const dearest = useDearest();
  const graphId = graph?.id;
  // Only told while it matters, and in steps: titles grow as cards get smaller.
  const farZoom = useFlowStore((s) => (s.transform[2] < READABLE ? Math.ceil(s.transform[2] * 20) / 20 : 0));
  const far = farZoom > 0;

  useEffect(() => {
    setCards((before) => (graph ? syncNodes(graph, picked, pickedSection, before) : []));
  }, [graph, picked, pickedSection]);

  const wires = useMemo(() => {
    const plain = graph ? syncWires(graph, wiresBefore.current) : [];
    wiresBefore.current = plain;
    if (!graph || pickedWires.length === 0) return plain;
    const path = wiresOnPath(graph, pickedWires);
    return plain.map((w) => (path.has(w.id) ? { ...w, selected: pickedWires.includes(w.id), className: 'on-path' } : w));
  }, [graph, pickedWires]);

  // A graph is framed when it is opened, or shown as it was left.
  useEffect(() => {
    if (!graphId) return;
    const frame = window.setTimeout(() => void openView(flow, views.benches[graphId]), 60);
    return () => window.clearTimeout(frame);
  }, [graphId, flow]);

  const onNodesChange = useCallback(
    (changes: NodeChange<BenchNode>[]) => {
      setCards((now) => (graph ? changed(graph, now, changes) : now));
      const sections = new Set(graph?.sections.map((s) => s.id));
      const selections = changes.filter((c) => c.type === 'select').filter((c) => !sections.has(c.id));
      if (selections.length === 0) return;
      const next = new Set(picked);
      for (const c of selections) {
        if (c.selected) next.add(c.id);
        else next.delete(c.id);
      }
      send(nodesPicked([...next]));
    },
    [graph, picked, send],
  );

  const onNodeDragStop = useCallback(
    (event: unknown, _n: BenchNode, dragged: BenchNode[]) => {
      if (!graph) return;
      // A section takes its nodes along; where they are now, the flow knows.
      const ids = new Set(dragged.flatMap((n) => (n.type === 'section' ? n.data.section.nodes : [n.id])));
      const moved = flow.getNodes().filter((n) => n.type === 'card' && ids.has(n.id));
      const to = new Map(moved.map((n) => [n.id, [Math.round(n.position.x), Math.round(n.position.y)] as const]));
      const label =
        dragged[0]?.type === 'section' ? 'Move section' : moved.length > 1 ? `Move ${moved.length} nodes` : 'Move node';
      const gesture = newId('drag');
      applyEdit(label, moveNodes(graph.id, to), gesture);
      // With Alt, cards come out of their chain, which closes behind them; a loose one goes between the ends of a wire.
      const cards = dragged.filter((n) => n.type === 'card').map((n) => n.id);
      if ((event as MouseEvent).altKey && cards.length > 0) applyEdit(label, takeOut(catalogue(), graph, cards), gesture);
      else if (cards.length === 1) dropOnWire(graph, cards[0], gesture);
      joinWhereDropped(graph, dragged, flow.getNodes(), gesture);
      send(gestureEnded());
    },
    [graph, flow, send],
  );

  const refOf = (c: Connection): [PortRef, PortRef] => [
    { node: c.source, port: c.sourceHandle ?? '' },
    { node: c.target, port: c.targetHandle ?? '' },
  ];

  const isValid = useCallback(
    (c: Connection | WireEdge) => {
      if (!graph) return false;
      const result = checkConnection(catalogue(), graph, ...refOf(c as Connection));
      refusal.current = result.ok ? null : result.reason;
      return result.ok;
    },
    [graph],
  );

  const onConnect = useCallback((c: Connection) => graphId && applyEdit('Connect', connect(graphId, ...refOf(c))), [graphId]);

  /** A wire let go over nothing offers what fits; over a port that refuses it, says why. */
  const onConnectEnd = useCallback(
    (event: MouseEvent | TouchEvent, state: FinalConnectionState) => {
      const from = start.current;
      start.current = null;
      dragEnded();
      if (!graph || state.isValid || !from?.nodeId || !from.handleId) return;
      if (state.toHandle) {
        if (refusal.current) send(remarked({ text: `Not connected. ${refusal.current}`, kind: 'wrong' }));
        return;
      }
      const at = 'changedTouches' in event ? event.changedTouches[0] : event;
      // Dropped on a wall of the module, a port goes through it.
      const card = document.elementFromPoint(at.clientX, at.clientY)?.closest<HTMLElement>('[data-card]');
      const way = catalogue().get(card?.dataset.type ?? '')?.way;
      const port = { node: from.nodeId, port: from.handleId };
      if (way === 'in' && from.handleType === 'target')
        return applyEdit('Make a way in', exposeInput(catalogue(), graph.id, port));
      if (way === 'out' && from.handleType === 'source')
        return applyEdit('Make a way out', exposeOutput(catalogue(), graph.id, port));
      const end = looseEnd(graph, { node: from.nodeId, port: from.handleId }, from.handleType === 'source' ? 'output' : 'input');
      const screen = { x: at.clientX, y: at.clientY };
      if (end) openPalette({ end, at: flow.screenToFlowPosition(screen), screen });
    },
    [graph, flow, send],
  );

  const onKeyDown = (e: KeyboardEvent) => {
    if ((e.target as HTMLElement).closest('input, textarea, [role="dialog"]')) return;
    if ((e.key === 'Delete' || e.key === 'Backspace') && graphId) {
      if (pickedWires.length > 0) applyEdit('Remove wire', removeWires(graphId, pickedWires));
      else if (picked.length > 0) commands.remove();
      setPickedWires([]);
      e.preventDefault();
      return;
    }
    if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'f') {
      openPalette({ end: null, at: null, find: true });
      e.preventDefault();
      return;
    }
    if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'a') {
      commands.pickAll();
      e.preventDefault();
      return;
    }
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const command = commands.byKey[e.key.toLowerCase()];
    if (!command) return;
    command();
    e.preventDefault();
  };

  return (
    <section aria-label="Bench" data-bench className="flex h-full flex-col outline-none" tabIndex={-1} onKeyDown={onKeyDown}>
      <BenchHeader commands={commands} />
      <ContextMenu itemsAt={(target, e) => benchMenuAt(target, { x: e.clientX, y: e.clientY }, commands)}>
        <div
          data-far={far}
          className={`bench-paper relative min-h-0 flex-1 ${far ? 'far' : ''} ${pickedWires.length > 0 ? 'tracing' : ''}`}
          style={
            {
              '--dearest': Math.max(0.1, dearest[0]?.costInMs ?? 0).toFixed(2),
              ...(far && { '--zoom': farZoom }),
            } as CSSProperties
          }
        >
          <ReactFlow<BenchNode, WireEdge>
            nodes={cards}
            edges={wires}
            nodeTypes={NODE_TYPES}
            edgeTypes={EDGE_TYPES}
            proOptions={PRO}
            minZoom={0.1}
            maxZoom={2}
            disableKeyboardA11y
            deleteKeyCode={null}
            selectionKeyCode="Shift"
            multiSelectionKeyCode={['Control', 'Meta', 'Shift']}
            selectionMode={SelectionMode.Partial}
            zoomOnDoubleClick={false}
            connectionRadius={26}
            onMoveEnd={(_e, view) => graphId && (views.benches[graphId] = view)}
            onNodesChange={onNodesChange}
            onNodeDragStop={onNodeDragStop}
            onSelectionDragStop={(e, nodes) => onNodeDragStop(e, nodes[0], nodes)}
            onNodeClick={(_e, n) => {
              setPickedWires([]);
              if (n.type === 'section') return void send(sectionPicked(n.id));
              // A click on an output has picked that output already.
              if ((_e.target as HTMLElement).closest('[data-output]')) return;
              const out = n.id === picked[0] && picked.length === 1 ? undefined : commands.firstOutput(n.id);
              if (out && !_e.shiftKey && !_e.ctrlKey) send(portPicked({ node: n.id, port: out }));
            }}
            onNodeDoubleClick={(_e, n) => {
              if (n.type === 'card' && pickedUse()?.node.id === n.id) lookInside(n.id);
            }}
            onEdgeClick={(_e, w) => {
              setPickedWires([w.id]);
              send(portPicked({ node: w.source, port: w.sourceHandle ?? '' }));
              send(nodesPicked([]));
              send(portPicked({ node: w.source, port: w.sourceHandle ?? '' }));
            }}
            onEdgeDoubleClick={(_e, w) => commands.probe({ node: w.source, port: w.sourceHandle ?? '' })}
            onPaneClick={() => {
              setPickedWires([]);
              send(nodesPicked([]));
            }}
            onConnectStart={(_e, params) => {
              start.current = params;
              refusal.current = null;
              if (graph && params.nodeId && params.handleId)
                dragBegan(
                  graph,
                  { node: params.nodeId, port: params.handleId },
                  params.handleType === 'source' ? 'output' : 'input',
                );
            }}
            isValidConnection={isValid}
            onConnect={onConnect}
            onConnectEnd={onConnectEnd}
            onDoubleClick={(e) => {
              if ((e.target as HTMLElement).classList.contains('react-flow__pane'))
                openPalette({ end: null, at: flow.screenToFlowPosition({ x: e.clientX, y: e.clientY }) });
            }}
          >
            <Background variant={BackgroundVariant.Lines} gap={26} lineWidth={0.5} color="var(--line)" />
            {map && (
              <MiniMap
                pannable
                zoomable
                ariaLabel="Map of the graph"
                position="bottom-left"
                style={{ width: 150, height: 96 }}
                nodeColor={(n) => (n.type === 'section' ? 'var(--paper-sunk)' : 'var(--line-strong)')}
                maskColor="color-mix(in srgb, var(--paper) 55%, transparent)"
              />
            )}
          </ReactFlow>
          {graph && graph.nodes.length === 0 && <EmptyBench />}
          {!graph && (
            <p className="absolute inset-0 grid place-content-center text-soft">This project has no graph. Add one above.</p>
          )}
        </div>
      </ContextMenu>
    </section>
  );
}

/** Applies what the flow reports; cards go along with a dragged section, and boxes follow their cards. */
function changed(graph: GraphRecord, now: readonly BenchNode[], changes: readonly NodeChange<BenchNode>[]): BenchNode[] {
  const shifts = new Map<string, { x: number; y: number }>();
  for (const c of changes) {
    const section = now.find((n) => c.type === 'position' && n.id === c.id && n.type === 'section');
    if (!section || section.type !== 'section' || c.type !== 'position' || !c.position) continue;
    const by = { x: c.position.x - section.position.x, y: c.position.y - section.position.y };
    for (const id of section.data.section.nodes) shifts.set(id, by);
  }
  const next = applyNodeChanges([...changes], [...now]).map((n) => {
    const by = shifts.get(n.id);
    return by ? { ...n, position: { x: n.position.x + by.x, y: n.position.y + by.y } } : n;
  });
  const cards = next.filter((n) => n.type === 'card');
  return [...boxes(graph, cards, store.getState().ui.section, new Map(next.map((n) => [n.id, n]))), ...cards];
}

/** Cards dropped into the box of a section they are not in join it. */
function joinWhereDropped(graph: GraphRecord, dragged: readonly BenchNode[], nodes: readonly BenchNode[], gesture: string): void {
  const homes = sectionOf(graph);
  for (const target of nodes) {
    if (target.type !== 'section' || target.data.section.folded) continue;
    const { x, y } = target.position;
    const inside = (n: BenchNode) =>
      n.type === 'card' &&
      homes.get(n.id)?.id !== target.id &&
      n.position.x + 80 > x &&
      n.position.x + 80 < x + (target.width ?? 0) &&
      n.position.y + 20 > y &&
      n.position.y + 20 < y + (target.height ?? 0);
    const joining = dragged.filter(inside).map((n) => n.id);
    if (joining.length > 0) applyEdit('Move into section', moveToSection(graph.id, joining, target.id), gesture);
  }
}

/** A card without wires, let go over a wire, goes between its ends where it fits. */
function dropOnWire(graph: GraphRecord, id: string, gesture: string): void {
  const card = document.querySelector(`[data-card="${CSS.escape(id)}"]`)?.getBoundingClientRect();
  if (!card) return;
  const wire = wireUnder(card);
  const edit = wire === undefined ? undefined : putBetween(catalogue(), graph, wire, id);
  if (edit) applyEdit('Put between', edit, gesture);
}

/** The wire that runs under the head of a card; the nearest to its middle. */
function wireUnder(card: DOMRect): string | undefined {
  const middle = card.left + card.width / 2;
  let best: { id: string; away: number } | undefined;
  for (const edge of document.querySelectorAll<SVGGElement>('.react-flow__edge')) {
    const path = edge.querySelector<SVGPathElement>('path.react-flow__edge-path');
    const matrix = path?.getScreenCTM();
    const id = edge.dataset.id;
    if (!path || !matrix || id === undefined) continue;
    const length = path.getTotalLength();
    for (let k = 0; k <= 40; k++) {
      const at = path.getPointAtLength((length * k) / 40).matrixTransform(matrix);
      const isUnder = at.x > card.left && at.x < card.right && at.y > card.top && at.y < card.bottom;
      const away = Math.abs(at.x - middle);
      if (isUnder && (!best || away < best.away)) best = { id, away };
    }
  }
  return best?.id;
}

function EmptyBench() {
  return (
    <div className="pointer-events-none absolute inset-0 grid place-content-center text-center">
      <h2 className="font-serif text-lg">Nothing on the bench yet</h2>
      <p className="mt-1 max-w-sm text-soft">
        Bring in a mesh first: drop an OBJ, GLB or glTF file anywhere, or make one. Then read its points, and shape them.
      </p>
      <p className="pointer-events-auto mt-3">
        <Button look="framed" onClick={() => openPalette({ end: null, at: null })}>
          Add a node <span className="number text-xs text-faint">Ctrl K</span>
        </Button>
      </p>
    </div>
  );
}

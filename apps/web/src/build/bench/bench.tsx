import {
  applyNodeChanges,
  Background,
  BackgroundVariant,
  ReactFlow,
  SelectionMode,
  useReactFlow,
  type Connection,
  type FinalConnectionState,
  type NodeChange,
  type OnConnectStartParams,
} from '@xyflow/react';
import {
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
  type CSSProperties,
  type KeyboardEvent,
} from 'react';
import { useDearest } from './dearest.ts';
import { checkConnection, type PortRef } from '@umberfish/core';
import { connect, moveNodes, removeNodes, removeWires } from '../../state/edits.ts';
import { gestureEnded } from '../../state/project-slice.ts';
import { applyEdit, selectGraph, useSend, useStore } from '../../state/store.ts';
import { nodesPicked, portPicked, remarked } from '../../state/ui-slice.ts';
import { Button } from '../../ui/button.tsx';
import { BenchHeader } from './bench-header.tsx';
import { Card } from './card.tsx';
import { looseEnd } from './catalogue.ts';
import { syncCards, syncWires, type CardNode, type WireEdge } from './flow.ts';
import { openPalette } from './palette.ts';
import { useBenchCommands } from './use-bench-commands.ts';
import { Wire } from './wire.tsx';

const NODE_TYPES = { card: Card };
const EDGE_TYPES = { wire: Wire };
const PRO = { hideAttribution: true };
const FIT = { padding: 0.06, maxZoom: 1 };

/** The graph editor. */
export function Bench() {
  const graph = useStore(selectGraph);
  const picked = useStore((s) => s.ui.nodes);
  const send = useSend();
  const flow = useReactFlow<CardNode, WireEdge>();
  const [cards, setCards] = useState<CardNode[]>([]);
  const [pickedWires, setPickedWires] = useState<readonly string[]>([]);
  const wiresBefore = useRef<WireEdge[]>([]);
  const refusal = useRef<string | null>(null);
  const start = useRef<OnConnectStartParams | null>(null);
  const commands = useBenchCommands();
  const dearest = useDearest();
  const graphId = graph?.id;

  useEffect(() => {
    setCards((before) => (graph ? syncCards(graph, picked, before) : []));
  }, [graph, picked]);

  const wires = useMemo(() => {
    const plain = graph ? syncWires(graph, wiresBefore.current) : [];
    wiresBefore.current = plain;
    return pickedWires.length === 0
      ? plain
      : plain.map((w) => (pickedWires.includes(w.id) ? { ...w, selected: true } : w));
  }, [graph, pickedWires]);

  // A graph is framed when it is opened.
  useEffect(() => {
    if (!graphId) return;
    const frame = window.setTimeout(() => void flow.fitView(FIT), 60);
    return () => window.clearTimeout(frame);
  }, [graphId, flow]);

  const onNodesChange = useCallback(
    (changes: NodeChange<CardNode>[]) => {
      setCards((now) => applyNodeChanges(changes, now));
      const selections = changes.filter((c) => c.type === 'select');
      if (selections.length === 0) return;
      const next = new Set(picked);
      for (const c of selections) {
        if (c.selected) next.add(c.id);
        else next.delete(c.id);
      }
      send(nodesPicked([...next]));
    },
    [picked, send],
  );

  const onNodeDragStop = useCallback(
    (_e: unknown, _n: CardNode, dragged: CardNode[]) => {
      if (!graphId) return;
      const to = new Map(
        dragged.map((n) => [n.id, [Math.round(n.position.x), Math.round(n.position.y)] as const]),
      );
      applyEdit(dragged.length > 1 ? `Move ${dragged.length} nodes` : 'Move node', moveNodes(graphId, to));
      send(gestureEnded());
    },
    [graphId, send],
  );

  const refOf = (c: Connection): [PortRef, PortRef] => [
    { node: c.source, port: c.sourceHandle ?? '' },
    { node: c.target, port: c.targetHandle ?? '' },
  ];

  const isValid = useCallback(
    (c: Connection | WireEdge) => {
      if (!graph) return false;
      const result = checkConnection(graph, ...refOf(c as Connection));
      refusal.current = result.ok ? null : result.reason;
      return result.ok;
    },
    [graph],
  );

  const onConnect = useCallback(
    (c: Connection) => graphId && applyEdit('Connect', connect(graphId, ...refOf(c))),
    [graphId],
  );

  /** A wire let go over nothing offers what fits; over a port that refuses it, says why. */
  const onConnectEnd = useCallback(
    (event: MouseEvent | TouchEvent, state: FinalConnectionState) => {
      const from = start.current;
      start.current = null;
      if (!graph || state.isValid || !from?.nodeId || !from.handleId) return;
      if (state.toHandle) {
        if (refusal.current) send(remarked({ text: `Not connected. ${refusal.current}`, kind: 'wrong' }));
        return;
      }
      const at = 'changedTouches' in event ? event.changedTouches[0] : event;
      const end = looseEnd(
        graph,
        { node: from.nodeId, port: from.handleId },
        from.handleType === 'source' ? 'output' : 'input',
      );
      if (end) openPalette({ end, at: flow.screenToFlowPosition({ x: at.clientX, y: at.clientY }) });
    },
    [graph, flow, send],
  );

  const onKeyDown = (e: KeyboardEvent) => {
    if ((e.target as HTMLElement).closest('input, textarea, [role="dialog"]')) return;
    if ((e.key === 'Delete' || e.key === 'Backspace') && graphId) {
      if (pickedWires.length > 0) applyEdit('Remove wire', removeWires(graphId, pickedWires));
      else if (picked.length > 0) {
        applyEdit(
          picked.length > 1 ? `Remove ${picked.length} nodes` : 'Remove node',
          removeNodes(graphId, picked),
        );
        send(nodesPicked([]));
      }
      setPickedWires([]);
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
    <section
      aria-label="Bench"
      data-bench
      className="flex h-full flex-col outline-none"
      tabIndex={-1}
      onKeyDown={onKeyDown}
    >
      <BenchHeader commands={commands} />
      <div
        className="bench-paper relative min-h-0 flex-1"
        style={{ '--dearest': Math.max(0.1, dearest[0]?.costInMs ?? 0).toFixed(2) } as CSSProperties}
      >
        <ReactFlow<CardNode, WireEdge>
          nodes={cards}
          edges={wires}
          nodeTypes={NODE_TYPES}
          edgeTypes={EDGE_TYPES}
          proOptions={PRO}
          minZoom={0.1}
          maxZoom={2}
          fitView
          fitViewOptions={FIT}
          disableKeyboardA11y
          deleteKeyCode={null}
          selectionKeyCode="Shift"
          multiSelectionKeyCode={['Control', 'Meta', 'Shift']}
          selectionMode={SelectionMode.Partial}
          zoomOnDoubleClick={false}
          connectionRadius={26}
          onNodesChange={onNodesChange}
          onNodeDragStop={onNodeDragStop}
          onSelectionDragStop={(e, nodes) => onNodeDragStop(e, nodes[0], nodes)}
          onNodeClick={(_e, n) => {
            setPickedWires([]);
            const out = n.id === picked[0] && picked.length === 1 ? undefined : commands.firstOutput(n.id);
            if (out && !_e.shiftKey && !_e.ctrlKey) send(portPicked({ node: n.id, port: out }));
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
        </ReactFlow>
        {graph && graph.nodes.length === 0 && <EmptyBench />}
        {!graph && (
          <p className="absolute inset-0 grid place-content-center text-soft">
            This project has no graph. Add one above.
          </p>
        )}
      </div>
    </section>
  );
}

function EmptyBench() {
  return (
    <div className="pointer-events-none absolute inset-0 grid place-content-center text-center">
      <h2 className="font-serif text-lg">Nothing on the bench yet</h2>
      <p className="mt-1 max-w-sm text-soft">
        Bring in a mesh first: drop an OBJ, GLB or glTF file anywhere, or make one. Then read its points, and
        shape them.
      </p>
      <p className="pointer-events-auto mt-3">
        <Button look="framed" onClick={() => openPalette({ end: null, at: null })}>
          Add a node <span className="number text-xs text-faint">Ctrl K</span>
        </Button>
      </p>
    </div>
  );
}

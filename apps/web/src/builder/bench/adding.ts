import { CARD_WIDTH } from '@umberfish/bench-layout';
import {
  addNode,
  beginOn,
  connect,
  feedInto,
  goOnFrom,
  idInGraph,
  inGraph,
  kindOf,
  moveNodes,
  newId,
  nodeOf,
  objectAbout,
  objectBehind,
  pathOfInside,
  replaceNode,
  settingsOf,
  resolveGraph,
  shownResults,
  type GraphRecord,
  type NodeDefinition,
  type NodeRecord,
  type PortRef,
  type SettingValue,
} from '@umberfish/core';
import type { useReactFlow } from '@xyflow/react';
import { placedMeshIn } from '../../engine/placed-mesh.ts';
import { catalogue } from '../../state/catalogue.ts';
import { applyEdit, selectGraph, store } from '../../state/store.ts';
import { nodesPicked, portPicked, remarked } from '../../state/ui-slice.ts';
import { circleOf } from '../modules/commands.ts';
import { fittingPort } from './catalogue.ts';
import type { PaletteRequest } from './palette.ts';

type Flow = ReturnType<typeof useReactFlow>;

/** Room between cards (pixels). */
const GAP = 46;
const BETWEEN = 26;

/**
 * Adds a node where the palette was asked for: at a wire end, it is connected to that; with a card picked, it goes on from
 * it, to the right, in view.
 */
export function addFromPalette(flow: Flow, definition: NodeDefinition, request: PaletteRequest): void {
  const graph = selectGraph(store.getState());
  if (!graph) return;
  const circle = circleOf(graph.id, definition.id);
  if (circle) return void store.dispatch(remarked({ text: circle, kind: 'wrong' }));
  if (request.replace !== undefined) return replaceBy(graph, request.replace, definition);
  const { end } = request;
  const from = end ? (end.side === 'output' ? end.ref : undefined) : pickedOutput(graph);
  const goesOn = !end && !request.at && from !== undefined;
  const bareNode = nodeOf(definition, [0, 0], {});
  const onward = goesOn ? goOnFrom(catalogue(), graph, from, bareNode) : { wires: [], without: [] };
  // What takes nothing of the picked card may give it something: then it stands before it.
  const fed = goesOn && onward.wires.length === 0 ? feedInto(catalogue(), graph, from.node, bareNode) : undefined;
  const { wires, without } = fed ? { wires: [fed], without: [] } : onward;
  const wanted = request.at ?? (goesOn ? beside(graph, from.node, fed ? -1 : 1) : middleOf(flow));
  // Between two cards, those to the right make room.
  const room = without.length > 0 ? moveNodes(graph.id, movedAside(graph, wanted.x)) : undefined;
  const at = room ? { x: wanted.x, y: wanted.y } : freePlace(flow, wanted, graph);
  const started = { ...bareNode, position: [at.x, at.y] as const, settings: settingsFor(definition, graph, from) };
  const port = end ? fittingPort(definition, end) : undefined;
  // A place on the wire is no place to be made.
  const isGiven = definition.inputs(settingsOf(definition, started)).some((i) => i.id === port && i.starts);
  const { node, locators } = isGiven
    ? { node: started, locators: [] }
    : begunOn(definition, graph, end?.ref.node ?? from?.node, started);
  const label = `Add ${definition.title}`;
  const gesture = newId('step');
  if (room) applyEdit(label, room, gesture);
  if (locators.length > 0) applyEdit(label, (p) => ({ ...p, objects: [...p.objects, ...locators] }), gesture);
  applyEdit(label, addNode(graph.id, node), gesture);
  if (end && port) {
    const mine: PortRef = { node: node.id, port };
    applyEdit(label, end.side === 'output' ? connect(graph.id, end.ref, mine) : connect(graph.id, mine, end.ref), gesture);
  } else if (wires.length > 0) applyEdit(label, rewire(graph.id, wires, without), gesture);
  const output = definition.outputs(settingsOf(definition, node))[0]?.id;
  const id = idInGraph(graph.id, node.id);
  store.dispatch(output ? portPicked({ node: id, port: output }) : nodesPicked([id]));
  bringIntoView(flow, at);
}

const rewire = (graph: string, wires: GraphRecord['wires'], without: readonly string[]) => (p: Parameters<typeof inGraph>[0]) =>
  inGraph(p, graph, (g) => ({ ...g, wires: [...g.wires.filter((w) => !without.includes(w.id)), ...wires] }));

function replaceBy(graph: GraphRecord, id: string, definition: NodeDefinition): void {
  applyEdit(`Replace by ${definition.title}`, replaceNode(catalogue(), graph, id, definition));
  store.dispatch(nodesPicked([id]));
}

/** The output that a new card goes on from: the one looked at, or the first of the picked card. */
function pickedOutput(graph: GraphRecord): PortRef | undefined {
  const { ui } = store.getState();
  if (ui.nodes.length !== 1) return undefined;
  const node = resolveGraph(catalogue(), graph).get(ui.nodes[0]);
  const port = node?.outputs.find((o) => ui.port?.node === ui.nodes[0] && o.id === ui.port.port) ?? node?.outputs[0];
  return port && { node: ui.nodes[0], port: port.id };
}

/** New nodes that read an object take the picked one, or the only one there is; what shows a mesh takes its object. */
function settingsFor(definition: NodeDefinition, graph: GraphRecord, from: PortRef | undefined): NodeRecord['settings'] {
  const { project, ui } = { project: store.getState().project.project, ui: store.getState().ui };
  const setting = definition.settings.find((s) => s.type === 'object');
  // Nothing inside of a module points at a scene.
  if (!project || setting?.type !== 'object' || (ui.graph !== null && pathOfInside(ui.graph) !== undefined)) return {};
  const of = (object: string | undefined): Record<string, SettingValue> => (object === undefined ? {} : { [setting.id]: object });
  if (definition.shows) {
    const shown = new Set(shownResults(catalogue(), project).map((r) => r.object));
    const behind = from && objectBehind(catalogue(), graph, from);
    return of(behind !== undefined && !shown.has(behind) ? behind : undefined);
  }
  // What would get a locator of its own takes another only where that was picked.
  const mayTakeAny = setting.starts === undefined;
  // Of all that would do, those that are just that.
  const wanted = setting.takes === 'any' ? 'mesh' : setting.takes;
  const fitting = project.objects.filter((o) => kindOf(o).fits[0] === wanted);
  const chosen = fitting.find((o) => ui.objects.includes(o.id)) ?? (mayTakeAny && fitting.length === 1 ? fitting[0] : undefined);
  return of(chosen?.id);
}

/** The node with its places where the mesh stands that it will be about: the one behind a card, else the picked one. */
function begunOn(definition: NodeDefinition, graph: GraphRecord, card: string | undefined, node: NodeRecord) {
  const { project, ui } = store.getState();
  const asItIs = { node, locators: [] };
  // Nothing inside of a module points at a scene.
  if (!project.project || pathOfInside(graph.id) !== undefined) return asItIs;
  const picked = project.project.objects.find((o) => ui.objects.includes(o.id) && o.type === 'mesh');
  const object = (card !== undefined && objectAbout(catalogue(), graph, card)) || picked?.id;
  const placed = object ? placedMeshIn(graph, object) : undefined;
  return placed ? beginOn(project.project, definition, node, placed) : asItIs;
}

interface Spot {
  readonly x: number;
  readonly y: number;
}

/** Cards from a place on to the right, one column farther. */
const movedAside = ({ nodes }: GraphRecord, x: number): Map<string, readonly [number, number]> =>
  new Map(
    nodes.filter((n) => n.position[0] > x - CARD_WIDTH / 2).map((n) => [n.id, [n.position[0] + CARD_WIDTH + GAP, n.position[1]]]),
  );

function beside(graph: GraphRecord, id: string, side: 1 | -1): Spot {
  const [x, y] = graph.nodes.find((n) => n.id === id)?.position ?? [0, 0];
  return { x: x + side * (CARD_WIDTH + GAP), y };
}

function middleOf(flow: Flow): Spot {
  const box = document.querySelector('[data-bench] .react-flow')?.getBoundingClientRect();
  return flow.screenToFlowPosition({
    x: (box?.left ?? 0) + (box?.width ?? 800) / 2 - 80,
    y: (box?.top ?? 0) + (box?.height ?? 600) / 2 - 80,
  });
}

/** A new card is about so high until it is measured. */
const NEW_CARD = 150;

/** A spot, moved down until no card is there. */
export function freePlace(flow: Flow, from: Spot, graph: GraphRecord): Spot {
  const heights = new Map(flow.getNodes().map((n) => [n.id, n.measured?.height ?? NEW_CARD]));
  const taken = graph.nodes.map((n) => ({ x: n.position[0], y: n.position[1], height: heights.get(n.id) ?? NEW_CARD }));
  let { y } = from;
  for (;;) {
    const hit = taken.find(
      (c) => Math.abs(c.x - from.x) < CARD_WIDTH + 8 && y < c.y + c.height + BETWEEN && y + NEW_CARD + BETWEEN > c.y,
    );
    if (!hit) return { x: Math.round(from.x), y: Math.round(y) };
    y = hit.y + hit.height + BETWEEN;
  }
}

/** Pans, as far as it must, so that a new card is seen. */
function bringIntoView(flow: Flow, { x, y }: Spot): void {
  const box = document.querySelector('[data-bench] .react-flow')?.getBoundingClientRect();
  if (!box) return;
  const { zoom, ...view } = flow.getViewport();
  const margin = 16;
  const into = (start: number, size: number, whole: number, shift: number) => {
    const [low, high] = [start * zoom + shift, (start + size) * zoom + shift];
    return low < margin ? margin - low : high > whole - margin ? whole - margin - high : 0;
  };
  const dx = into(x, CARD_WIDTH, box.width, view.x);
  const dy = into(y, NEW_CARD, box.height, view.y);
  if (dx !== 0 || dy !== 0) void flow.setViewport({ x: view.x + dx, y: view.y + dy, zoom });
}

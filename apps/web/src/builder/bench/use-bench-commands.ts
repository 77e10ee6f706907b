import {
  resolveGraph,
  SHOWN_PORT,
  type GraphRecord,
  type PortRef,
  changeNode,
  moveNodes,
  setAllPins,
  newId,
  idInGraph,
  usedKey,
  pasteNodes,
  takeIn,
  typeOfUse,
  removeAndHeal,
  removeNodes,
  takeOut,
  setPreview,
  toggleProbe,
  addSection,
  moveToSection,
} from '@umberfish/core';
import { getViewportForBounds, useReactFlow, useStoreApi } from '@xyflow/react';
import { useEffect, useMemo } from 'react';
import { applyEdit, selectGraph, store } from '../../state/store.ts';
import { nodesPicked, portPicked, remarked, sectionPicked, uiSet } from '../../state/ui-slice.ts';
import { pinLooked } from '../readout/compare-bar.tsx';
import { FIT, sectionOf } from './flow.ts';
import { circleOf, goOut, lookInside, makeModule, pickedUse } from '../modules/commands.ts';
import { copyNodes, readCopied } from './clipboard.ts';
import { alignedPositions, boxRound } from './tidy.ts';
import { openPalette } from './palette.ts';
import { tidyAway } from './tidying.ts';
import { catalogue } from '../../state/catalogue.ts';

/** What can be done with the bench, for keys, buttons and the palette alike. */
export interface BenchCommands {
  preview(): void;
  probe(ref?: PortRef): void;
  skip(): void;
  tidy(): void;
  fit(): void;
  /** Puts the picked nodes in a section, or takes them out of the one they are all in. */
  section(): void;
  align(how: 'left' | 'top' | 'spread'): void;
  toggleMap(): void;
  pickAll(): void;
  replace(): void;
  remove(): void;
  takeOut(): void;
  firstOutput(node: string): string | undefined;
  byKey: Record<string, () => unknown>;
}

const say = (text: string, kind: 'done' | 'wrong' = 'wrong') => store.dispatch(remarked({ text, kind }));
const now = () => ({ graph: selectGraph(store.getState()), ui: store.getState().ui });

export function useBenchCommands(): BenchCommands {
  const flow = useReactFlow();
  const pane = useStoreApi();

  return useMemo((): BenchCommands => {
    const firstOutput = (node: string) => {
      const { graph } = now();
      const at = graph ? resolveGraph(catalogue(), graph).get(node) : undefined;
      return at?.outputs[0]?.id ?? (at?.definition?.shows ? SHOWN_PORT : undefined);
    };
    const preview = () => {
      const { graph, ui } = now();
      if (!graph) return;
      const node = ui.nodes[0];
      if (!node)
        return graph.preview
          ? applyEdit('End preview', setPreview(graph.id, null))
          : say('Pick a node to preview it in the stage.');
      applyEdit(graph.preview === node ? 'End preview' : 'Preview', setPreview(graph.id, graph.preview === node ? null : node));
    };
    const probe = (ref?: PortRef) => {
      const { graph, ui } = now();
      const port = ref ?? ui.port ?? undefined;
      if (!graph || !port || port.port === SHOWN_PORT) return say('Pick an output or a wire to probe it.');
      applyEdit('Probe', toggleProbe(graph.id, port.node, port.port));
    };
    const skip = () => {
      const { graph, ui } = now();
      if (!graph || ui.nodes.length === 0) return say('Pick nodes to skip them.');
      const gesture = newId('step');
      for (const id of ui.nodes) {
        const node = graph.nodes.find((n) => n.id === id);
        if (node) applyEdit('Skip', changeNode(graph.id, id, { skip: !node.skip }), gesture);
      }
    };
    const tidy = async () => {
      const { graph, ui } = now();
      const { project } = store.getState().project;
      if (!project || !graph || graph.nodes.length === 0) return;
      const heights = new Map(flow.getNodes().map((n) => [n.id, n.measured?.height ?? 120]));
      // What is picked is higher than it stands; several picked are tidied alone, the others stay.
      for (const id of ui.nodes) heights.delete(id);
      const only = ui.nodes.length > 1 ? new Set(ui.nodes) : null;
      const found = await tidyAway(project, graph, heights, only);
      // What was edited meanwhile is not put back.
      if (!found || selectGraph(store.getState()) !== graph) return;
      applyEdit('Tidy', (p) => setAllPins(graph.id, found.pins)(moveNodes(graph.id, found.places)(p)));
      if (only) return;
      // The view is worked out from the places themselves: the cards get there with the next picture.
      const { width, height, minZoom } = pane.getState();
      const box = boxRound(found.places, heights);
      void flow.setViewport(getViewportForBounds(box, width, height, minZoom, 1, FIT.padding));
    };
    const section = () => {
      const { graph, ui } = now();
      if (!graph || ui.nodes.length === 0) return say('Pick the nodes that belong together first.');
      const homes = sectionOf(graph);
      const home = homes.get(ui.nodes[0]);
      if (home && ui.nodes.every((n) => homes.get(n) === home))
        return applyEdit('Take out of section', moveToSection(graph.id, ui.nodes, null));
      const id = newId('section');
      applyEdit('Add section', addSection(graph.id, id, ui.nodes));
      store.dispatch(sectionPicked(id));
    };
    const align = (how: 'left' | 'top' | 'spread') => {
      const { graph, ui } = now();
      if (!graph || ui.nodes.length < 2) return say('Pick two or more nodes to align them.');
      const heights = new Map(flow.getNodes().map((n) => [n.id, n.measured?.height ?? 120]));
      applyEdit('Align', moveNodes(graph.id, alignedPositions(graph, ui.nodes, how, heights)));
    };
    const pickAll = () => {
      const { graph } = now();
      if (graph) store.dispatch(nodesPicked(graph.nodes.map((n) => idInGraph(graph.id, n.id))));
    };
    const toggleMap = () => store.dispatch(uiSet({ map: !now().ui.map }));
    const fit = () => {
      const { ui } = now();
      void flow.fitView({
        padding: 0.2,
        maxZoom: 1,
        nodes: ui.nodes.length > 0 ? ui.nodes.map((id) => ({ id })) : undefined,
      });
    };
    const replace = () => {
      const { ui } = now();
      const { graph } = now();
      if (!graph || ui.nodes.length !== 1) return say('Pick the one card that shall be replaced.');
      if (resolveGraph(catalogue(), graph).get(ui.nodes[0])?.definition?.way)
        return say('The walls of a module stay. Pick another card to replace it.');
      openPalette({ end: null, at: null, replace: ui.nodes[0] });
    };
    const remove = () => {
      const { graph, ui } = now();
      if (!graph || ui.nodes.length === 0) return say('Pick the cards that shall go.');
      const label = ui.nodes.length > 1 ? `Remove ${ui.nodes.length} nodes` : 'Remove node';
      applyEdit(label, removeAndHeal(catalogue(), graph, ui.nodes));
      store.dispatch(nodesPicked([]));
    };
    const out = () => {
      const { graph, ui } = now();
      if (!graph || ui.nodes.length === 0) return say('Pick the cards that shall come out of their chain.');
      applyEdit('Take out of the chain', takeOut(catalogue(), graph, ui.nodes));
    };
    const walk = (towards: 'source' | 'user') => () => {
      const { graph, ui } = now();
      const next = graph && neighbour(graph, ui.nodes[0], towards);
      if (!graph || !next) return;
      // A preview walks along, so that stage and values stay on the same node.
      if (graph.preview !== null) applyEdit('Preview', setPreview(graph.id, next), 'walk');
      const port = firstOutput(next);
      store.dispatch(port ? portPicked({ node: next, port }) : nodesPicked([next]));
    };
    return {
      preview,
      probe,
      skip,
      tidy,
      fit,
      section,
      align,
      toggleMap,
      pickAll,
      replace,
      remove,
      takeOut: out,
      firstOutput,
      byKey: {
        p: preview,
        r: () => probe(),
        s: skip,
        l: tidy,
        f: fit,
        n: section,
        a: () => (now().ui.port ? pinLooked('pinA') : say('Pick an output or a wire to pin it as A.')),
        b: () => (now().ui.port ? pinLooked('pinB') : say('Pick an output or a wire to pin it as B.')),
        m: makeModule,
        x: replace,
        u: goOut,
        enter: () => now().ui.nodes.length === 1 && pickedUse() && lookInside(now().ui.nodes[0]),
        arrowleft: walk('source'),
        arrowright: walk('user'),
      },
    };
  }, [flow, pane]);
}

/** Copy, cut and paste of cards go through the system clipboard, so that they work between tabs. */
export function useBenchClipboard(): void {
  useEffect(() => {
    const typing = () => document.activeElement?.closest('input, textarea') !== null && document.activeElement !== document.body;
    const copy = (e: ClipboardEvent) => {
      const { graph, ui } = now();
      if (!graph || ui.nodes.length === 0 || typing()) return;
      const { project } = store.getState().project;
      if (project) e.clipboardData?.setData('text/plain', copyNodes(project, graph, ui.nodes));
      e.preventDefault();
      if (e.type === 'cut') {
        applyEdit('Cut', removeNodes(graph.id, ui.nodes));
        store.dispatch(nodesPicked([]));
      }
    };
    const paste = (e: ClipboardEvent) => {
      const { graph } = now();
      const copied = graph && !typing() ? readCopied(e.clipboardData?.getData('text/plain') ?? '') : undefined;
      if (!graph || !copied) return;
      const circle = copied.nodes.map((n) => circleOf(graph.id, n.type)).find((c) => c !== undefined);
      if (circle) return say(circle);
      const ids = new Map(copied.nodes.map((n) => [n.id, newId(usedKey(n) === undefined ? n.type : 'use')]));
      applyEdit('Paste', (p) => {
        // Modules that are not here come along; where another has their place, they go by another id.
        let made = p;
        let { nodes } = copied;
        for (const file of copied.modules) {
          const taken = takeIn(made, file);
          made = taken.project;
          nodes = nodes.map((n) => (n.type === typeOfUse(file.module) ? { ...n, type: typeOfUse(taken.module) } : n));
        }
        return pasteNodes(graph.id, nodes, copied.wires, ids, [36, 36])(made);
      });
      store.dispatch(nodesPicked([...ids.values()].map((id) => idInGraph(graph.id, id))));
      e.preventDefault();
    };
    document.addEventListener('copy', copy);
    document.addEventListener('cut', copy);
    document.addEventListener('paste', paste);
    return () => {
      document.removeEventListener('copy', copy);
      document.removeEventListener('cut', copy);
      document.removeEventListener('paste', paste);
    };
  }, []);
}

/** The node before or after one along a wire: the first input's source, or the first user of an output. */
function neighbour(graph: GraphRecord, id: string | undefined, towards: 'source' | 'user'): string | undefined {
  if (!id) return graph.nodes[0]?.id;
  if (towards === 'user') return graph.wires.find((w) => w.from.node === id)?.to.node;
  const node = resolveGraph(catalogue(), graph).get(id);
  const first = node?.inputs.find((i) => node.wires.has(i.id));
  return first && node?.wires.get(first.id)?.from.node;
}

import { graphAt, type Project } from '@umberfish/core';
import { z } from 'zod';
import type { Store } from './store.ts';
import type { UiState } from './ui-slice.ts';

const place = z.tuple([z.number(), z.number(), z.number()]).readonly();
const viewport = z.object({ x: z.number(), y: z.number(), zoom: z.number().positive() });
const ids = z.array(z.string());

/** How somebody left a project: what was open and picked, and the views of benches (by graph) and of the stage. */
const leftOff = z.object({
  graph: z.string().nullable(),
  nodes: ids,
  objects: ids,
  port: z.object({ node: z.string(), port: z.string() }).nullable(),
  frame: z.number(),
  readout: z.enum(['values', 'plot', 'contact', 'messages']),
  keys: z.enum(['off', 'rows', 'curves']),
  benches: z.record(z.string(), viewport),
  stage: z.object({ eye: place, target: place, parallel: z.boolean() }).nullable(),
});
type LeftOff = z.infer<typeof leftOff>;

export type BenchView = z.infer<typeof viewport>;
export type StageView = NonNullable<LeftOff['stage']>;

/** The views of the project that is open; they change with every turn of the wheel, so they are in no slice. */
export const views: { benches: Record<string, BenchView>; stage: StageView | null } = { benches: {}, stage: null };

const KEY = 'umberfish-left ';
const WAIT_IN_MS = 500;

function read(project: string): LeftOff | null {
  try {
    return leftOff.safeParse(JSON.parse(localStorage.getItem(KEY + project) ?? 'null')).data ?? null;
  } catch {
    return null;
  }
}

/** Forgets how a project was left. */
export function forgetLeftOff(project: string): void {
  try {
    localStorage.removeItem(KEY + project);
  } catch {
    // Nothing was kept.
  }
}

/**
 * Takes over the views with which a project was left in this browser.
 * @returns what was open and picked, as far as the project still has it; null when it was never left here
 */
export function recallLeftOff(project: Project): Partial<UiState> | null {
  const left = read(project.id);
  views.benches = left?.benches ?? {};
  views.stage = left?.stage ?? null;
  if (!left || left.graph === null) return null;
  const graph = graphAt(project, left.graph);
  if (!graph) return null;
  const hasNode = (id: string) => graph.nodes.some((n) => n.id === id);
  return {
    graph: left.graph,
    nodes: left.nodes.filter(hasNode),
    objects: left.objects.filter((id) => project.objects.some((o) => o.id === id)),
    port: left.port && hasNode(left.port.node) ? left.port : null,
    frame: Math.min(project.range.last, Math.max(project.range.first, left.frame)),
    readout: left.readout,
    keys: left.keys,
  };
}

/** Writes down how a project looks now. */
export function writeLeftOff(project: Project, ui: UiState): void {
  const { graph, objects, frame, readout } = ui;
  // Animate shows its own keys and picks no cards: those of Build stay as they were.
  const { nodes, port, keys } = (ui.animating ? read(project.id) : null) ?? ui;
  try {
    const left: LeftOff = { graph, nodes, objects, port, frame, readout, keys, ...views };
    localStorage.setItem(KEY + project.id, JSON.stringify(left));
  } catch {
    // Without storage it opens as it comes.
  }
}

/** Remembers how the open project is left, while one looks around in it. */
export function keepLeftOff(store: Store): void {
  let timer = 0;
  const write = () => {
    window.clearTimeout(timer);
    timer = 0;
    const { project, ui } = store.getState();
    if (project.project) writeLeftOff(project.project, ui);
  };
  store.subscribe(() => (timer ||= window.setTimeout(write, WAIT_IN_MS)));
  window.addEventListener('pagehide', write);
}

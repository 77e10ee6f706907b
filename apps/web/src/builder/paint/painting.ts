import {
  chainOf,
  counted,
  jointsOf,
  nameAcross,
  objectsById,
  resolveNode,
  setSetting,
  settingsOf,
  shownResults,
  WEIGHT_PREFIX,
  weightName,
  withPaint,
  type Across,
  type GraphRecord,
  type Neighbours,
  type PaintChange,
  type Painted,
  type PaintedNumbers,
  type Project,
} from '@umberfish/core';
import { engine } from '../../engine/index.ts';
import { PREVIEW_KEY } from '../../engine/request.ts';
import type { Paintable } from '../../engine/paint-desk.ts';
import { catalogue } from '../../state/catalogue.ts';
import { applyEdit, selectGraph, store, type State } from '../../state/store.ts';
import type { DrawnItem } from '../stage/drawn-items.ts';
import { remarked } from '../../state/ui-slice.ts';

/*
 * What is painted: the node whose settings hold it, what a brush has to know of its mesh, and how a change is written.
 */

/** The node that is painted, with what its settings say. */
export interface PaintedNode {
  readonly id: string;
  readonly graph: GraphRecord;
  readonly name: string;
  readonly least: number;
  readonly most: number;
  /** Weights of joints, which sum to 1. */
  readonly together: boolean;
  readonly painted: Painted;
}

export function paintedNode(state: State): PaintedNode | null {
  const graph = selectGraph(state);
  const record = graph?.nodes.find((n) => n.id === state.ui.painting?.node);
  const definition = record && resolveNode(catalogue(), record).definition;
  if (!graph || !record || !definition) return null;
  const s = settingsOf(definition, record);
  const name = s.name as string;
  return {
    ...{ id: record.id, graph, name },
    least: Math.min(s.least as number, s.most as number),
    most: Math.max(s.least as number, s.most as number),
    painted: s.painted as Painted,
    together: s.together === true && name.startsWith(WEIGHT_PREFIX),
  };
}

type PlaceOfNode = Pick<PaintedNode, 'graph' | 'id'>;

/** The node, and all that gets something from it. */
function reachedFrom({ graph, id }: PlaceOfNode): ReadonlySet<string> {
  const found = new Set([id]);
  for (const node of found) for (const w of graph.wires) if (w.from.node === node) found.add(w.to.node);
  return found;
}

/** Whether what the stage shows of a graph comes from a node. */
export function isOnStage(project: Project, node: PlaceOfNode): boolean {
  const found = reachedFrom(node);
  const { preview } = node.graph;
  if (preview !== null) return found.has(preview);
  return shownResults(catalogue(), project).some((r) => found.has(r.node));
}

/** Whether a brush can paint on what is drawn: a mesh that comes from the painted node, in the world, not the ghost of one. */
export function isPaintedOn(node: PlaceOfNode, item: DrawnItem): boolean {
  if (item.ghost || item.matrix !== null || item.mesh.instances) return false;
  const found = reachedFrom(node);
  return item.id === PREVIEW_KEY ? found.has(node.graph.preview ?? '') : item.ref !== null && found.has(item.ref.node);
}

let edges: { topology: string; neighbours: Neighbours } | null = null;

/** A mesh that is painted, with its neighbours. */
export type PaintedMesh = Paintable & { readonly neighbours: Neighbours };

/** What a brush has to know of the mesh that comes out of the node; undefined while it gives none. */
export async function askPaintable(node: PaintedNode, across: 0 | 1 | 2 | null): Promise<PaintedMesh | undefined> {
  const { frame } = store.getState().ui;
  const ref = { node: node.id, port: 'mesh' };
  const found = await engine.paintable(frame, ref, { name: node.name, known: edges?.topology ?? null, across });
  if (!found) return undefined;
  if (found.neighbours) edges = { topology: found.topology, neighbours: found.neighbours };
  if (edges?.topology !== found.topology) return undefined;
  return { ...found, neighbours: edges.neighbours };
}

/** The numbers that a stroke begins with. Joints of the chain that move nothing yet count as well. */
export function numbersOf(node: PaintedNode, mesh: Paintable, locked: readonly string[]): PaintedNumbers {
  return {
    ...{ name: node.name, least: node.least, most: node.most, columns: mesh.columns },
    together: node.together ? { locked: new Set(locked) } : null,
  };
}

/** The other side, where there is one: joints go across by the names of sides. */
export function acrossOf(project: Project, mesh: Paintable): Across | null {
  if (!mesh.across) return null;
  const names = new Map<string, string>();
  for (const o of project.objects) {
    const other = o.type === 'joint' ? nameAcross(o.name, project.sides) : undefined;
    if (other !== undefined) names.set(weightName(o.name), weightName(other));
  }
  return { partners: mesh.across.partners, nameAcross: (name) => names.get(name) ?? name };
}

/** Writes what a brush changed; changes of one gesture are one step back. */
export function writePaint(change: PaintChange, pointCount: number, label: string, gesture: string | null = null): void {
  const node = paintedNode(store.getState());
  if (!node || change.size === 0) return;
  const painted = withPaint(node.painted, pointCount, change);
  applyEdit(label, setSetting(catalogue(), node.graph.id, node.id, 'painted', painted), gesture);
}

/** Says which points could not be given what was wanted. */
export function tellHeld(held: ReadonlySet<number>): void {
  if (held.size === 0) return;
  const text = `${counted(held.size, 'point')} could not go all the way: no other joint holds them, or locked ones do. Give them to another joint instead.`;
  store.dispatch(remarked({ text, kind: 'wrong' }));
}

/** Joints whose weights may be painted: of the chains that the mesh has weights of, or else of all; each by its attribute. */
export function paintableJoints(project: Project, columns: Iterable<string>): { attribute: string; label: string }[] {
  const has = new Set([...columns].filter((n) => n.startsWith(WEIGHT_PREFIX)));
  const byId = objectsById(project.objects);
  const joints = project.objects.filter((o) => o.type === 'joint');
  const chains = new Set(joints.filter((j) => has.has(weightName(j.name))).map((j) => chainOf(byId, j)?.id));
  const out = new Map<string, string>();
  for (const o of project.objects)
    if (o.type === 'chain' && (has.size === 0 || chains.has(o.id)))
      for (const j of jointsOf(project.objects, o.id)) out.set(weightName(j.name), j.name);
  for (const name of has) if (!out.has(name)) out.set(name, name.slice(WEIGHT_PREFIX.length));
  return [...out].map(([attribute, label]) => ({ attribute, label }));
}

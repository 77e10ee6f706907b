import {
  CATALOGUE,
  catalogueOf,
  graphAt,
  graphWithNode,
  rootGraph,
  type Catalogue,
  contextGeometry,
  drivingNodes,
  isGeometryKind,
  nodeTitle,
  objectsById,
  resolveGraph,
  shownResults,
  SHOWN_PORT,
  visibleIds,
  WEIGHT_PREFIX,
  type NodeReport,
  type PortRef,
  type Project,
  type ResolvedNode,
  assetIdOf,
} from '@umberfish/core';
import type { Pin, UiState } from '../state/ui-slice.ts';
import type { CompareRequest, PictureRequest, Side } from './protocol.ts';

/** Key under which the previewed geometry is drawn. */
export const PREVIEW_KEY = 'preview';
/** Keys under which the two sides of a comparison are drawn. */
export const COMPARE_KEYS = { a: 'compare A', b: 'compare B' } as const;

/** What must be evaluated for what is on the screen, and nothing else. */
export function requestFor(project: Project, given: UiState, id: number): Omit<PictureRequest, 'project'> {
  const ui = given.animating ? { ...given, ...NO_GRAPH } : given;
  const types = catalogueOf(CATALOGUE, project);
  const graph = ui.graph === null ? undefined : graphAt(project, ui.graph);
  const root = ui.graph === null ? undefined : rootGraph(project, ui.graph);
  const shown: PictureRequest['shown'][number][] = [];
  const wanted: PortRef[] = [];
  const statistics: PortRef[] = [];
  const preview = root?.preview ? nodeAt(types, project, root.preview) : undefined;
  // 1. Results; those of a graph that previews a node give way to it.
  const visible = visibleIds(project.objects);
  const objects = objectsById(project.objects);
  const falloffOf = (node: ResolvedNode | undefined) => {
    const output = node?.outputs.find((o) => o.kind === 'falloff');
    return node && output ? { node: node.record.id, port: output.id, label: nodeTitle(node) } : null;
  };
  // A previewed falloff paints what is shown, so that hides nothing.
  const paintWith = preview?.outputs.some((o) => isGeometryKind(o.kind)) ? null : falloffOf(preview);
  for (const r of shownResults(CATALOGUE, project)) {
    if (preview && !paintWith && r.graph === root?.id) continue;
    const shownWith = r.object ?? r.under;
    if (shownWith !== null && !visible.has(shownWith)) continue;
    const source = assetIdOf(r.object === null ? undefined : objects.get(r.object)) ?? undefined;
    shown.push({ key: r.node, ref: { node: r.node, port: SHOWN_PORT }, source });
  }
  if (preview && !paintWith) {
    const output =
      preview.outputs.find((o) => o.id === ui.port?.port && ui.port.node === preview.record.id) ?? preview.outputs[0];
    const mesh = preview.outputs.find((o) => isGeometryKind(o.kind));
    const context = mesh ? { node: preview.record.id, port: mesh.id } : contextGeometry(types, preview.graph, preview.record.id);
    if (context) {
      const colourBy =
        output && !isGeometryKind(output.kind) ? { node: preview.record.id, port: output.id, label: output.label } : undefined;
      shown.push({ key: PREVIEW_KEY, ref: context, colourBy });
      if (colourBy) wanted.push(colourBy);
    }
  }
  wanted.push(...shown.map((s) => s.ref));
  // 2. Probes and what is selected.
  for (const node of graph?.nodes ?? []) for (const port of node.probes) statistics.push({ node: node.id, port });
  if (graph && ui.hovered) statistics.push(ui.hovered);
  let table: PictureRequest['table'] = null;
  if (graph && ui.port) {
    const node = resolveGraph(types, graph).get(ui.port.node);
    const output = node?.outputs.find((o) => o.id === ui.port?.port);
    if (output || ui.port.port === SHOWN_PORT) {
      const context = output && !isGeometryKind(output.kind) ? (contextGeometry(types, graph, ui.port.node) ?? null) : null;
      table = {
        ref: ui.port,
        label: output?.label ?? 'mesh',
        unit: output?.unit ?? '',
        on: ui.tableOn,
        context,
      };
      statistics.push(ui.port);
      if (context) wanted.push(context);
    }
  }
  const compare = graph ? compareOf(project, ui) : null;
  for (const side of compare ? [compare.a, compare.b] : []) {
    if (side.frame !== null && side.frame !== ui.frame) continue;
    wanted.push(side.ref);
    if (side.context) wanted.push(side.context);
  }
  wanted.push(...statistics);
  const picked = graph && ui.nodes.length === 1 ? resolveGraph(types, graph).get(ui.nodes[0]) : undefined;
  const falloffs = [paintWith, falloffOf(picked)].filter((f) => f !== null);
  wanted.push(...falloffs);
  wanted.push(...drivingNodes(CATALOGUE, project).map((node) => ({ node, port: SHOWN_PORT })));
  // 3. Everything a selected node gives, so that its card tells.
  const glanced: PortRef[] = [];
  for (const id of graph ? ui.nodes.slice(0, 1) : []) {
    const node = graph ? resolveGraph(types, graph).get(id) : undefined;
    const isRead = (port: string) =>
      graph?.wires.some((w) => w.from.node === id && w.from.port === port) ||
      wanted.some((w) => w.node === id && w.port === port);
    for (const o of node?.outputs ?? []) {
      if (!isGeometryKind(o.kind) && o.kind !== 'matrix' && ui.nodes.length > 1) continue;
      if (!isRead(o.id)) glanced.push({ node: id, port: o.id });
      wanted.push({ node: id, port: o.id });
    }
  }
  // 4. Meshes as they are: objects nothing replaces, and the rest of those something does.
  const plain = project.objects.flatMap((o) => {
    const asset = assetIdOf(o);
    return asset !== null && visible.has(o.id) ? [{ object: o.id, asset }] : [];
  });
  const assets = new Set(plain.map((p) => p.asset));
  return {
    id,
    frame: ui.frame,
    wanted,
    glanced,
    shown,
    assets: [...assets],
    plain: paintWith ? plain : [],
    statistics,
    table,
    compare,
    paint: paintedOf(types, project, ui) ?? checkerOf(ui) ?? ui.paint,
    falloffs,
    paintWith,
    ghosts: ghostsFor(project, ui),
  };
}

/** What of the picked objects is drawn at frames before and after this one; nothing while it plays. */
function ghostsFor(project: Project, { ghosts, animating, playing, objects, frame }: UiState): PictureRequest['ghosts'] {
  const { before, after, every } = ghosts;
  if (!animating || playing || objects.length === 0 || before + after === 0) return NO_GHOSTS;
  const { first, last } = project.range;
  const frames = Array.from({ length: before + after + 1 }, (_, i) => frame + (i - before) * every);
  const results = shownResults(CATALOGUE, project).filter((r) => r.object !== null && objects.includes(r.object));
  const made = new Set(results.map((r) => r.object));
  return {
    frames: frames.filter((f) => f !== frame && f >= first && f <= last),
    results: results.map((r) => ({ node: r.node, port: SHOWN_PORT })),
    plain: project.objects.flatMap((o) => {
      const asset = assetIdOf(o);
      return asset !== null && objects.includes(o.id) && !made.has(o.id) ? [{ object: o.id, asset }] : [];
    }),
  };
}

const NO_GHOSTS: PictureRequest['ghosts'] = { frames: [], results: [], plain: [] };

/** Animators look at no graph. */
const NO_GRAPH = { graph: null, port: null, nodes: [], pinA: null, pinB: null, hovered: null };

/**
 * What is drawn first of a project that was opened: what is stored, as it is; then what the graph makes that is looked at;
 * then everything.
 * @param step 0, 1 or 2
 */
export function partOf(
  request: Omit<PictureRequest, 'project'>,
  project: Project,
  graph: string | null,
  step: number,
): Omit<PictureRequest, 'project'> {
  if (step >= LAST_PART) return request;
  const root = graph === null ? undefined : rootGraph(project, graph)?.id;
  const mine = new Set(step === 0 ? [] : shownResults(CATALOGUE, project).flatMap((r) => (r.graph === root ? r.node : [])));
  const shown = request.shown.filter((s) => mine.has(s.key));
  const nothing = { ghosts: NO_GHOSTS, statistics: [], table: null, compare: null, falloffs: [], paintWith: null, plain: [] };
  return { ...request, ...nothing, shown, wanted: shown.map((s) => s.ref) };
}

/** The part that is all of it. */
export const LAST_PART = 2;

/** The attribute that a checker takes its places from. */
const checkerOf = ({ shading }: UiState): PictureRequest['paint'] =>
  shading === 'checker-rest'
    ? { name: 'restPosition', as: 'checker' }
    : shading === 'checker-uv'
      ? { name: 'uv', as: 'checker' }
      : null;

/** While a node is painted, its numbers are what one sees: from the least to the most that the brush takes. */
function paintedOf(types: Catalogue, project: Project, { painting }: UiState): PictureRequest['paint'] {
  const settings = painting ? nodeAt(types, project, painting.node)?.settings : undefined;
  if (!painting || !settings) return null;
  const name = String(settings.name);
  if (painting.colours === 'joints' && name.startsWith(WEIGHT_PREFIX)) return { name, as: 'joints' };
  return { name, as: 'heat', range: [Number(settings.least), Number(settings.most)] };
}

/** A node by its path: of a graph, or inside of a use. */
function nodeAt(types: Catalogue, project: Project, path: string): ResolvedNode | undefined {
  const where = graphWithNode(project, path);
  const graph = where === undefined ? undefined : graphAt(project, where);
  return graph && resolveGraph(types, graph).get(path);
}

/** What is compared: A is pinned, B is pinned or else what is looked at. */
function compareOf(project: Project, ui: UiState): CompareRequest | null {
  const { pinA: a } = ui;
  const b = ui.pinB ?? (ui.port ? { ...ui.port, frame: null, rest: false } : null);
  if (!a || !b) return null;
  const sideOf = (pin: Pin): Side | null => {
    const types = catalogueOf(CATALOGUE, project);
    const where = graphWithNode(project, pin.node);
    const graph = where === undefined ? undefined : graphAt(project, where);
    const output =
      graph &&
      resolveGraph(types, graph)
        .get(pin.node)
        ?.outputs.find((o) => o.id === pin.port);
    if (!graph || (!output && pin.port !== SHOWN_PORT)) return null;
    const context = output && !isGeometryKind(output.kind) ? (contextGeometry(types, graph, pin.node) ?? null) : null;
    const { frame, rest } = pin;
    return {
      ref: { node: pin.node, port: pin.port },
      label: output?.label ?? 'mesh',
      unit: output?.unit ?? '',
      frame,
      rest,
      context,
    };
  };
  const [left, right] = [sideOf(a), sideOf(b)];
  if (!left || !right) return null;
  return { a: left, b: right, on: ui.tableOn, onlyChanged: ui.onlyChanged, needles: ui.differenceNeedles };
}

/** Reports without what is said only of outputs that nobody reads: they were worked out so that a card shows them. */
export function readReports(
  reports: ReadonlyMap<string, NodeReport>,
  glanced: readonly PortRef[],
): ReadonlyMap<string, NodeReport> {
  const [first] = glanced;
  const report = first && reports.get(first.node);
  if (!report) return reports;
  const unread = new Set(glanced.map((g) => g.port));
  const problems = report.problems.filter((p) => !p.about?.every((port) => unread.has(port)));
  return problems.length === report.problems.length ? reports : new Map(reports).set(first.node, { ...report, problems });
}

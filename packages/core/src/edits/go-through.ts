import { isGeometryKind } from '../graph/node/kinds.ts';
import type { Catalogue } from '../graph/node/catalogue.ts';
import type { NodeDefinition } from '../graph/node/definition.ts';
import { settingsOf } from '../graph/node/typed.ts';
import { resolveGraph } from '../graph/network/resolve.ts';
import { shownResults } from '../graph/network/shown.ts';
import { catalogueOf } from '../modules/definitions.ts';
import { sceneMesh } from '../nodes/bring-in/scene-mesh.ts';
import { showMesh } from '../nodes/flow/show-mesh.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import type { GraphRecord, NodeRecord, Project, WireRecord } from '../project/schema.ts';
import { beginOn, type PlacedMesh } from './begin-on.ts';
import { emptyGraph, inGraph, newId, nodeOf } from './document.ts';

/** A node in the graph that makes an object, and where it stands there. */
export interface GoneThrough {
  readonly project: Project;
  readonly graph: string;
  readonly at: readonly [number, number];
}

/** How far cards stand apart that are made together (pixels). */
export const APART = 240;

/**
 * Lets the graph that shows an object go on through a node, or begins one: the object as it looks so far goes in, what comes
 * out is shown. Without an object, or an input for it, what comes out is shown beside it all.
 * @param ports of the node: where the mesh goes in, if it does, and where it comes out
 * @param name of a graph that is begun, and of a result without an object
 */
export function goThrough(
  base: Catalogue,
  project: Project,
  body: ObjectRecord | undefined,
  node: NodeRecord,
  ports: { readonly into: string | undefined; readonly out: string },
  name: string,
): GoneThrough {
  const shown = body && shownResults(base, project).find((r) => r.object === body.id && !r.node.includes('/'));
  const before = project.graphs.find((g) => g.id === shown?.graph);
  const graph = before ?? emptyGraph(body?.name ?? name);
  const showing = before?.nodes.find((n) => n.id === shown?.node);
  const reading = showing && resolveGraph(catalogueOf(base, project), graph).get(showing.id)?.wires.values().next().value;
  const right = Math.max(0, ...graph.nodes.map((n) => n.position[0]));
  const at: readonly [number, number] = showing ? showing.position : [right + APART, 0];
  const [x, y] = at;
  const nodes: NodeRecord[] = [{ ...node, position: at }];
  const wires: WireRecord[] = [];
  const wire = (from: WireRecord['from'], to: WireRecord['to']) => wires.push({ id: newId('wire'), from, to, pins: [] });
  const { into } = ports;
  if (reading && into !== undefined) wire(reading.from, { node: node.id, port: into });
  else if (body && into !== undefined) {
    const source = nodeOf(sceneMesh, [x - APART, y], { object: body.id });
    nodes.push(source);
    wire({ node: source.id, port: 'mesh' }, { node: node.id, port: into });
  }
  const show = showing ?? nodeOf(showMesh, [x + APART, y], body ? { object: body.id } : { name });
  wire({ node: node.id, port: ports.out }, { node: show.id, port: 'mesh' });
  const next: GraphRecord = {
    ...graph,
    nodes: [...graph.nodes.filter((n) => n.id !== show.id), ...nodes, { ...show, position: [x + APART, y] }],
    wires: [...graph.wires.filter((w) => w !== reading || into === undefined), ...wires],
  };
  const there = before ? inGraph(project, graph.id, () => next) : { ...project, graphs: [...project.graphs, next] };
  return { project: there, graph: graph.id, at };
}

/** Where a mesh goes through a type of node, where one does: what it passes on when it is skipped. */
export function throughPorts(definition: NodeDefinition): { readonly into: string; readonly out: string } | undefined {
  if (definition.shows) return undefined;
  const settings = settingsOf(definition, nodeOf(definition, [0, 0]));
  for (const [out, into] of Object.entries(definition.passes ?? {})) {
    const port = definition.inputs(settings).find((i) => i.id === into);
    if (port && isGeometryKind(port.kind) && definition.outputs(settings).some((o) => o.id === out)) return { into, out };
  }
  return undefined;
}

/**
 * Puts a node of a type that a mesh goes through on an object. Places that the node asks for begin where the object is.
 * @returns undefined where none goes through
 */
export function putNodeOn(
  base: Catalogue,
  project: Project,
  definition: NodeDefinition,
  body: ObjectRecord,
  placed?: PlacedMesh,
): (GoneThrough & { readonly node: string }) | undefined {
  const ports = throughPorts(definition);
  if (!ports) return undefined;
  const bare = nodeOf(definition, [0, 0]);
  const { node, locators } = placed ? beginOn(project, definition, bare, placed) : { node: bare, locators: [] };
  const withLocators = { ...project, objects: [...project.objects, ...locators] };
  return { ...goThrough(base, withLocators, body, node, ports, definition.title), node: node.id };
}

import type { Catalogue } from '../graph/node/catalogue.ts';
import type { InputPort } from '../graph/node/definition.ts';
import { typedInput } from '../graph/node/typed.ts';
import { nodeTitle, resolveGraph, type PortRef } from '../graph/network/resolve.ts';
import type { Vec3 } from '../maths/vector.ts';
import { sceneLocator } from '../nodes/bring-in/scene-locator.ts';
import { makeObject, type ObjectRecord } from '../project/kinds/index.ts';
import { REST_CHANNELS } from '../project/rest-channels.ts';
import type { GraphRecord, Project } from '../project/schema.ts';
import { freeName, inGraph, newId, nodeOf } from './document.ts';
import type { PlacedMesh } from './begin-on.ts';
import { APART } from './go-through.ts';
import { startOn } from './locator-for.ts';

/** Whether an input takes a place that a locator can give: a length in three directions, or a matrix. */
export const takesPlace = ({ kind, unit }: Pick<InputPort, 'kind' | 'unit'>): boolean =>
  kind === 'matrix' || (kind === 'vector' && unit === 'm');

/**
 * Gives an input a place to follow: a new locator where its typed numbers are, named after it, read by a new card.
 * Where nothing is typed, and the input is for a place on a mesh, it begins there.
 * @param body the mesh that the node works on
 * @returns undefined where the input takes no place
 */
export function feedByLocator(
  catalogue: Catalogue,
  project: Project,
  graph: GraphRecord,
  input: PortRef,
  body?: PlacedMesh,
): { readonly project: Project; readonly locator: ObjectRecord } | undefined {
  const node = resolveGraph(catalogue, graph).get(input.node);
  const port = node?.inputs.find((i) => i.id === input.port);
  if (!node || !port || !takesPlace(port)) return undefined;
  const typed = typedInput(port, node.record);
  const place: readonly unknown[] = Array.isArray(typed) ? typed : [typed, typed, typed];
  const isOpen = node.record.inputs[port.id] === undefined;
  const translate: Vec3 =
    isOpen && body?.world.every(Number.isFinite) && port.starts
      ? startOn(body.world, body.mesh, port.starts)
      : (place.map((x) => (port.kind === 'vector' && typeof x === 'number' ? x : 0)) as unknown as Vec3);
  const name = freeName(project, `${nodeTitle(node)} ${port.label}`);
  const locator = makeObject(newId('locator'), name, 'locator', { channels: { ...REST_CHANNELS, translate } });
  const low = graph.nodes.reduce((y, n) => Math.max(y, n.position[1]), node.record.position[1]) + 170;
  const reader = nodeOf(sceneLocator, [node.record.position[0] - APART, low], { object: locator.id });
  const from = { node: reader.id, port: port.kind === 'matrix' ? 'matrix' : 'position' };
  const withLocator = { ...project, objects: [...project.objects, locator] };
  const next = inGraph(withLocator, graph.id, (g) => ({
    ...g,
    nodes: [...g.nodes, reader],
    wires: [
      ...g.wires.filter((w) => w.to.node !== input.node || w.to.port !== input.port),
      { id: newId('wire'), from, to: input, pins: [] },
    ],
  }));
  return { project: next, locator };
}

import { facetGraph, driversOf } from '../graph/network/facets.ts';
import { nodeTitle, type PortRef } from '../graph/network/resolve.ts';
import type { Catalogue } from '../graph/node/catalogue.ts';
import { SHOWN_PORT } from '../graph/node/definition.ts';
import { identity } from '../maths/matrix.ts';
import { driveObject } from '../nodes/constraints/drive-object.ts';
import { multiplyMatrices } from '../nodes/matrices/multiply-matrices.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import type { GraphRecord, NodeRecord, Project, WireRecord } from '../project/schema.ts';
import { carrierOf } from '../scene/world.ts';
import type { Pose } from './pose.ts';
import { emptyGraph, inGraph, newId, nodeOf } from './document.ts';
import type { Standing } from './take-snapshot.ts';

/** Where the carrier of a constraint goes: into a graph of its own, or behind what carries the object already. */
export interface CarrierPlace {
  /** The Drive Object that carries the object already, by id. */
  readonly behind: string | undefined;
  readonly graph: GraphRecord;
  /** Below everything in that graph. */
  readonly low: number;
}

/** Finds it; or says in a sentence why there is none. @param name of a graph that is made for it */
export function placeForCarrier(
  catalogue: Catalogue,
  project: Project,
  child: ObjectRecord,
  name: string,
): CarrierPlace | string {
  const known = driversOf(catalogue, project, { object: child.id });
  if (known.length > 1) return `Several nodes carry "${child.name}" already. Leave one of them, then constrain it.`;
  const node = known.at(0)?.node;
  // What carries it inside of a module is behind the module's walls: nothing can be put there from outside.
  const around = project.graphs.find((g) => g.nodes.some((n) => n.id === node?.record.id));
  if (!node) return { behind: undefined, graph: emptyGraph(name), low: 0 };
  if (!around || node.record.type !== driveObject.id)
    return `"${child.name}" is carried by "${nodeTitle(node)}" inside of a module. Take it off there, then constrain it.`;
  return { behind: node.record.id, graph: around, low: Math.max(...around.nodes.map((n) => n.position[1])) + 260 };
}

/** The project with some nodes whose last gives a carrier, which goes under the object, behind what is there. */
export function withCarrier(
  project: Project,
  { behind, graph, low }: CarrierPlace,
  child: ObjectRecord,
  nodes: readonly NodeRecord[],
  wires: readonly WireRecord[],
  carrier: PortRef,
): Project {
  const right = Math.max(...nodes.map((n) => n.position[0])) + 240;
  const wire = (from: PortRef, to: PortRef): WireRecord => ({ id: newId('wire'), from, to, pins: [] });
  if (!behind) {
    const drive = nodeOf(driveObject, [right, low], { object: child.id });
    const all = [...wires, wire(carrier, { node: drive.id, port: 'matrix' })];
    return { ...project, graphs: [...project.graphs, { ...graph, nodes: [...nodes, drive], wires: all }] };
  }
  const into = { node: behind, port: 'matrix' };
  const old = graph.wires.find((w) => w.to.node === into.node && w.to.port === into.port);
  const both = nodeOf(multiplyMatrices, [right, low]);
  const added = [
    ...wires,
    wire(carrier, { node: both.id, port: 'b' }),
    ...(old ? [wire(old.from, { node: both.id, port: 'a' })] : []),
    wire({ node: both.id, port: 'matrix' }, into),
  ];
  return inGraph(project, graph.id, (g) => ({
    ...g,
    nodes: [...g.nodes, ...nodes, both],
    wires: [...g.wires.filter((w) => w !== old), ...added],
  }));
}

/** Where the object stands before a constraint is made: in a chain, the new one begins as nothing. */
export function standingOf({ driven }: Pose, child: ObjectRecord, { behind }: CarrierPlace): Standing {
  const all = carrierOf(child, 'channels', driven) ?? identity();
  return { all, carrier: behind ? identity() : all };
}

/** The loop that driving an object closes, in a sentence; undefined where there is none. */
export function loopOf(catalogue: Catalogue, project: Project, child: ObjectRecord): string | undefined {
  const { loops, unitOfPort } = facetGraph(catalogue, project);
  const [driver] = driversOf(catalogue, project, { object: child.id });
  const loop = loops.get(unitOfPort.get(`${driver?.node.record.id}.${SHOWN_PORT}`) ?? '');
  return loop && `"${child.name}" moves what it would be moved by, which is a loop: ${loop.join(' → ')}.`;
}

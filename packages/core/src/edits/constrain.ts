import { curveOf, kindOf } from '../project/kinds/index.ts';
import { readChannel } from '../nodes/constraints/read-channel.ts';
import { sceneMesh } from '../nodes/bring-in/scene-mesh.ts';
import { shownResults } from '../graph/network/shown.ts';
import { addCustomChannel, newCustomChannel } from './channel-edits.ts';
import type { Vec3 } from '../maths/vector.ts';
import { betweenNode } from '../nodes/constraints/between.ts';
import { sceneLocator } from '../nodes/bring-in/scene-locator.ts';
import { sceneCurve } from '../nodes/bring-in/scene-curve.ts';
import { transformPoint } from '../maths/matrix.ts';
import { aimAt } from '../nodes/constraints/aim-at.ts';
import type { NodeDefinition } from '../graph/node/definition.ts';
import { curvePoint } from '../nodes/curves/curve-point.ts';
import type { Catalogue } from '../graph/node/catalogue.ts';
import type { SettingValue, Snapshot } from '../project/fields.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import type { GraphRecord, NodeRecord, Project } from '../project/schema.ts';
import { handOverNode } from '../nodes/constraints/hand-over.ts';
import { followNode } from '../nodes/constraints/follow.ts';
import { newId, nodeOf, setSetting } from './document.ts';
import type { Standing } from './take-snapshot.ts';
import type { Pose } from './pose.ts';
import { loopOf, placeForCarrier, standingOf, withCarrier } from './under-carrier.ts';
import { rideSurface } from '../nodes/constraints/ride-surface.ts';
export type ConstraintKind = 'follow' | 'handOver' | 'between' | 'aim' | 'ride';

/** What each is called, and what has to be picked for it: the object first, then its drivers. */
export const CONSTRAINT_RULES: Record<ConstraintKind, { title: string; needs: string; least: number; most: number }> = {
  follow: { title: 'Follow', needs: 'the object, then the one it follows', least: 1, most: 1 },
  handOver: {
    title: 'Hand-Over',
    needs: 'the object, then two or more it is handed between',
    least: 2,
    most: 8,
  },
  between: { title: 'Between', needs: 'the object, then two or more it stays between', least: 2, most: 8 },
  aim: {
    title: 'Aim',
    needs: 'the object, then its target (and a second one that is kept above)',
    least: 1,
    most: 2,
  },
  ride: { title: 'Ride', needs: 'the object, then the mesh or the curve it rides', least: 1, most: 1 },
};

/** What has to be evaluated to make a constraint. */
export interface ConstrainServices {
  /** Where all that a constraint reads stands; see `takeSnapshot`. */
  snapshot(project: Project, frame: number, node: string, standing?: Standing): Promise<Snapshot | undefined>;
  /** Where a place on a result was on the mesh at rest. */
  placeAtRest(project: Project, frame: number, node: string, at: Vec3): Promise<Vec3>;
}

const TYPES: Record<ConstraintKind, NodeDefinition> = {
  follow: followNode,
  handOver: handOverNode,
  between: betweenNode,
  aim: aimAt,
  ride: followNode,
};

/** The constraint that a type of node makes, if it makes one. */
export const constraintOf = (type: string): ConstraintKind | undefined =>
  (Object.keys(TYPES) as ConstraintKind[]).find((kind) => TYPES[kind].id === type);

/** Why the picked objects do not make a constraint, in a sentence; undefined where they do. */
export function wrongPick(
  kind: ConstraintKind,
  child: ObjectRecord | undefined,
  drivers: readonly ObjectRecord[],
): string | undefined {
  const rule = CONSTRAINT_RULES[kind];
  if (!child || drivers.length < rule.least || drivers.length > rule.most)
    return `For ${rule.title}, pick ${rule.needs} (Shift and click).`;
  if (kind === 'ride' && !['mesh', 'curve'].includes(kindOf(drivers[0]).drawn))
    return `"${drivers[0].name}" has no mesh and no curve to ride. Pick one that has.`;
  return undefined;
}

export interface MadeConstraint {
  project: Project;
  graph: string;
  node: string;
}

/** The project with the constraint, or why there can be none, in a sentence. */
export async function makeConstraint(
  catalogue: Catalogue,
  pose: Pose,
  kind: ConstraintKind,
  child: ObjectRecord,
  drivers: readonly ObjectRecord[],
  services: ConstrainServices,
): Promise<MadeConstraint | string> {
  const { project, frame } = pose;
  // 1. Where it goes: a graph of its own, or behind what carries the object already.
  const place = placeForCarrier(catalogue, project, child, nameOf(kind, child, drivers));
  if (typeof place === 'string') return place;
  const nodes: NodeRecord[] = [];
  const wires: GraphRecord['wires'][number][] = [];
  const add = (
    type: NodeDefinition,
    x: number,
    y: number,
    settings: Record<string, SettingValue> = {},
    others: Partial<Pick<NodeRecord, 'title' | 'inputs'>> = {},
  ): NodeRecord => {
    const made = { ...nodeOf(type, [x, place.low + y], settings), ...others };
    nodes.push(made);
    return made;
  };
  const wire = (from: NodeRecord, port: string, to: NodeRecord, into: string) =>
    void wires.push({
      id: newId('wire'),
      from: { node: from.id, port },
      to: { node: to.id, port: into },
      pins: [],
    });
  let next = project;
  // 2. The drivers' matrices, and the constraint.
  const x = kind === 'ride' ? 560 : 260;
  const type = TYPES[kind];
  const settings: Record<string, SettingValue> = { object: child.id };
  if (kind === 'handOver' || kind === 'between') settings.drivers = drivers.length;
  if (kind === 'aim') settings.up = drivers.length > 1 ? 'target' : 'vector';
  const constraint = add(type, x, 0, settings);
  if (kind === 'ride') {
    const matrix = await rideNodes(catalogue, pose, child, drivers[0], services, add, wire);
    wire(matrix.node, matrix.port, constraint, 'a');
  } else
    drivers.forEach((d, i) =>
      wire(add(sceneLocator, 0, i * 250, { object: d.id }, { title: d.name }), 'matrix', constraint, 'abcdefgh'[i]),
    );
  if (kind === 'handOver') {
    const dial = { ...newCustomChannel(child, 'hand over'), max: drivers.length - 1 };
    next = addCustomChannel(child.id, dial)(next);
    const read = add(readChannel, 0, drivers.length * 250, { object: child.id, channel: dial.id });
    wire(read, 'value', constraint, 'dial');
  }
  // 3. Its carrier goes under the object, behind what is there.
  next = withCarrier(next, place, child, nodes, wires, { node: constraint.id, port: 'carrier' });
  const loop = loopOf(catalogue, next, child);
  if (loop !== undefined) return loop;
  // 4. Where everything stands now.
  const snapshot = await services.snapshot(next, frame, constraint.id, standingOf(pose, child, place));
  if (!snapshot) return 'The constraint could not be made: one of the objects has no place now.';
  next = setSetting(catalogue, place.graph.id, constraint.id, 'snapshot', snapshot)(next);
  return { project: next, graph: place.graph.id, node: constraint.id };
}

type Add = (
  type: NodeDefinition,
  x: number,
  y: number,
  settings?: Record<string, SettingValue>,
  others?: Partial<Pick<NodeRecord, 'title' | 'inputs'>>,
) => NodeRecord;
type Wire = (from: NodeRecord, port: string, to: NodeRecord, into: string) => void;

/** What gives the matrix of a place on a mesh, or of one along a curve. */
async function rideNodes(
  catalogue: Catalogue,
  pose: Pose,
  child: ObjectRecord,
  driver: ObjectRecord,
  services: ConstrainServices,
  add: Add,
  wire: Wire,
) {
  const at = transformPoint(pose.world(child.id), child.pivot);
  if (curveOf(driver)) {
    const curve = add(sceneCurve, 0, 0, { object: driver.id }, { title: driver.name });
    const point = add(curvePoint, 260, 0);
    wire(curve, 'curves', point, 'curves');
    return { node: point, port: 'matrix' };
  }
  const result = shownResults(catalogue, pose.project).find((r) => r.object === driver.id);
  const mesh = add(sceneMesh, 0, 0, { object: driver.id, read: result ? 'result' : 'source' }, { title: driver.name });
  const place = result ? await services.placeAtRest(pose.project, pose.frame, result.node, at) : at;
  const ride = add(rideSurface, 260, 0, {}, { inputs: { place } });
  wire(mesh, 'mesh', ride, 'mesh');
  if (!result) wire(mesh, 'mesh', ride, 'rest');
  return { node: ride, port: 'matrix' };
}

function nameOf(kind: ConstraintKind, child: ObjectRecord, drivers: readonly ObjectRecord[]): string {
  const names = drivers.map((d) => d.name);
  const all = names.join(' and ');
  return {
    follow: `${child.name} follows ${all}`,
    handOver: `${child.name}: ${names.join(' to ')}`,
    between: `${child.name} between ${all}`,
    aim: `${child.name} aims at ${names[0]}`,
    ride: `${child.name} rides ${all}`,
  }[kind];
}

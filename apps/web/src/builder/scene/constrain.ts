import {
  CATALOGUE,
  carrierOf,
  driversOf,
  facetGraph,
  identity,
  localMatrix,
  parentMatrix,
  product,
  shownResults,
  transformPoint,
  type GraphRecord,
  type NodeRecord,
  type ObjectRecord,
  type Project,
  type Snapshot,
  type SettingValue,
} from '@umberfish/core';
import { engine } from '../../engine/index.ts';
import { poseNow, type Pose } from '../../engine/pose.ts';
import { addCustomChannel, newCustomChannel } from '../../state/channel-edits.ts';
import { emptyGraph, inGraph, newId, nodeOf, setSetting } from '../../state/edits.ts';
import { applyEdit, store } from '../../state/store.ts';
import { remarked, uiSet } from '../../state/ui-slice.ts';

export type ConstraintKind = 'follow' | 'hand-over' | 'between' | 'aim' | 'ride';

/** What each is called, and what has to be picked for it: the object first, then its drivers. */
export const CONSTRAINTS: Record<ConstraintKind, { title: string; needs: string; least: number; most: number }> = {
  follow: { title: 'Follow', needs: 'the object, then the one it follows', least: 1, most: 1 },
  'hand-over': {
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

const wrong = (text: string) => void store.dispatch(remarked({ text, kind: 'wrong' }));

/**
 * Builds the graph of a constraint for the picked objects: the first is the child, the others drive it. The object does
 * not move. An object that is carried already gets one more link in its chain.
 */
export async function constrain(kind: ConstraintKind): Promise<void> {
  const pose = poseNow();
  const { objects } = store.getState().ui;
  const rule = CONSTRAINTS[kind];
  if (!pose) return;
  const picked = objects.map((id) => pose.objects.get(id)).filter((o) => o !== undefined);
  const [child, ...drivers] = picked;
  if (!child || drivers.length < rule.least || drivers.length > rule.most)
    return wrong(`For ${rule.title}, pick ${rule.needs} (Shift and click).`);
  if (kind === 'ride' && drivers[0].mesh === null && !drivers[0].curve)
    return wrong(`"${drivers[0].name}" has no mesh and no curve to ride. Pick one that has.`);
  const made = await build(pose, kind, child, drivers).catch((error: unknown) => (error as Error).message);
  // What was edited meanwhile is not put back.
  if (store.getState().project.project !== pose.project) return constrain(kind);
  if (typeof made === 'string') return wrong(made);
  applyEdit(`${rule.title} for ${child.name}`, () => made.project);
  store.dispatch(uiSet({ graph: made.graph, nodes: [made.node], objects: [], port: null }));
  store.dispatch(remarked({ text: `${rule.title} made: "${child.name}" stays where it is.`, kind: 'done' }));
}

interface Made {
  project: Project;
  graph: string;
  node: string;
}

/** The project with the constraint, or why there can be none, in a sentence. */
async function build(
  pose: Pose,
  kind: ConstraintKind,
  child: ObjectRecord,
  drivers: readonly ObjectRecord[],
): Promise<Made | string> {
  const { project, frame } = pose;
  // 1. Where it goes: a graph of its own, or behind what carries the object already.
  const known = driversOf(CATALOGUE, project, { object: child.id });
  if (known.length > 1) return `Several nodes carry "${child.name}" already. Leave one of them, then constrain it.`;
  const carried = known[0]?.node as (typeof known)[number]['node'] | undefined;
  const isChained = carried?.record.type === 'drive-object';
  const name = nameOf(kind, child, drivers);
  const fresh: GraphRecord = emptyGraph(name);
  const graphId = isChained ? carried.graph.id : fresh.id;
  const low = isChained ? Math.max(...carried.graph.nodes.map((n) => n.position[1])) + 260 : 0;
  const nodes: NodeRecord[] = [];
  const wires: GraphRecord['wires'][number][] = [];
  const add = (
    type: string,
    x: number,
    y: number,
    settings: Record<string, SettingValue> = {},
    others: Partial<Pick<NodeRecord, 'title' | 'inputs'>> = {},
  ): NodeRecord => {
    const made = { ...nodeOf(type, [x, low + y], settings), ...others };
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
  const type = kind === 'ride' ? 'follow' : kind === 'aim' ? 'aim-at' : kind;
  const settings: Record<string, SettingValue> = { object: child.id };
  if (kind === 'hand-over' || kind === 'between') settings.drivers = drivers.length;
  if (kind === 'aim') settings.up = drivers.length > 1 ? 'target' : 'vector';
  const constraint = add(type, x, 0, settings);
  if (kind === 'ride') {
    const matrix = await rideNodes(pose, child, drivers[0], add, wire);
    wire(matrix.node, matrix.port, constraint, 'a');
  } else
    drivers.forEach((d, i) =>
      wire(add('scene-locator', 0, i * 250, { object: d.id }, { title: d.name }), 'matrix', constraint, 'abcdefgh'[i]),
    );
  if (kind === 'hand-over') {
    const dial = { ...newCustomChannel(child, 'hand-over'), max: drivers.length - 1 };
    next = addCustomChannel(child.id, dial)(next);
    const read = add('read-channel', 0, drivers.length * 250, { object: child.id, channel: dial.id });
    wire(read, 'value', constraint, 'dial');
  }
  // 3. Its carrier goes under the object, behind what is there.
  if (isChained) {
    const old = carried.graph.wires.find((w) => w.to.node === carried.record.id && w.to.port === 'matrix');
    const both = add('multiply-matrices', x + 240, 0);
    wire(constraint, 'carrier', both, 'b');
    if (old) wires.push({ ...old, id: newId('wire'), to: { node: both.id, port: 'a' }, pins: [] });
    wires.push({
      id: newId('wire'),
      from: { node: both.id, port: 'matrix' },
      to: { node: carried.record.id, port: 'matrix' },
      pins: [],
    });
    next = inGraph(next, graphId, (g) => ({
      ...g,
      nodes: [...g.nodes, ...nodes],
      wires: [...g.wires.filter((w) => w !== old), ...wires],
    }));
  } else {
    wire(constraint, 'carrier', add('drive-object', x + 240, 0, { object: child.id }), 'matrix');
    next = { ...next, graphs: [...next.graphs, { ...fresh, nodes, wires }] };
  }
  const { loops, unitOfPort } = facetGraph(CATALOGUE, next);
  const loop = loops.get(unitOfPort.get(`${constraint.id}.carrier`) ?? '');
  if (loop) return `"${child.name}" moves what it would be moved by, which is a loop: ${loop.join(' → ')}.`;
  // 4. Where everything stands now.
  const drivenBy = await engine.snapshot(next, frame, constraint.id);
  if (!drivenBy) return 'The constraint could not be made: one of the objects has no place now.';
  const carrier = carrierOf(child, 'channels', pose.driven) ?? identity();
  const local = localMatrix(child, 'channels', pose.driven);
  const snapshot: Snapshot = {
    drivers: drivenBy.drivers,
    parent: Array.from(parentMatrix(pose.objects, child, 'channels', pose.driven)),
    // In a chain it begins as nothing; what carries the object already counts as its own.
    carrier: Array.from(isChained ? identity() : carrier),
    child: Array.from(isChained ? product(carrier, local) : local),
    pivot: child.pivot,
  };
  next = setSetting(graphId, constraint.id, 'snapshot', snapshot)(next);
  return { project: next, graph: graphId, node: constraint.id };
}

type Add = (
  type: string,
  x: number,
  y: number,
  settings?: Record<string, SettingValue>,
  others?: Partial<Pick<NodeRecord, 'title' | 'inputs'>>,
) => NodeRecord;
type Wire = (from: NodeRecord, port: string, to: NodeRecord, into: string) => void;

/** What gives the matrix of a place on a mesh, or of one along a curve. */
async function rideNodes(pose: Pose, child: ObjectRecord, driver: ObjectRecord, add: Add, wire: Wire) {
  const at = transformPoint(pose.world(child.id), child.pivot);
  if (driver.curve) {
    const curve = add('scene-curve', 0, 0, { object: driver.id }, { title: driver.name });
    const point = add('curve-point', 260, 0);
    wire(curve, 'curves', point, 'curves');
    return { node: point, port: 'matrix' };
  }
  const result = shownResults(CATALOGUE, pose.project).find((r) => r.object === driver.id);
  const mesh = add('scene-mesh', 0, 0, { object: driver.id, read: result ? 'result' : 'source' }, { title: driver.name });
  const place = result ? await engine.placeAtRest(pose.project, pose.frame, result.node, at) : at;
  const ride = add('ride-surface', 260, 0, {}, { inputs: { place } });
  wire(mesh, 'mesh', ride, 'mesh');
  if (!result) wire(mesh, 'mesh', ride, 'rest');
  return { node: ride, port: 'matrix' };
}

function nameOf(kind: ConstraintKind, child: ObjectRecord, drivers: readonly ObjectRecord[]): string {
  const names = drivers.map((d) => d.name);
  const all = names.join(' and ');
  return {
    follow: `${child.name} follows ${all}`,
    'hand-over': `${child.name}: ${names.join(' to ')}`,
    between: `${child.name} between ${all}`,
    aim: `${child.name} aims at ${names[0]}`,
    ride: `${child.name} rides ${all}`,
  }[kind];
}

/** Takes the snapshot of a constraint anew: from now on, nothing moves while everything stands as it does. */
export async function takeSnapshotNow(graph: string, node: string): Promise<void> {
  const { project, ui } = { project: store.getState().project.project, ui: store.getState().ui };
  if (!project) return;
  let snapshot: Snapshot | undefined;
  try {
    snapshot = await engine.snapshot(project, ui.frame, node);
  } catch (error) {
    return wrong((error as Error).message);
  }
  if (!snapshot) return wrong('There is nothing to take: choose the object, and connect every driver.');
  applyEdit('Take snapshot now', setSetting(graph, node, 'snapshot', snapshot));
}

import { accepts } from '../graph/node/kinds.ts';
import type { Catalogue } from '../graph/node/catalogue.ts';
import type { PortKind } from '../graph/node/definition.ts';
import { wallsOf } from '../modules/walls.ts';
import { catalogueOf } from '../modules/definitions.ts';
import { sceneChainNode } from '../nodes/bring-in/scene-chain.ts';
import { sceneCurve } from '../nodes/bring-in/scene-curve.ts';
import { sceneLocator } from '../nodes/bring-in/scene-locator.ts';
import { sceneMesh } from '../nodes/bring-in/scene-mesh.ts';
import { driveChain } from '../nodes/chains/drive-chain.ts';
import type { SettingValue, Way } from '../project/fields.ts';
import { TAKES_WORDS, type ObjectRecord, type ObjectTakes } from '../project/kinds/index.ts';
import { typeOfUse } from '../project/modules.ts';
import type { GraphRecord, ModuleRecord, NodeRecord, Project, WireRecord } from '../project/schema.ts';
import { chainOf, jointsOf } from '../scene/joints.ts';
import type { Matrix } from '../maths/matrix.ts';
import { objectsById, type ObjectsById } from '../scene/objects.ts';
import { worldMatrix } from '../scene/world.ts';
import { emptyGraph, inGraph, newId, nodeOf } from './document.ts';
import { locatorFor } from './locator-for.ts';
import type { PutOn } from './put-constraint-on.ts';

/** A module that poses joints: a chain goes in and comes out. */
export function chainWays(base: Catalogue, module: ModuleRecord): { readonly into: Way; readonly out: Way } | undefined {
  const { ins, outs } = wallsOf(base, module.graph);
  const into = ins.find((w) => w.kind === 'chain');
  const out = outs.find((w) => w.kind === 'chain');
  return into && out && { into, out };
}

/** What a way takes from the scene: an object of this kind, through a node that brings it in. */
function broughtBy(
  way: Way,
): { readonly takes: ObjectTakes; readonly type: typeof sceneMesh; readonly port: string } | undefined {
  const kind = way.kind as PortKind;
  if (way.sets.length > 0) return undefined;
  if (kind === 'mesh') return { takes: 'mesh', type: sceneMesh, port: 'mesh' };
  if (kind === 'curves') return { takes: 'curve', type: sceneCurve, port: 'curves' };
  if (kind === 'place' || kind === 'matrix') return { takes: 'any', type: sceneLocator, port: 'matrix' };
  return kind === 'vector' && way.control === 'place' ? { takes: 'any', type: sceneLocator, port: 'position' } : undefined;
}

const FITS: Partial<Record<ObjectTakes, (o: ObjectRecord) => boolean>> = {
  mesh: (o) => o.type === 'mesh',
  curve: (o) => o.type === 'curve',
  any: (o) => o.type !== 'mesh' && o.type !== 'curve',
};

/** What a module is put on: the chain, the joint that was picked of it, and what goes to its other ways. */
interface Picked {
  readonly chain: ObjectRecord;
  readonly tip: string;
  readonly brought: ReadonlyMap<Way, ObjectRecord>;
}

function pickedFor(base: Catalogue, project: Project, module: ModuleRecord, objects: readonly ObjectRecord[]): Picked | string {
  const byId = objectsById(project.objects);
  const [first, ...others] = objects;
  const chain = first?.type === 'chain' ? first : first?.type === 'joint' ? chainOf(byId, first) : undefined;
  const joints = chain ? jointsOf(project.objects, chain.id) : [];
  const ways = wallsOf(base, module.graph).ins.flatMap((way) => {
    const from = broughtBy(way);
    return from ? [{ way, ...from }] : [];
  });
  const asked = ways.filter((w) => !w.way.optional && w.takes !== 'any');
  const then = asked.map((w) => `, then ${TAKES_WORDS[w.takes]}: its ${w.way.name}`).join('');
  if (!chain || joints.length === 0)
    return `For "${module.name}", pick a chain, or the joint at its end${then} (Shift and click).`;
  const brought = new Map<Way, ObjectRecord>();
  for (const o of others) {
    const free = ways.find((w) => !brought.has(w.way) && FITS[w.takes]?.(o));
    if (!free) return `"${module.name}" takes "${o.name}" nowhere. Pick a chain or a joint first${then}.`;
    brought.set(free.way, o);
  }
  const open = asked.find((w) => !brought.has(w.way));
  if (open) return `For "${module.name}", pick ${TAKES_WORDS[open.takes]} too: its ${open.way.name}.`;
  return { chain, tip: first.type === 'joint' ? first.name : lastOf(joints).name, brought };
}

/** The last joint as one follows the first of those that hang under each. */
function lastOf(joints: readonly ObjectRecord[]): ObjectRecord {
  let at = joints[0];
  for (let below = at as ObjectRecord | undefined; below; below = joints.find((j) => j.parent === at.id)) at = below;
  return at;
}

/**
 * The skin of a chain for a way that takes one: where the way goes to a node that keeps a skin out of the ground, and a
 * graph moves a mesh by the chain. What that node moves: its wire, where it is in the same graph, else the object.
 */
function skinFor(
  base: Catalogue,
  project: Project,
  module: ModuleRecord,
  chain: ObjectRecord,
  way: Way,
  into: GraphRecord,
): WireRecord['from'] | ObjectRecord | undefined {
  const { graph: inside } = module;
  const wall = inside.nodes.find((n) => base.get(n.type)?.way === 'in')?.id;
  const isForSkin = inside.wires.some((w) => {
    const to = inside.nodes.find((n) => n.id === w.to.node);
    return w.from.node === wall && w.from.port === way.id && w.to.port === 'skin' && to && base.get(to.type)?.contacts;
  });
  if (!isForSkin) return undefined;
  for (const graph of [into, ...project.graphs.filter((g) => g !== into)])
    for (const node of graph.nodes) {
      const skins = base.get(node.type)?.skins;
      if (!skins || !isPosedBy(graph, node.id, skins.chain, chain.id)) continue;
      const from = graph.wires.find((w) => w.to.node === node.id && w.to.port === skins.mesh)?.from;
      const source = graph.nodes.find((n) => n.id === from?.node);
      if (from && graph === into) return from;
      const object = source?.type === sceneMesh.id ? source.settings.object : undefined;
      const found = project.objects.find((o) => o.id === object);
      if (found) return found;
    }
  return undefined;
}

/** Whether what comes in at a port comes, in the end, from a chain of the scene. */
function isPosedBy({ nodes, wires }: GraphRecord, node: string, port: string, chain: string): boolean {
  const first = wires.find((w) => w.to.node === node && w.to.port === port)?.from.node;
  const seen = new Set(first === undefined ? [] : [first]);
  for (const id of seen) {
    const at = nodes.find((n) => n.id === id);
    if (at?.type === sceneChainNode.id && at.settings.object === chain) return true;
    for (const w of wires) if (w.to.node === id) seen.add(w.from.node);
  }
  return false;
}

/** Where a locator for a way starts: at the joint, or for *top* as far beyond it as its bone is long. */
function startAt(byId: ObjectsById, joint: ObjectRecord, way: Way): Matrix {
  const world = worldMatrix(byId, joint.id);
  const above = byId.get(joint.parent ?? '');
  if (way.start !== 'top' || above?.type !== 'joint') return world;
  const from = worldMatrix(byId, above.id);
  const out = Float64Array.from(world);
  for (let k = 12; k < 15; k++) out[k] += world[k] - from[k];
  return out;
}

/** Why a module that poses joints cannot be put on what is picked; undefined where it can. */
export function wrongToPose(
  base: Catalogue,
  project: Project,
  module: ModuleRecord,
  objects: readonly ObjectRecord[],
): string | undefined {
  const picked = pickedFor(base, project, module, objects);
  return typeof picked === 'string' ? picked : undefined;
}

/**
 * Puts a module that poses joints on a chain: it is read by its channels, goes through the module, and is driven by what
 * comes out. Where a graph drives the chain already, the module comes last in it. The first way that names a joint gets the
 * one that was picked, or the last of the chain; places that nothing was picked for get a locator where that joint is, or beyond it.
 * @throws Error with the sentence of `wrongToPose`
 */
export function putOnChain(base: Catalogue, project: Project, module: ModuleRecord, objects: readonly ObjectRecord[]): PutOn {
  const picked = pickedFor(base, project, module, objects);
  const ways = chainWays(base, module);
  if (typeof picked === 'string' || !ways) throw new Error(typeof picked === 'string' ? picked : module.name);
  const { chain, tip, brought } = picked;
  const byId = objectsById(project.objects);
  const tipJoint = jointsOf(project.objects, chain.id).find((j) => j.name === tip);
  const driving = project.graphs.find((g) => g.nodes.some((n) => n.type === driveChain.id && n.settings.object === chain.id));
  const graph = driving ?? emptyGraph(`${chain.name}: ${module.name}`);
  const drive =
    graph.nodes.find((n) => n.type === driveChain.id && n.settings.object === chain.id) ??
    nodeOf(driveChain, [480, 0], { object: chain.id });
  const before = graph.wires.find((w) => w.to.node === drive.id && w.to.port === 'chain');
  const [x, y] = drive.position;
  const nodes: NodeRecord[] = [];
  const wires: WireRecord[] = [];
  const wire = (from: WireRecord['from'], to: WireRecord['to']) => wires.push({ id: newId('wire'), from, to, pins: [] });
  // 1. The use, with the joint it is for.
  const { ins } = wallsOf(base, module.graph);
  const type = typeOfUse(module);
  const ofJoint = catalogueOf(base, project)
    .get(type)
    ?.settings.find((s) => s.type === 'text' && s.jointOf !== undefined);
  const settings: Record<string, SettingValue> = ofJoint ? { [ofJoint.id]: tip } : {};
  const use = { ...nodeOf({ id: type, version: 1 }, [x, y], settings), id: newId('use') };
  nodes.push(use);
  // 2. The chain through it.
  const read = nodeOf(sceneChainNode, [x - 240, y], { object: chain.id, pose: 'channels' });
  if (!before) nodes.push(read);
  wire(before?.from ?? { node: read.id, port: 'chain' }, { node: use.id, port: ways.into.id });
  wire({ node: use.id, port: ways.out.id }, { node: drive.id, port: 'chain' });
  // 3. What its other ways take.
  const locators: ObjectRecord[] = [];
  let low = y + 170;
  for (const way of ins) {
    const from = broughtBy(way);
    if (!from || way === ways.into) continue;
    let object = brought.get(way);
    const skin = object ? undefined : skinFor(base, project, module, chain, way, graph);
    if (skin && 'node' in skin) {
      wire(skin, { node: use.id, port: way.id });
      continue;
    }
    object ??= skin;
    if (!object) {
      if (way.optional || from.takes !== 'any') continue;
      const world = startAt(byId, tipJoint ?? chain, way);
      object = locatorFor({ ...project, objects: [...project.objects, ...locators] }, module, way, world, undefined);
      locators.push(object);
    }
    const reader = { ...nodeOf(from.type, [x - 240, low], { object: object.id }), title: object.name };
    low += 170;
    nodes.push(reader);
    const port = accepts(way.kind as PortKind, 'matrix') || from.port !== 'matrix' ? from.port : 'position';
    wire({ node: reader.id, port }, { node: use.id, port: way.id });
  }
  const next = {
    ...graph,
    nodes: [...graph.nodes.filter((n) => n.id !== drive.id), ...nodes, { ...drive, position: [x + 240, y] as const }],
    wires: [...graph.wires.filter((w) => w !== before), ...wires],
  };
  const withLocators = { ...project, objects: [...project.objects, ...locators] };
  const made = driving
    ? inGraph(withLocators, graph.id, () => next)
    : { ...withLocators, graphs: [...withLocators.graphs, next] };
  return { project: made, graph: graph.id, use: use.id, locators };
}

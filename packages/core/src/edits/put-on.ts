import { boundsCentre, boundsOf } from '../geometry/bounds.ts';
import type { Mesh } from '../geometry/mesh.ts';
import { isGeometryKind } from '../graph/node/kinds.ts';
import type { Catalogue } from '../graph/node/catalogue.ts';
import { resolveGraph } from '../graph/network/resolve.ts';
import { shownResults } from '../graph/network/shown.ts';
import { transformPoint } from '../maths/matrix.ts';
import type { Vec3 } from '../maths/vector.ts';
import { catalogueOf } from '../modules/definitions.ts';
import { wallsOf } from '../modules/walls.ts';
import { sceneLocator } from '../nodes/bring-in/scene-locator.ts';
import { sceneMesh } from '../nodes/bring-in/scene-mesh.ts';
import { showMesh } from '../nodes/flow/show-mesh.ts';
import { type SettingValue, type Way } from '../project/fields.ts';
import { REST_CHANNELS } from '../project/rest-channels.ts';
import { makeObject, type ObjectRecord } from '../project/kinds/index.ts';
import { typeOfUse } from '../project/modules.ts';
import type { GraphRecord, ModuleRecord, NodeRecord, Project, WireRecord } from '../project/schema.ts';
import { objectsById } from '../scene/objects.ts';
import { worldMatrix } from '../scene/world.ts';
import { emptyGraph, freeName, inGraph, newId, nodeOf } from './document.ts';

/** A project in which a module was put on objects, and what to look at. */
export interface PutOn {
  readonly project: Project;
  readonly graph: string;
  readonly use: string;
  /** Locators that were made for it. */
  readonly locators: readonly ObjectRecord[];
}

/** Why a module cannot be put on objects, in a sentence; undefined where it can. */
export function wrongToPutOn(base: Catalogue, module: ModuleRecord, objects: readonly ObjectRecord[]): string | undefined {
  const { ins, outs } = wallsOf(base, module.graph);
  if (!ins.some(isMeshWay) || !outs.some(isMeshWay))
    return `"${module.name}" has no mesh way in and out, so it cannot be put on an object. Add it on the bench.`;
  if (objects.length === 0) return `Pick the objects that "${module.name}" shall be put on first.`;
  const other = objects.find((o) => o.type !== 'mesh');
  return other && `"${other.name}" is no mesh. Pick mesh objects to put "${module.name}" on.`;
}

const isMeshWay = (way: Way): boolean => isGeometryKind(way.kind as never);

/**
 * Puts a module on mesh objects: each is read as it looks so far, goes through the module, and is shown; locators that the
 * module asks for are made where its ways say, and named. A graph that makes the object already goes on through the module.
 * @param meshOf the mesh that an object brings, for the middle and the top of its bounds
 */
export function putOn(
  base: Catalogue,
  project: Project,
  module: ModuleRecord,
  objects: readonly ObjectRecord[],
  meshOf: (object: ObjectRecord) => Mesh | undefined,
): PutOn {
  let made = project;
  let last: Omit<PutOn, 'project' | 'locators'> = { graph: '', use: '' };
  const locators: ObjectRecord[] = [];
  for (const object of objects) {
    const result = putOnOne(base, made, module, object, meshOf(object));
    made = result.project;
    last = result;
    locators.push(...result.locators);
  }
  return { project: made, graph: last.graph, use: last.use, locators };
}

function putOnOne(base: Catalogue, project: Project, module: ModuleRecord, object: ObjectRecord, mesh: Mesh | undefined): PutOn {
  const { ins, outs } = wallsOf(base, module.graph);
  const wayIn = ins.find(isMeshWay) as Way;
  const wayOut = outs.find(isMeshWay) as Way;
  const catalogue = catalogueOf(base, project);
  const shown = shownResults(base, project).find((r) => r.object === object.id && !r.node.includes('/'));
  const before = project.graphs.find((g) => g.id === shown?.graph);
  const graph = before ?? { ...emptyGraph(object.name), id: newId('graph') };
  const showing = before?.nodes.find((n) => n.id === shown?.node);
  const into = showing && resolveGraph(catalogue, graph).get(showing.id)?.wires.values().next().value;
  const right = Math.max(0, ...graph.nodes.map((n) => n.position[0]));
  const [x, y] = showing ? showing.position : [right + 240, 0];
  const settings: Record<string, SettingValue> = {};
  const locators: ObjectRecord[] = [];
  const nodes: NodeRecord[] = [];
  const wires: WireRecord[] = [];
  const wire = (from: WireRecord['from'], to: WireRecord['to']) => wires.push({ id: newId('wire'), from, to, pins: [] });
  const use = { ...nodeOf({ id: typeOfUse(module), version: 1 }, [x, y], settings), id: newId('use') };
  const place = (way: Way): ObjectRecord => {
    const name = freeName({ ...project, objects: [...project.objects, ...locators] }, `${module.name} ${way.name}`);
    const channels = { ...REST_CHANNELS, translate: startOf(project, object, mesh, way.start) };
    const locator = makeObject(newId('locator'), name, 'locator', { channels });
    locators.push(locator);
    return locator;
  };
  // 1. Places: a setting that names an object, or a wire from a locator.
  let low = y + 160;
  for (const way of ins) {
    if (way.control !== 'place') continue;
    if (way.sets.length > 0) settings[way.id] = place(way).id;
    else if (way.kind === 'vector' || way.kind === 'matrix') {
      const node = nodeOf(sceneLocator, [x - 240, low], { object: place(way).id });
      low += 220;
      nodes.push(node);
      wire({ node: node.id, port: way.kind === 'matrix' ? 'matrix' : 'position' }, { node: use.id, port: way.id });
    }
  }
  // A way that names the mesh object itself takes it.
  for (const way of ins) if (way.control === 'object' && way.sets.length > 0) settings[way.id] ??= object.id;
  // 2. The mesh as it looks so far, and what shows it.
  const others = into ? graph.wires.filter((w) => w !== into) : graph.wires;
  if (into) wire(into.from, { node: use.id, port: wayIn.id });
  else {
    const source = nodeOf(sceneMesh, [x - 240, y], { object: object.id });
    nodes.push(source);
    wire({ node: source.id, port: 'mesh' }, { node: use.id, port: wayIn.id });
  }
  const show = showing ?? nodeOf(showMesh, [x + 240, y], { object: object.id });
  wire({ node: use.id, port: wayOut.id }, { node: show.id, port: 'mesh' });
  const moved = showing ? { ...showing, position: [x + 240, y] as const } : show;
  const next: GraphRecord = {
    ...graph,
    nodes: [...graph.nodes.filter((n) => n.id !== show.id), ...nodes, { ...use, settings }, moved],
    wires: [...others, ...wires],
  };
  const withObjects = { ...project, objects: [...project.objects, ...locators] };
  const withGraph = before ? inGraph(withObjects, graph.id, () => next) : { ...withObjects, graphs: [...project.graphs, next] };
  return { project: withGraph, graph: graph.id, use: use.id, locators };
}

/** Where a locator starts, in world space: of the object as it rests, or the world's origin. */
function startOf(project: Project, object: ObjectRecord, mesh: Mesh | undefined, start: Way['start']): Vec3 {
  if (start === 'world') return [0, 0, 0];
  const world = worldMatrix(objectsById(project.objects), object.id);
  if (start === 'origin' || !mesh || mesh.positions.length === 0) return [world[12], world[13], world[14]];
  const bounds = boundsOf(mesh.positions);
  const middle = boundsCentre(bounds);
  return transformPoint(world, start === 'top' ? [middle[0], bounds.high[1], middle[2]] : middle);
}

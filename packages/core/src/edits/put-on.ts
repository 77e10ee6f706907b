import type { Mesh } from '../geometry/mesh.ts';
import { isGeometryKind } from '../graph/node/kinds.ts';
import type { Catalogue } from '../graph/node/catalogue.ts';
import { resolveGraph } from '../graph/network/resolve.ts';
import { shownResults } from '../graph/network/shown.ts';
import { catalogueOf } from '../modules/definitions.ts';
import { takenBy, wallsOf } from '../modules/walls.ts';
import { sceneLocator } from '../nodes/bring-in/scene-locator.ts';
import { sceneMesh } from '../nodes/bring-in/scene-mesh.ts';
import { showMesh } from '../nodes/flow/show-mesh.ts';
import { type SettingValue, type Way } from '../project/fields.ts';
import { fitsSetting, kindOf, TAKES_WORDS, type ObjectRecord, type ObjectTakes } from '../project/kinds/index.ts';
import { typeOfUse } from '../project/modules.ts';
import type { GraphRecord, ModuleRecord, NodeRecord, Project, WireRecord } from '../project/schema.ts';
import { identity } from '../maths/matrix.ts';
import { objectsById } from '../scene/objects.ts';
import { worldMatrix } from '../scene/world.ts';
import { emptyGraph, inGraph, newId, nodeOf } from './document.ts';
import { locatorFor } from './locator-for.ts';
import { isConstraintModule, wrongToConstrain, type PutOn } from './put-constraint-on.ts';

/** What a module is put on: meshes, each by itself, or nothing where it makes its mesh by itself; and what its ways name. */
interface Picked {
  readonly bodies: readonly (ObjectRecord | undefined)[];
  readonly named: Readonly<Record<string, string>>;
}

/**
 * Why a module cannot be put on objects, in a sentence; undefined where it can.
 * @param objects as they were picked: for a constraint the object, then its drivers
 */
export function wrongToPutOn(base: Catalogue, module: ModuleRecord, objects: readonly ObjectRecord[]): string | undefined {
  if (isConstraintModule(base, module)) return wrongToConstrain(base, module, objects);
  const picked = pickedFor(base, module, objects);
  return typeof picked === 'string' ? picked : undefined;
}

/** What a module that shapes takes beside meshes that it is put on: what its ways name, in order. */
export const namedBy = (base: Catalogue, module: ModuleRecord): { way: Way; takes: ObjectTakes }[] =>
  wallsOf(base, module.graph).ins.flatMap((way) => {
    const takes = way.control === 'place' ? undefined : takenBy(base, module.graph, way);
    return takes === undefined ? [] : [{ way, takes }];
  });

/** Ways that take meshes on wires; the first is what is shaped. */
export const meshWays = (base: Catalogue, module: ModuleRecord): Way[] => wallsOf(base, module.graph).ins.filter(isMeshWay);

/** Meshes are what it is put on; other objects go to the ways that take such, in order. */
function pickedFor(base: Catalogue, module: ModuleRecord, objects: readonly ObjectRecord[]): Picked | string {
  const { outs } = wallsOf(base, module.graph);
  const { name } = module;
  const taking = namedBy(base, module);
  const takesMesh = meshWays(base, module).length > 0;
  if (!outs.some(isMeshWay) || !(takesMesh || taking.length > 0))
    return `"${name}" gives neither a mesh for an object nor a matrix, so it cannot be put on one. Add it on the bench.`;
  const meshes: readonly (ObjectRecord | undefined)[] = objects.filter((o) => o.type === 'mesh');
  const bodies = takesMesh ? meshes : [undefined];
  const named: Record<string, string> = {};
  for (const object of objects) {
    if (bodies.includes(object)) continue;
    const fits = taking.find(({ way, takes }) => !named[way.id] && fitsSetting(object, takes));
    if (!fits)
      return `"${object.name}" is a ${kindOf(object).label}, which "${name}" takes nowhere. Pick ${takesMesh ? 'mesh objects' : 'what it takes'}.`;
    named[fits.way.id] = object.id;
  }
  if (bodies.length === 0) return `Pick the mesh objects that "${name}" shall be put on first.`;
  const open = taking.find(({ way }) => !named[way.id]);
  if (!takesMesh && open) return `For "${name}", pick ${TAKES_WORDS[open.takes]} first: its ${open.way.name}.`;
  return { bodies, named };
}

const isMeshWay = (way: Way): boolean => isGeometryKind(way.kind as never);

/**
 * Puts a module on mesh objects: each is read as it looks so far, goes through the module, and is shown; locators that the
 * module asks for are made where its ways say, and named. A graph that makes the object already goes on through the module.
 * A module that makes its mesh from a curve, say, is put on that, and shown beside it.
 * @param objects for which `wrongToPutOn` found nothing wrong
 * @param meshOf the mesh that an object brings, for the middle and the top of its bounds
 * @throws Error with the sentence of `wrongToPutOn`
 */
export function putOn(
  base: Catalogue,
  project: Project,
  module: ModuleRecord,
  objects: readonly ObjectRecord[],
  meshOf: (object: ObjectRecord) => Mesh | undefined,
): PutOn {
  const picked = pickedFor(base, module, objects);
  if (typeof picked === 'string') throw new Error(picked);
  let made = project;
  let last: Omit<PutOn, 'project' | 'locators'> = { graph: '', use: '' };
  const locators: ObjectRecord[] = [];
  for (const body of picked.bodies) {
    const result = putOnOne(base, made, module, body, picked.named, body && meshOf(body));
    made = result.project;
    last = result;
    locators.push(...result.locators);
  }
  return { project: made, graph: last.graph, use: last.use, locators };
}

function putOnOne(
  base: Catalogue,
  project: Project,
  module: ModuleRecord,
  body: ObjectRecord | undefined,
  named: Picked['named'],
  mesh: Mesh | undefined,
): PutOn {
  const { ins, outs } = wallsOf(base, module.graph);
  const wayIn = body && ins.find(isMeshWay);
  const wayOut = outs.find(isMeshWay) as Way;
  const catalogue = catalogueOf(base, project);
  const shown = body && shownResults(base, project).find((r) => r.object === body.id && !r.node.includes('/'));
  const before = project.graphs.find((g) => g.id === shown?.graph);
  const graph = before ?? { ...emptyGraph(body?.name ?? module.name), id: newId('graph') };
  const showing = before?.nodes.find((n) => n.id === shown?.node);
  const into = showing && resolveGraph(catalogue, graph).get(showing.id)?.wires.values().next().value;
  const right = Math.max(0, ...graph.nodes.map((n) => n.position[0]));
  const [x, y] = showing ? showing.position : [right + 240, 0];
  const settings: Record<string, SettingValue> = { ...named };
  const locators: ObjectRecord[] = [];
  const nodes: NodeRecord[] = [];
  const wires: WireRecord[] = [];
  const wire = (from: WireRecord['from'], to: WireRecord['to']) => wires.push({ id: newId('wire'), from, to, pins: [] });
  const use = { ...nodeOf({ id: typeOfUse(module), version: 1 }, [x, y], settings), id: newId('use') };
  const world = body ? worldMatrix(objectsById(project.objects), body.id) : identity();
  const place = (way: Way): ObjectRecord => {
    const locator = locatorFor({ ...project, objects: [...project.objects, ...locators] }, module, way, world, mesh);
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
  const takes = (way: Way) => body && fitsSetting(body, takenBy(base, module.graph, way) ?? 'curve');
  for (const way of ins) if (way.control === 'object' && takes(way)) settings[way.id] ??= (body as ObjectRecord).id;
  // 2. The mesh as it looks so far, and what shows it.
  const others = into && wayIn ? graph.wires.filter((w) => w !== into) : graph.wires;
  if (into && wayIn) wire(into.from, { node: use.id, port: wayIn.id });
  else if (body && wayIn) {
    const source = nodeOf(sceneMesh, [x - 240, y], { object: body.id });
    nodes.push(source);
    wire({ node: source.id, port: 'mesh' }, { node: use.id, port: wayIn.id });
  }
  const show = showing ?? nodeOf(showMesh, [x + 240, y], body ? { object: body.id } : { name: module.name });
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

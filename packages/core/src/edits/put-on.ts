import type { Mesh } from '../geometry/mesh.ts';
import { isGeometryKind } from '../graph/node/kinds.ts';
import type { Catalogue } from '../graph/node/catalogue.ts';
import { takenBy, wallsOf } from '../modules/walls.ts';
import { sceneLocator } from '../nodes/bring-in/scene-locator.ts';
import { type SettingValue, type Way } from '../project/fields.ts';
import { fitsSetting, kindOf, TAKES_WORDS, type ObjectRecord, type ObjectTakes } from '../project/kinds/index.ts';
import { typeOfUse } from '../project/modules.ts';
import type { ModuleRecord, Project } from '../project/schema.ts';
import { identity } from '../maths/matrix.ts';
import { objectsById } from '../scene/objects.ts';
import { worldMatrix } from '../scene/world.ts';
import { inGraph, newId, nodeOf } from './document.ts';
import { APART, goThrough } from './go-through.ts';
import { locatorFor } from './locator-for.ts';
import { chainWays, putOnChain, wrongToPose } from './put-on-chain.ts';
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
export function wrongToPutOn(
  base: Catalogue,
  project: Project,
  module: ModuleRecord,
  objects: readonly ObjectRecord[],
): string | undefined {
  if (isConstraintModule(base, module)) return wrongToConstrain(base, module, objects);
  if (chainWays(base, module)) return wrongToPose(base, project, module, objects);
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
 * A module that makes its mesh from a curve, say, is put on that, and shown beside it; one that poses joints on a chain.
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
  if (chainWays(base, module)) return putOnChain(base, project, module, objects);
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
  const settings: Record<string, SettingValue> = { ...named };
  const locators: ObjectRecord[] = [];
  // Locators to read, and the ways that take them.
  const read: { readonly way: Way; readonly locator: ObjectRecord }[] = [];
  const world = body ? worldMatrix(objectsById(project.objects), body.id) : identity();
  const place = (way: Way): ObjectRecord => {
    const locator = locatorFor({ ...project, objects: [...project.objects, ...locators] }, module, way, world, mesh);
    locators.push(locator);
    return locator;
  };
  // 1. Places: a setting that names an object, or a wire from a locator.
  for (const way of ins) {
    if (way.control !== 'place') continue;
    if (way.sets.length > 0) settings[way.id] = place(way).id;
    else if (way.kind === 'vector' || way.kind === 'matrix') read.push({ way, locator: place(way) });
  }
  // A way that names the mesh object itself takes it.
  const takes = (way: Way) => body && fitsSetting(body, takenBy(base, module.graph, way) ?? 'curve');
  for (const way of ins) if (way.control === 'object' && takes(way)) settings[way.id] ??= (body as ObjectRecord).id;
  // 2. The mesh as it looks so far, and what shows it.
  const use = { ...nodeOf({ id: typeOfUse(module), version: 1 }, [0, 0], settings), id: newId('use') };
  const withLocators = { ...project, objects: [...project.objects, ...locators] };
  const ports = { into: wayIn?.id, out: wayOut.id };
  const gone = goThrough(base, withLocators, body, use, ports, module.name);
  // 3. What reads the locators.
  const [x, y] = gone.at;
  const nodes = read.map(({ locator }, i) => nodeOf(sceneLocator, [x - APART, y + 160 + 220 * i], { object: locator.id }));
  const wires = read.map(({ way }, i) => ({
    id: newId('wire'),
    from: { node: nodes[i].id, port: way.kind === 'matrix' ? 'matrix' : 'position' },
    to: { node: use.id, port: way.id },
    pins: [],
  }));
  const withReaders = inGraph(gone.project, gone.graph, (g) => ({
    ...g,
    nodes: [...g.nodes, ...nodes],
    wires: [...g.wires, ...wires],
  }));
  return { project: withReaders, graph: gone.graph, use: use.id, locators };
}

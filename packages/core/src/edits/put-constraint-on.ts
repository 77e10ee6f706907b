import type { Mesh } from '../geometry/mesh.ts';
import { isGeometryKind } from '../graph/node/kinds.ts';
import type { Catalogue } from '../graph/node/catalogue.ts';
import { settingsOf } from '../graph/node/typed.ts';
import { catalogueOf } from '../modules/definitions.ts';
import { expandProject } from '../modules/expand.ts';
import { graphWithNode } from '../modules/views.ts';
import { takenBy, wallsOf } from '../modules/walls.ts';
import { sceneLocator } from '../nodes/bring-in/scene-locator.ts';
import type { SettingValue, Way } from '../project/fields.ts';
import { fitsSetting, kindOf, TAKES_WORDS, type ObjectRecord, type ObjectTakes } from '../project/kinds/index.ts';
import { pathTo, typeOfUse, usedKey } from '../project/modules.ts';
import type { ModuleRecord, NodeRecord, Project, WireRecord } from '../project/schema.ts';
import { identity } from '../maths/matrix.ts';
import type { ConstrainServices } from './constrain.ts';
import type { Pose } from './pose.ts';
import { newId, nodeOf, setSetting } from './document.ts';
import { locatorFor } from './locator-for.ts';
import { loopOf, placeForCarrier, standingOf, withCarrier } from './under-carrier.ts';

/** A project in which a module was put on objects, and what to look at. */
export interface PutOn {
  readonly project: Project;
  readonly graph: string;
  readonly use: string;
  /** Locators that were made for it. */
  readonly locators: readonly ObjectRecord[];
}

/** What a constraint module asks for: the way of its object, what drives it, and the way out of the carrier. */
interface Parts {
  /** Ways that take the object that is constrained: one for each constraint inside; a module without any has none. */
  readonly children: readonly Way[];
  /** Ways that take a driver, in order. */
  readonly drivers: readonly Driver[];
  readonly carrier: Way;
}

interface Driver {
  readonly way: Way;
  /** What it may be, where it names an object; a wire takes the matrix or the place of any. */
  readonly takes: ObjectTakes;
  /** A locator is made for it where nothing was picked. */
  readonly isMade: boolean;
}

/** The parts of a module that constrains objects: one with a matrix way out and no mesh. Undefined for others. */
function partsOf(base: Catalogue, module: ModuleRecord): Parts | undefined {
  const { ins, outs } = wallsOf(base, module.graph);
  const carrier = outs.find((w) => w.kind === 'matrix');
  if (!carrier || outs.some((w) => isGeometryKind(w.kind as never))) return undefined;
  const children = ins.filter((w) => takenBy(base, module.graph, w) !== undefined && isChild(base, module, w));
  const drivers = ins.flatMap((way): Driver[] => {
    if (children.includes(way)) return [];
    const isMade = way.control === 'place';
    const takes = takenBy(base, module.graph, way);
    if (way.sets.length > 0) return takes === undefined ? [] : [{ way, takes, isMade }];
    const isWire = way.kind === 'matrix' || (way.kind === 'vector' && isMade);
    return isWire && !way.optional ? [{ way, takes: 'any', isMade }] : [];
  });
  return { children, drivers, carrier };
}

/** What a constraint module asks to be picked after the object, in order: what each takes. */
export const driversAskedBy = (base: Catalogue, module: ModuleRecord): ObjectTakes[] =>
  partsOf(base, module)
    ?.drivers.filter((d) => !d.isMade)
    .map((d) => d.takes) ?? [];

/** Whether a module constrains objects: it gives the matrix that carries one. */
export const isConstraintModule = (base: Catalogue, module: ModuleRecord): boolean => partsOf(base, module) !== undefined;

/** Whether a way names what a constraint inside is for; inside of a module in it, what it may be for. */
const isChild = (base: Catalogue, { graph }: ModuleRecord, way: Way): boolean =>
  way.sets.some(({ node }) => {
    const inside = graph.nodes.find((n) => n.id === node);
    if (!inside) return false;
    return usedKey(inside) !== undefined || base.get(inside.type)?.settings.some((s) => s.type === 'snapshot') === true;
  });

/** Why a constraint module cannot be put on an object with drivers, in a sentence; undefined where it can. */
export function wrongToConstrain(
  base: Catalogue,
  module: ModuleRecord,
  [child, ...drivers]: readonly ObjectRecord[],
): string | undefined {
  const parts = partsOf(base, module);
  if (!parts) return `"${module.name}" gives no matrix, so it constrains nothing.`;
  const slots = slotsFor(parts, drivers.length);
  if (!child || !slots) {
    const needed = parts.drivers.filter((d) => !d.isMade);
    const then = needed.map((d) => `, then its ${d.way.name}`).join('');
    return `For "${module.name}", pick the object${then} (Shift and click).`;
  }
  const wrong = slots.findIndex((s, i) => !fitsSetting(drivers[i], s.takes));
  if (wrong >= 0)
    return `"${drivers[wrong].name}" is a ${kindOf(drivers[wrong]).label.toLowerCase()}, and "${slots[wrong].way.name}" takes ${TAKES_WORDS[slots[wrong].takes]}. Pick another.`;
  if (new Set([child, ...drivers]).size <= drivers.length) return 'An object cannot drive itself. Pick another one for it.';
  return undefined;
}

/** Which ways so many drivers go to: all, or those that no locator is made for. */
function slotsFor({ drivers }: Parts, count: number): readonly Driver[] | undefined {
  const needed = drivers.filter((d) => !d.isMade);
  return count === needed.length ? needed : count === drivers.length ? drivers : undefined;
}

/**
 * Puts a constraint module on an object: it takes the object and its drivers, makes the locators that it asks for beyond
 * them, and carries the object, behind what does so already. Everything inside takes its snapshot, so that nothing moves.
 * @param picked the object, then its drivers
 * @returns the project, or why there can be none, in a sentence
 */
export async function putConstraintOn(
  base: Catalogue,
  pose: Pose,
  module: ModuleRecord,
  picked: readonly ObjectRecord[],
  services: Pick<ConstrainServices, 'snapshot'>,
  meshOf: (object: ObjectRecord) => Mesh | undefined,
): Promise<PutOn | string> {
  const wrong = wrongToConstrain(base, module, picked);
  const parts = partsOf(base, module);
  const [child, ...drivers] = picked;
  const slots = parts && slotsFor(parts, drivers.length);
  if (wrong !== undefined || !parts || !slots) return wrong ?? '';
  const catalogue = catalogueOf(base, pose.project);
  const place = placeForCarrier(catalogue, pose.project, child, `${child.name}: ${module.name}`);
  if (typeof place === 'string') return place;
  // 1. The use, with what drives it: picked, or a locator that is made.
  const settings: Record<string, SettingValue> = {};
  const nodes: NodeRecord[] = [];
  const wires: WireRecord[] = [];
  const locators: ObjectRecord[] = [];
  const use = { ...nodeOf({ id: typeOfUse(module), version: 1 }, [260, place.low], settings), id: newId('use') };
  for (const way of parts.children) settings[way.id] = child.id;
  const drive = (way: Way, driver: ObjectRecord) => {
    if (way.sets.length > 0) return void (settings[way.id] = driver.id);
    const y = place.low + nodes.length * 250;
    const node = { ...nodeOf(sceneLocator, [0, y], { object: driver.id }), title: driver.name };
    nodes.push(node);
    const port = way.kind === 'vector' ? 'position' : 'matrix';
    wires.push({ id: newId('wire'), from: { node: node.id, port }, to: { node: use.id, port: way.id }, pins: [] });
  };
  for (const { way } of parts.drivers) {
    const at = slots.findIndex((s) => s.way === way);
    if (at >= 0) drive(way, drivers[at]);
    else {
      const objects = [...pose.project.objects, ...locators];
      const made = locatorFor({ ...pose.project, objects }, module, way, pose.world(child.id), meshOf(child));
      locators.push(made);
      drive(way, made);
    }
  }
  // 2. Its carrier goes under the object.
  const withLocators = { ...pose.project, objects: [...pose.project.objects, ...locators] };
  const carrier = { node: use.id, port: parts.carrier.id };
  let project = withCarrier(withLocators, place, child, [...nodes, { ...use, settings }], wires, carrier);
  const loop = loopOf(catalogue, project, child);
  if (loop !== undefined) return loop;
  // 3. Where everything stands now. What a constraint reads may hang on another one's carrier, which then comes first.
  const standing = standingOf(pose, child, place);
  let left = constraintsIn(base, project, use.id);
  for (let first = true; left.length > 0; first = false) {
    const waiting: string[] = [];
    for (const path of left) {
      const asNew = first && path === left[0] ? standing : { ...standing, carrier: identity() };
      const snapshot = await services.snapshot(project, pose.frame, path, asNew);
      if (!snapshot) waiting.push(path);
      else project = setSetting(catalogue, graphWithNode(project, path) ?? '', path, 'snapshot', snapshot)(project);
    }
    if (waiting.length === left.length)
      return `"${module.name}" could not be put on "${child.name}": something that it reads has no place now.`;
    left = waiting;
  }
  return { project, graph: place.graph.id, use: use.id, locators };
}

/** The constraints inside of a use that remember where everything stood, by path. */
function constraintsIn(base: Catalogue, project: Project, use: string): string[] {
  const flat = expandProject(base, project).project;
  return flat.graphs
    .flatMap((g) => g.nodes)
    .filter((n) => {
      if (!n.id.startsWith(pathTo(use, ''))) return false;
      const definition = base.get(n.type);
      const now = definition && settingsOf(definition, n);
      return definition?.settings.some((s) => s.type === 'snapshot' && (s.shown?.(now ?? {}) ?? true)) === true;
    })
    .map((n) => n.id);
}

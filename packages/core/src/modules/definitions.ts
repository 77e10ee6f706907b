import { isGeometryKind } from '../graph/node/kinds.ts';
import { makeCatalogue, type Catalogue } from '../graph/node/catalogue.ts';
import type { InputPort, NodeDefinition, OutputPort, Setting } from '../graph/node/definition.ts';
import { settingsOf } from '../graph/node/typed.ts';
import { memoizeWithin } from '../memo.ts';
import type { Way } from '../project/fields.ts';
import { moduleKey, usedKey, typeOfUse } from '../project/modules.ts';
import type { ModuleRecord, NodeRecord, Project } from '../project/schema.ts';
import { versionWords } from './versions.ts';
import { wallsOf } from './walls.ts';

/** Modules may stand in each other so deep. */
export const MOST_DEEP = 32;

/**
 * The types of nodes that a project is read with: those given, and one for every module that it has. Uses of a module are
 * nodes whose ports are its ways; what they compute is what the nodes inside do (see `expandProject`).
 */
export const catalogueOf = (base: Catalogue, project: Pick<Project, 'modules'>): Catalogue =>
  project.modules.length === 0 ? base : withModules(base, project.modules);

const withModules = memoizeWithin((base: Catalogue, modules: readonly ModuleRecord[]): Catalogue => {
  const known = new Map(modules.map((m) => [moduleKey(m), m]));
  const made = new Map<string, NodeDefinition>();
  const define = (module: ModuleRecord, within: readonly string[]): NodeDefinition | undefined => {
    const key = moduleKey(module);
    const before = made.get(key);
    if (before || within.includes(key) || within.length >= MOST_DEEP) return before;
    const inside = new Map(base);
    for (const node of module.graph.nodes) {
      const used = known.get(usedKey(node) ?? '');
      const definition = used && define(used, [...within, key]);
      if (definition) inside.set(definition.id, definition);
    }
    const definition = definitionOf(inside, module);
    made.set(key, definition);
    return definition;
  };
  for (const module of modules) define(module, []);
  return makeCatalogue([...base.values(), ...made.values()]);
});

/** What a module is as a type of node. @param inside the types of the nodes in it */
function definitionOf(inside: Catalogue, module: ModuleRecord): NodeDefinition {
  const { wayIn, wayOut, ins, outs } = wallsOf(inside, module.graph);
  const out = wayOut && inside.get(wayOut.type);
  const into = wayIn && inside.get(wayIn.type);
  const inputs: readonly InputPort[] = (into?.outputs(settingsOf(into, wayIn as NodeRecord)) ?? []).map((port) => {
    const way = ins.find((w) => w.id === port.id) as Way;
    return { ...port, ...asInput(way), ...(isUniform(inside, module, way) && { uniform: true }) };
  });
  const outputs: readonly OutputPort[] = (out?.inputs(settingsOf(out, wayOut as NodeRecord)) ?? []).map(
    ({ id, label, kind, help, unit }) => ({ id, label, kind, help, ...(unit && { unit }) }),
  );
  const settings = ins.flatMap((way) => settingOf(inside, module, way) ?? []);
  const passes = Object.fromEntries(
    outs.flatMap((o) => {
      const from = ins.find((i) => i.kind === o.kind || (isGeometry(i) && isGeometry(o)));
      return from && isGeometry(o) ? [[o.id, from.id]] : [];
    }),
  );
  return {
    id: typeOfUse(module),
    version: 1,
    title: module.name,
    group: 'Modules',
    summary: module.summary,
    keywords: module.tags,
    inputs: () => inputs,
    outputs: () => outputs,
    settings,
    sentence: () =>
      module.version > 0 ? `version ${versionWords(module.version)}${module.edited ? ', changed' : ''}` : 'not published yet',
    passes,
  };
}

const isGeometry = (way: Way): boolean => isGeometryKind(way.kind as never);

const asInput = (way: Way): Partial<InputPort> => ({
  ...(way.default !== null && { default: way.default }),
  ...(way.range && { range: way.range }),
  ...(way.optional && { optional: true }),
});

/** Whether some node inside takes one value for all of it. */
function isUniform(inside: Catalogue, { graph }: ModuleRecord, way: Way): boolean {
  return graph.wires.some((w) => {
    if (w.from.port !== way.id || inside.get(graph.nodes.find((n) => n.id === w.from.node)?.type ?? '')?.way !== 'in')
      return false;
    const node = graph.nodes.find((n) => n.id === w.to.node);
    const definition = node && inside.get(node.type);
    if (!node || !definition) return false;
    return definition.inputs(settingsOf(definition, node)).find((p) => p.id === w.to.port)?.uniform ?? false;
  });
}

/** A way that stands for settings, as the setting of a use: as that of the first node inside, under its own name. */
function settingOf(inside: Catalogue, { graph }: ModuleRecord, way: Way): Setting | undefined {
  for (const { node: id, setting } of way.sets) {
    const node = graph.nodes.find((n) => n.id === id);
    const definition = node && inside.get(node.type);
    const found = definition?.settings.find((s) => s.id === setting);
    if (!found) continue;
    const { shown: _shown, ...plain } = found;
    const now = settingsOf(definition as NodeDefinition, node as NodeRecord)[setting];
    const own = {
      ...{ id: way.id, label: way.name, help: way.help || found.help },
      ...(found.type === 'text' && found.jointOf !== undefined && { jointOf: wayTo(inside, graph, id, found.jointOf) }),
      ...(found.type === 'text' &&
        found.attributeOf !== undefined && { attributeOf: wayTo(inside, graph, id, found.attributeOf) }),
    };
    return (found.type === 'object' ? { ...plain, ...own } : { ...plain, ...own, default: now }) as Setting;
  }
  return undefined;
}

/** The way in that an input inside comes from, wherever it went through of the same kind; the first of its kind where none does. */
function wayTo(inside: Catalogue, graph: ModuleRecord['graph'], id: string, port: string): string {
  const isWall = (node: string) => inside.get(graph.nodes.find((n) => n.id === node)?.type ?? '')?.way === 'in';
  const seen = new Set<string>();
  let at = graph.wires.find((w) => w.to.node === id && w.to.port === port);
  while (at && !isWall(at.from.node) && !seen.has(at.id)) {
    seen.add(at.id);
    const { node } = at.from;
    at = graph.wires.find((w) => w.to.node === node && w.to.port === port);
  }
  return at?.from.port ?? port;
}

/**
 * The circle that would close if a module used another: names from the one to itself again; undefined where there is none.
 * @param module the key of the one that uses, @param used that of the one used
 */
export function circleThrough(project: Pick<Project, 'modules'>, module: string, used: string): string[] | undefined {
  const known = new Map(project.modules.map((m) => [moduleKey(m), m]));
  const nameOf = (key: string) => known.get(key)?.name ?? key;
  const seen = new Set<string>();
  const search = (key: string, way: readonly string[]): string[] | undefined => {
    if (key === module) return [...way, nameOf(key)];
    if (seen.has(key)) return undefined;
    seen.add(key);
    for (const node of known.get(key)?.graph.nodes ?? []) {
      const next = usedKey(node);
      const found = next === undefined ? undefined : search(next, [...way, nameOf(key)]);
      if (found) return found;
    }
    return undefined;
  };
  return search(used, [nameOf(module)]);
}

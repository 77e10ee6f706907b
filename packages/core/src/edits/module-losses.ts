import type { Catalogue } from '../graph/node/catalogue.ts';
import { wallsOf } from '../modules/walls.ts';
import { moduleKey, usedKey } from '../project/modules.ts';
import type { GraphRecord, ModuleRecord, NodeRecord, Project } from '../project/schema.ts';
import { keysIn } from '../scene/keys.ts';
import { counted } from '../words.ts';

/**
 * What uses of a module have at ways that another version has no more, or has of another kind: one sentence each, with the
 * use and the way by name. Nothing of it is removed by the update: it counts for nothing, and does again with a version that
 * has the way.
 * @param only one use, else all of the project
 */
export function lostWith(
  catalogue: Catalogue,
  project: Project,
  from: ModuleRecord,
  to: ModuleRecord,
  only?: { readonly graph: string; readonly node: string },
): string[] {
  const [a, b] = [wallsOf(catalogue, from.graph), wallsOf(catalogue, to.graph)];
  const without = (old: typeof a.ins, now: typeof a.ins) => old.filter((w) => now.find((x) => x.id === w.id)?.kind !== w.kind);
  const [ins, outs] = [without(a.ins, b.ins), without(a.outs, b.outs)];
  const graphs = [...project.graphs, ...project.modules.map((m) => m.graph)];
  return graphs.flatMap((g) =>
    g.nodes
      .filter((n) => usedKey(n) === moduleKey(from) && (!only || (only.graph === g.id && only.node === n.id)))
      .flatMap((use) => [
        ...ins.flatMap((way) =>
          lostAt(project, g, use, way.id).map((what) => `"${way.name}" of ${called(use, g, from)}: ${what}.`),
        ),
        ...outs.flatMap((way) => {
          const led = g.wires.filter((w) => w.from.node === use.id && w.from.port === way.id).length;
          return led > 0 ? [`"${way.name}" of ${called(use, g, from)}: ${counted(led, 'wire')} from it.`] : [];
        }),
      ]),
  );
}

const called = (use: NodeRecord, graph: GraphRecord, { name }: ModuleRecord): string => `${use.title || name} in ${graph.name}`;

/** What stands at a way in of a use, and what names it, in words. */
function lostAt(project: Project, graph: GraphRecord, use: NodeRecord, way: string): string[] {
  const wire = graph.wires.find((w) => w.to.node === use.id && w.to.port === way);
  const source = graph.nodes.find((n) => n.id === wire?.from.node);
  const typed: unknown = Object.hasOwn(use.inputs, way) ? use.inputs[way] : undefined;
  const pages = project.handOut?.pages.filter((page) =>
    page.parts.some((part) => part.kind === 'dials' && part.node === use.id && part.dials.includes(way)),
  );
  const poses = project.poses.filter(({ values }) => Object.hasOwn(values.dials[use.id] ?? {}, way));
  return [
    ...(wire ? [`the wire from ${source ? source.title || source.type : 'a card'}`] : []),
    ...(typed === undefined ? [] : [typedWords(typed)]),
    ...(Object.hasOwn(use.settings, way) ? [`what is chosen there`] : []),
    ...(pages ?? []).map((page) => `its place on the page "${page.name}"`),
    ...poses.map((pose) => `its value in the pose "${pose.name}"`),
  ];
}

function typedWords(value: unknown): string {
  const parts: unknown[] = Array.isArray(value) ? value : [value];
  const keys = parts.reduce((n: number, part) => n + (keysIn(part)?.keys.length ?? 0), 0);
  if (keys > 0) return counted(keys, 'key');
  return parts.some((part) => typeof part === 'object' && part !== null) ? 'an expression' : `the value ${parts.join(', ')}`;
}

/** Uses of other versions of a module than one: they stay as they are when that one's are updated. */
export function otherVersions(project: Project, { id, version }: ModuleRecord): { version: number; uses: number }[] {
  const graphs = [...project.graphs, ...project.modules.map((m) => m.graph)];
  const all = project.modules.filter((m) => m.id === id && m.version !== version);
  return all
    .map((m) => ({ version: m.version, uses: graphs.flatMap((g) => g.nodes).filter((n) => usedKey(n) === moduleKey(m)).length }))
    .filter((m) => m.uses > 0);
}

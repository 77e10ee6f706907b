import type { Catalogue } from '../graph/node/catalogue.ts';
import { catalogueOf } from '../modules/definitions.ts';
import { resolveProject } from '../graph/network/resolve.ts';
import type { GraphRecord, Project } from '../project/schema.ts';
import { newId } from './document.ts';

/** A graph made again beside itself, and the titles of its nodes that show or drive an object, which are skipped in it. */
export interface Duplicated {
  readonly project: Project;
  readonly graph: string;
  readonly skipped: readonly string[];
}

/**
 * Makes a graph again, after the one it is made from. What shows or drives an object is skipped in the copy, so that
 * nothing is shown or driven twice; what a use keeps for itself goes along.
 */
export function duplicateGraph(catalogue: Catalogue, project: Project, id: string): Duplicated | undefined {
  const at = project.graphs.findIndex((g) => g.id === id);
  if (at < 0) return undefined;
  const from = project.graphs[at];
  const acting = new Set<string>();
  for (const { record, graph, definition, settings } of resolveProject(catalogue, project).values()) {
    if (graph.id !== id) continue;
    const acts = definition?.shows?.(settings) || (definition?.drives?.(settings, project).length ?? 0) > 0;
    // What is inside of a use acts for the use.
    if (acts && !record.skip) acting.add(record.id.split('/')[0]);
  }
  const ids = new Map(from.nodes.map((n) => [n.id, newId(n.id.replace(/-[^-]*$/, '').slice(0, 40) || 'node')]));
  const idOf = (old: string) => ids.get(old) as string;
  const types = catalogueOf(catalogue, project);
  const skipped: string[] = [];
  const nodes = from.nodes.map((n) => {
    if (acting.has(n.id)) skipped.push(n.title || (types.get(n.type)?.title ?? n.type));
    return { ...n, id: idOf(n.id), skip: n.skip || acting.has(n.id) };
  });
  const graph: GraphRecord = {
    ...from,
    id: newId('graph'),
    name: nameBeside(project, from.name),
    nodes,
    wires: from.wires.map((w) => ({
      ...w,
      id: newId('wire'),
      from: { ...w.from, node: idOf(w.from.node) },
      to: { ...w.to, node: idOf(w.to.node) },
    })),
    sections: from.sections.map((s) => ({ ...s, id: newId('section'), nodes: s.nodes.map(idOf) })),
    preview: from.preview === null ? null : (ids.get(from.preview) ?? null),
  };
  return { project: { ...project, graphs: project.graphs.toSpliced(at + 1, 0, graph) }, graph: graph.id, skipped };
}

/** A name with a number that no graph has yet. */
function nameBeside(project: Project, name: string): string {
  const taken = new Set(project.graphs.map((g) => g.name));
  const stem = name.replace(/ \d+$/, '');
  for (let n = 2; ; n++) if (!taken.has(`${stem} ${n}`)) return `${stem} ${n}`;
}

/**
 * The objects that each graph is about, in order: those it shows or drives; where there are none, those it reads.
 * @param only this graph; all when left out
 */
export function subjectsOf(catalogue: Catalogue, project: Project, only?: string): ReadonlyMap<string, readonly string[]> {
  const made = new Map<string, Set<string>>(project.graphs.map((g) => [g.id, new Set()]));
  const read = new Map<string, Set<string>>(project.graphs.map((g) => [g.id, new Set()]));
  const names = new Set(project.objects.map((o) => o.id));
  for (const { record, graph, definition, settings } of resolveProject(catalogue, project).values()) {
    if (only !== undefined && graph.id !== only) continue;
    const shown = record.skip ? undefined : definition?.shows?.(settings)?.object;
    const driven = record.skip ? [] : (definition?.drives?.(settings, project) ?? []).map((d) => d.object);
    for (const id of [shown, ...driven]) if (id && names.has(id)) made.get(graph.id)?.add(id);
    for (const value of Object.values(settings))
      if (typeof value === 'string' && names.has(value)) read.get(graph.id)?.add(value);
  }
  return new Map(
    project.graphs.map((g) => {
      const mine = made.get(g.id) as Set<string>;
      return [g.id, [...(mine.size > 0 ? mine : (read.get(g.id) as Set<string>))]];
    }),
  );
}

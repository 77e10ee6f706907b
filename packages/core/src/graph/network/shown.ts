import type { Project } from '../../project/schema.ts';
import type { Catalogue } from '../node/catalogue.ts';
import { resolveProject } from './resolve.ts';

/** A named result that a node shows on the stage. */
export interface ShownResult {
  readonly name: string;
  readonly node: string;
  readonly graph: string;
  /** The object it replaces, or null. */
  readonly object: string | null;
  /** Of a result of its own: the object it hangs under, or null. */
  readonly under: string | null;
}

/** All results of a project, in document order; skipped nodes show nothing. */
export function shownResults(catalogue: Catalogue, project: Project): ShownResult[] {
  const names = new Map(project.objects.map((o) => [o.id, o.name]));
  const found: ShownResult[] = [];
  for (const { record, graph, definition, settings } of resolveProject(catalogue, project).values()) {
    const shown = record.skip ? undefined : definition?.shows?.(settings);
    if (!shown) continue;
    const replaced = shown.object === null ? undefined : names.get(shown.object);
    const name = shown.name || (replaced ?? (record.title || 'Result'));
    found.push({
      name,
      node: record.id,
      graph: graph.id,
      object: replaced === undefined ? null : shown.object,
      under: shown.under !== null && names.has(shown.under) ? shown.under : null,
    });
  }
  return found;
}

import type { TrackRow } from '../edits/key-edits.ts';
import { trackRows } from '../edits/key-edits.ts';
import type { Catalogue } from '../graph/node/catalogue.ts';
import type { Project } from '../project/schema.ts';
import { handedOut, isHandedOut, reachOf, reachWithin } from './reach.ts';

/**
 * The keys of what is handed out, under the names it has there: of some objects with the dials that act on them, or of
 * everything where none is named.
 */
export function handedRows(catalogue: Catalogue, project: Project, objects: readonly string[]): TrackRow[] {
  const all = reachOf(catalogue, project);
  const reach = objects.length > 0 ? reachWithin(catalogue, project, all, objects) : all;
  const parts = handedOut(catalogue, project).pages.flatMap((p) => p.parts);
  const called = (row: TrackRow): TrackRow => {
    const { ref } = row;
    if (ref.of === 'channel') {
      const part = parts.find((p) => p.kind === 'object' && p.object.id === ref.object);
      return part ? { ...row, owner: part.name } : row;
    }
    const part = parts.find((p) => p.kind === 'dials' && p.node.record.id === ref.node);
    const port = part?.kind === 'dials' ? part.ports.find((p) => p.id === ref.port) : undefined;
    if (!part || !port) return row;
    return { ...row, owner: part.name, label: ref.axis === null ? port.label : `${port.label} ${'xyz'[ref.axis]}` };
  };
  return trackRows(catalogue, project, [], [])
    .filter((r) => isHandedOut(reach, r.ref))
    .map(called);
}

import type { Project } from '../project/schema.ts';
import type { Edit } from './document.ts';

/** Before or after another in a list. */
export interface Beside {
  readonly id: string;
  readonly where: 'before' | 'after';
}

/** A list with some of its items moved beside another; they keep their order. The same list where nothing moves. */
function movedBeside<T extends { readonly id: string }>(
  list: readonly T[],
  ids: readonly string[],
  beside: Beside,
): readonly T[] {
  const moving = list.filter((x) => ids.includes(x.id) && x.id !== beside.id);
  const others = list.filter((x) => !moving.includes(x));
  const at = others.findIndex((x) => x.id === beside.id);
  if (moving.length === 0 || at < 0) return list;
  const next = others.toSpliced(beside.where === 'before' ? at : at + 1, 0, ...moving);
  return next.every((x, i) => x === list[i]) ? list : next;
}

/** Moves objects beside another in the order of the scene; what they hang under stays. */
export const orderObjects =
  (ids: readonly string[], beside: Beside): Edit =>
  (p) => {
    const objects = movedBeside(p.objects, ids, beside);
    return objects === p.objects ? p : { ...p, objects };
  };

/** Moves a graph beside another, into the folder of that one. */
export const orderGraph =
  (id: string, beside: Beside): Edit =>
  (p) => {
    const graphs = movedBeside(p.graphs, [id], beside);
    return inFolder(id, p.graphs.find((g) => g.id === beside.id)?.folder ?? '')(graphs === p.graphs ? p : { ...p, graphs });
  };

/** Lists a graph in a folder, or in none: ''. */
export const inFolder =
  (id: string, folder: string): Edit =>
  (p) => {
    const there = p.graphs.find((g) => g.id === id);
    if (!there || (there.folder ?? '') === folder) return p;
    return { ...p, graphs: p.graphs.map((g) => (g === there ? withFolder(g, folder) : g)) };
  };

/** Gives a folder another name; '' lets its graphs stand by themselves. One that is there already takes them in. */
export const renameFolder =
  (from: string, to: string): Edit =>
  (p) => ({ ...p, graphs: p.graphs.map((g) => (g.folder === from ? withFolder(g, to) : g)) });

type Graph = Project['graphs'][number];

function withFolder({ folder: _old, ...graph }: Graph, folder: string): Graph {
  return folder === '' ? graph : { ...graph, folder };
}

/** Graphs as they are listed: by folder, in document order; a folder stands where its first graph does. */
export function listedGraphs(
  graphs: readonly Graph[],
): readonly { readonly folder: string; readonly graphs: readonly Graph[] }[] {
  const groups: { folder: string; graphs: Graph[] }[] = [];
  for (const g of graphs) {
    const folder = g.folder ?? '';
    const last = groups.at(-1);
    const group = folder === '' ? (last?.folder === '' ? last : undefined) : groups.find((x) => x.folder === folder);
    if (group) group.graphs.push(g);
    else groups.push({ folder, graphs: [g] });
  }
  return groups;
}

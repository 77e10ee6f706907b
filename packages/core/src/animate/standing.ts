import type { Catalogue } from '../graph/node/catalogue.ts';
import { resolveGraph, type ResolvedNode } from '../graph/network/resolve.ts';
import { memoizeWithin } from '../memo.ts';
import { catalogueOf } from '../modules/index.ts';
import type { Project } from '../project/schema.ts';

/** The cards that stand in graphs of a project, by id: uses of modules as one, not what is inside of them. */
export const standingNodes = memoizeWithin((catalogue: Catalogue, project: Project): ReadonlyMap<string, ResolvedNode> => {
  const types = catalogueOf(catalogue, project);
  return new Map(project.graphs.flatMap((g) => [...resolveGraph(types, g)]));
});

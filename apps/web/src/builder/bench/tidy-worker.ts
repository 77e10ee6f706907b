import { tidyGraph } from '@umberfish/bench-layout/tidy';
import { CATALOGUE, catalogueOf, type GraphRecord, type ModuleRecord } from '@umberfish/core';
import { expose } from 'comlink';

const tidier = {
  /** Lays a graph out, away from the page. */
  tidy: (
    modules: readonly ModuleRecord[],
    graph: GraphRecord,
    heights: ReadonlyMap<string, number>,
    only: ReadonlySet<string> | null,
  ) => tidyGraph(catalogueOf(CATALOGUE, { modules: [...modules] }), graph, heights, only),
};

export type Tidier = typeof tidier;

expose(tidier);

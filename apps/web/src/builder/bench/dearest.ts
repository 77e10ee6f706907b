import { useMemo } from 'react';
import { nodeTitle, resolveGraph } from '@umberfish/core';
import { selectGraph, useStore } from '../../state/store.ts';
import { catalogue } from '../../state/catalogue.ts';

/** A node with what it cost when it was last computed. */
export interface Dear {
  readonly node: string;
  readonly title: string;
  readonly costInMs: number;
}

/** The five nodes of the open graph that cost most, the dearest first. */
export function useDearest(): readonly Dear[] {
  const graph = useStore(selectGraph);
  const reports = useStore((s) => s.evaluation.reports);
  return useMemo(() => {
    const nodes = graph ? [...resolveGraph(catalogue(), graph).values()] : [];
    return nodes
      .map((n) => ({
        node: n.record.id,
        title: nodeTitle(n),
        costInMs: reports.get(n.record.id)?.costInMs ?? 0,
      }))
      .filter((d) => d.costInMs > 0)
      .sort((a, b) => b.costInMs - a.costInMs)
      .slice(0, 5);
  }, [graph, reports]);
}

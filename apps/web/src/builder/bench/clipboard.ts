import { nodeSchema, wireSchema, type GraphRecord } from '@umberfish/core';

const MARK = 'umberfish-nodes';

/** Picked nodes and the wires among them, as text for the clipboard. */
export function copyNodes(graph: GraphRecord, ids: readonly string[]): string {
  const nodes = graph.nodes.filter((n) => ids.includes(n.id));
  const wires = graph.wires.filter((w) => ids.includes(w.from.node) && ids.includes(w.to.node));
  return JSON.stringify({ mark: MARK, nodes, wires });
}

/** Reads what `copyNodes` wrote; undefined for any other text. */
export function readCopied(text: string): Pick<GraphRecord, 'nodes' | 'wires'> | undefined {
  try {
    const data = JSON.parse(text) as { mark?: unknown; nodes?: unknown; wires?: unknown };
    if (data.mark !== MARK) return undefined;
    return { nodes: nodeSchema.array().parse(data.nodes), wires: wireSchema.array().parse(data.wires) };
  } catch {
    return undefined;
  }
}

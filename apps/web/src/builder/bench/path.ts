import type { GraphRecord } from '@umberfish/core';

/** All wires a value of this wire comes along or goes on along: everything before its source and after its target. */
export function wiresOnPath(graph: GraphRecord, wires: readonly string[]): ReadonlySet<string> {
  const found = new Set<string>();
  const follow = (start: string, end: 'from' | 'to') => {
    const other = end === 'from' ? 'to' : 'from';
    const seen = new Set<string>([start]);
    const stack = [start];
    while (stack.length > 0) {
      const node = stack.pop();
      for (const w of graph.wires) {
        if (w[other].node !== node) continue;
        found.add(w.id);
        if (seen.has(w[end].node)) continue;
        seen.add(w[end].node);
        stack.push(w[end].node);
      }
    }
  };
  for (const w of graph.wires) {
    if (!wires.includes(w.id)) continue;
    found.add(w.id);
    follow(w.from.node, 'from');
    follow(w.to.node, 'to');
  }
  return found;
}

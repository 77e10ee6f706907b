import { useEffect, useState } from 'react';
import { useStore, type State } from '../../state/store.ts';
import { askPaintable, paintedNode, type PaintedMesh, type PaintedNode } from './painting.ts';

let kept: { of: readonly unknown[]; node: PaintedNode | null } = { of: [], node: null };
/** The painted node, the same object while nothing of it changed. */
export function paintedNodeOf(state: State): PaintedNode | null {
  const of = [state.project.project, state.ui.graph, state.ui.painting?.node];
  if (kept.of.some((v, i) => v !== of[i]) || kept.of.length === 0) kept = { of, node: paintedNode(state) };
  return kept.node;
}

/** What the brush has to know of the mesh as it is now; asked anew whenever a picture came to rest. */
export function usePaintable(node: PaintedNode | null, across: 0 | 1 | 2 | null): PaintedMesh | undefined {
  const settled = useStore((s) => s.evaluation.settled);
  // New with every picture.
  const reports = useStore((s) => s.evaluation.reports);
  const [mesh, setMesh] = useState<PaintedMesh>();
  const [id, name] = [node?.id, node?.name];
  useEffect(() => {
    if (!node || !settled) return;
    let isWanted = true;
    void askPaintable(node, across).then((found) => isWanted && setMesh(found));
    return () => {
      isWanted = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- of the node only which it is matters, and what it paints
  }, [id, name, settled, reports, across]);
  return mesh;
}

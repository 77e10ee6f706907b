import { nodeTitle, resolveGraph } from '@umberfish/core';
import { selectGraph, selectProject, useStore } from '../../state/store.ts';
import { catalogue } from '../../state/catalogue.ts';

/** Says what the handle in the stage edits, so that an object and a node are never mistaken for one another. */
export function HandleChip({ object, node }: { object: string | undefined; node: string | undefined }) {
  const project = useStore(selectProject);
  const graph = useStore(selectGraph);
  const tool = useStore((s) => s.ui.tool);
  const heldAxes = useStore((s) => s.ui.heldAxes);
  const record = object ? project?.objects.find((o) => o.id === object) : undefined;
  const named = record?.name;
  // The bar of joints stands where it would be.
  const bottom = record?.type === 'joint' || record?.type === 'chain' ? 'bottom-13' : 'bottom-8';
  const resolved = node && graph ? resolveGraph(catalogue(), graph).get(node) : undefined;
  if (!named && !resolved) return null;
  const what = tool === 'pivot' ? 'pivot of ' : '';
  return (
    <p
      data-handle-of={object ?? node}
      className={`pointer-events-none absolute ${bottom} left-2 rounded-sm px-1.5 py-0.5 text-[11px] ${named ? 'bg-pick-wash text-ink' : 'border border-dashed border-umber bg-raised text-umber'}`}
    >
      Handle: {what}
      {named ? `object ${named}` : `node ${resolved ? nodeTitle(resolved) : ''}`}
      {heldAxes !== null && <span data-held-axes> · {heldAxes}</span>}
    </p>
  );
}

import { counted } from '@umberfish/core';
import type { DrawnItem } from './drawn-items.ts';

/** The line at the foot of the stage: what is looked at, and how much of it there is, or how far two of its points are apart. */
export function StageLine({ item, items, measure }: { item: DrawnItem; items: readonly DrawnItem[]; measure: string | null }) {
  return (
    <p
      data-stage-line
      className="number pointer-events-none absolute bottom-2 left-2 max-w-[calc(100%-16px)] truncate rounded-sm bg-raised/85 px-1.5 py-0.5 text-[11px] text-ink"
    >
      {item.name} · {measure ?? `${contentWords(item, items)} · grid 1 m`}
    </p>
  );
}

/** Of copies: how many, and the points of all of them; of a mesh its points and faces. */
function contentWords(item: DrawnItem, items: readonly DrawnItem[]): string {
  if (!item.mesh.instances)
    return `${counted(item.mesh.topology.pointCount, 'point')} · ${counted(item.mesh.topology.faceCount, 'face')}`;
  const parts = items.filter((i) => i.mesh.instances && i.ref?.node === item.ref?.node && i.object === item.object);
  let copies = 0;
  let points = 0;
  for (const { mesh } of parts) {
    const count = (mesh.instances?.matrices.length ?? 0) / 16;
    copies += count;
    points += count * mesh.topology.pointCount;
  }
  return `${counted(copies, 'copy')} · ${counted(points, 'point')} in all`;
}

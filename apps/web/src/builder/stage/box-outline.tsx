import type { RefObject } from 'react';

/** The box that is being drawn, in client coordinates. */
export function BoxOutline({
  box,
  root,
}: {
  box: { from: [number, number]; to: [number, number] };
  root: RefObject<HTMLDivElement | null>;
}) {
  const at = root.current?.getBoundingClientRect();
  const left = Math.min(box.from[0], box.to[0]) - (at?.left ?? 0);
  const top = Math.min(box.from[1], box.to[1]) - (at?.top ?? 0);
  const size = { width: Math.abs(box.to[0] - box.from[0]), height: Math.abs(box.to[1] - box.from[1]) };
  return (
    <div
      className="pointer-events-none absolute border border-dashed border-pick bg-pick-wash/40"
      style={{ left, top, ...size }}
    />
  );
}

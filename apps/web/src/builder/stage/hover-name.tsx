/** What is under the pointer, beside it; pixels from the corner of the stage. */
export const HoverName = ({ name, x, y }: { name: string; x: number; y: number }) => (
  <span
    data-hover
    className="pointer-events-none absolute rounded-sm bg-ink px-2 py-0.5 text-xs text-paper"
    style={{ left: x + 12, top: y + 10 }}
  >
    {name}
  </span>
);

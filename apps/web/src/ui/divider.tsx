import { Separator } from 'react-resizable-panels';

/** A line between panels: drag it to resize, double-click it to fold what is beside it. */
export function Divider({ horizontal = false, onFold }: { horizontal?: boolean; onFold?: () => void }) {
  return (
    <Separator
      // The package's own double click would unfold what ours then folds again.
      disableDoubleClick={onFold !== undefined}
      onDoubleClick={onFold}
      title={onFold ? 'Drag to resize, double-click to fold' : undefined}
      className={`relative bg-line outline-none after:absolute data-[separator=active]:bg-pick data-[separator=hover]:bg-line-strong ${horizontal ? 'h-px after:inset-x-0 after:-inset-y-1' : 'w-px after:-inset-x-1 after:inset-y-0'}`}
    />
  );
}

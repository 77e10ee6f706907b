import { useStore } from '../state/store.ts';
import { Button } from '../ui/button.tsx';
import { cancelReading } from './cancel-reading.ts';

/** Files that take long to read, over the page, with the way to end it. */
export function Reading() {
  const names = useStore((s) => s.ui.reading);
  if (names === null) return null;
  return (
    <div
      role="status"
      data-reading
      className="fixed top-32 left-1/2 z-30 flex max-w-2xl -translate-x-1/2 items-center gap-3 rounded-md border border-line bg-raised px-4 py-2.5 shadow-md"
    >
      <span>Reading {names}…</span>
      <Button look="framed" onClick={cancelReading}>
        Cancel
      </Button>
    </div>
  );
}

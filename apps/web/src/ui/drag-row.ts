import { combine } from '@atlaskit/pragmatic-drag-and-drop/combine';
import { draggable, dropTargetForElements } from '@atlaskit/pragmatic-drag-and-drop/element/adapter';
import { attachInstruction, extractInstruction } from '@atlaskit/pragmatic-drag-and-drop-hitbox/list-item';
import { useEffect, useRef, useState, type RefObject } from 'react';

/** Where a row is let go over another. */
export type DropAt = 'before' | 'after' | 'into';

const PLACES = { 'reorder-before': 'before', 'reorder-after': 'after', combine: 'into' } as const;

export interface DragRow {
  readonly id: string;
  /** Rows are dropped on rows of the same list only. */
  readonly list: string;
  /** Whether a row can be let go on another itself, or only between. */
  readonly takesIn: boolean;
  /** Whether a row may be dropped here. */
  accepts(id: string): boolean;
  onDrop(id: string, at: DropAt): void;
}

/** Lets a row be dragged, and others be dropped on it. @returns where the row that is held over it would go */
export function useDragRow(element: RefObject<HTMLElement | null>, row: DragRow): DropAt | null {
  const [at, setAt] = useState<DropAt | null>(null);
  const now = useRef(row);
  useEffect(() => {
    now.current = row;
  });
  const { id, list, takesIn } = row;
  useEffect(() => {
    const own = element.current;
    if (!own) return;
    const placeOf = (data: Record<string | symbol, unknown>): DropAt | null => {
      const found = extractInstruction(data);
      return found && !found.blocked ? PLACES[found.operation] : null;
    };
    return combine(
      draggable({ element: own, getInitialData: () => ({ id, list }) }),
      dropTargetForElements({
        element: own,
        canDrop: ({ source }) =>
          source.data.list === list && source.data.id !== id && now.current.accepts(String(source.data.id)),
        getData: ({ input, element: over }) =>
          attachInstruction(
            { id },
            {
              input,
              element: over,
              operations: {
                'reorder-before': 'available',
                'reorder-after': 'available',
                combine: takesIn ? 'available' : 'not-available',
              },
            },
          ),
        onDrag: ({ self }) => setAt(placeOf(self.data)),
        onDragLeave: () => setAt(null),
        onDrop: ({ self, source }) => {
          setAt(null);
          const place = placeOf(self.data);
          if (place) now.current.onDrop(String(source.data.id), place);
        },
      }),
    );
  }, [element, id, list, takesIn]);
  return at;
}

/** How a row looks while another is held over it. */
export const DROP_LOOKS: Record<DropAt, string> = {
  before: 'shadow-[inset_0_2px_0_var(--pick)]',
  after: 'shadow-[inset_0_-2px_0_var(--pick)]',
  into: 'outline-2 -outline-offset-2 outline-pick',
};

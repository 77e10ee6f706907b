import { useEffect, useRef, type MouseEvent, type PointerEvent, type RefObject } from 'react';
import { store } from '../../state/store.ts';
import { uiSet } from '../../state/ui-slice.ts';
import type { MenuItems } from '../../ui/context-menu.tsx';
import { objectMenu } from '../scene/object-menu.ts';
import { FRAME_EVENT } from './frame-event.ts';

/** A right click that moved farther than this (pixels) was a drag of the view. */
const DRAG = 4;

interface StageMenu {
  readonly itemsAt: (target: Element, event: MouseEvent) => MenuItems;
  readonly onPointerDownCapture: (e: PointerEvent) => void;
  readonly onPointerUpCapture: (e: PointerEvent) => void;
}

/**
 * The menu of the stage. The right button drags the view, so the menu opens when it is let go where it was pressed, not
 * when the browser says so.
 */
export function useStageMenu(
  root: RefObject<HTMLElement | null>,
  objectAt: (e: { clientX: number; clientY: number }) => string | undefined,
  frame: () => void,
): StageMenu {
  const pressed = useRef<{ x: number; y: number } | null>(null);
  useEffect(() => {
    window.addEventListener(FRAME_EVENT, frame);
    return () => window.removeEventListener(FRAME_EVENT, frame);
  }, [frame]);
  useEffect(() => {
    const element = root.current;
    const hold = (e: Event) => {
      // What the mouse says itself comes too early; the key's word counts.
      if (!e.isTrusted || pressed.current === null) return;
      e.preventDefault();
      e.stopPropagation();
    };
    element?.addEventListener('contextmenu', hold, true);
    return () => element?.removeEventListener('contextmenu', hold, true);
  }, [root]);
  return {
    itemsAt: (_target, e) => {
      const id = objectAt(e);
      if (id !== undefined) return objectMenu(id, () => window.dispatchEvent(new CustomEvent(FRAME_EVENT)));
      const { ui } = store.getState();
      return [
        { label: 'Frame what is picked, or all', keys: 'F', onSelect: frame },
        { label: 'Ghost of what was', keys: 'G', onSelect: () => store.dispatch(uiSet({ ghost: !ui.ghost })) },
        {
          label: 'Show only what is picked, or everything',
          keys: 'I',
          onSelect: () => store.dispatch(uiSet({ isolate: !ui.isolate })),
        },
      ];
    },
    onPointerDownCapture: (e) => {
      pressed.current = e.button === 2 ? { x: e.clientX, y: e.clientY } : null;
    },
    onPointerUpCapture: (e) => {
      const from = pressed.current;
      if (e.button !== 2 || !from) return;
      const { clientX, clientY } = e;
      if (Math.hypot(clientX - from.x, clientY - from.y) > DRAG) return;
      const target = root.current;
      window.setTimeout(
        () => target?.dispatchEvent(new window.MouseEvent('contextmenu', { bubbles: true, cancelable: true, clientX, clientY })),
        0,
      );
    },
  };
}

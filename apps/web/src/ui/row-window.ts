import { useCallback, useEffect, useLayoutEffect, useState, type RefObject, type UIEvent } from 'react';

/**
 * Browsers cannot make an element taller than about 33 million pixels, which is 1.4 million rows. Above this
 * height the scroll bar stands for rows in proportion, so that a table of any length can be scrolled to its end;
 * virtual list packages measure every row and are of no use there.
 */
const TALLEST = 8_000_000;

export interface RowWindow {
  first: number;
  visible: number;
  /** Height of the element that makes the scroll bar. */
  height: number;
  viewHeight: number;
  onScroll(e: UIEvent<HTMLElement>): void;
  scrollTo(row: number): void;
  scrollBy(rows: number): void;
}

/** Which rows of a long list or table are in sight. @param rowHeight in pixels */
export function useRowWindow(body: RefObject<HTMLElement | null>, rows: number, rowHeight: number): RowWindow {
  const [viewHeight, setViewHeight] = useState(240);
  const [first, setFirst] = useState(0);
  useLayoutEffect(() => {
    const element = body.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setViewHeight(element.clientHeight));
    observer.observe(element);
    setViewHeight(element.clientHeight);
    return () => observer.disconnect();
  }, [body]);

  const visible = Math.max(1, Math.floor(viewHeight / rowHeight));
  const last = Math.max(0, rows - visible);
  const full = rows * rowHeight;
  const scaled = full > TALLEST;
  const height = scaled ? TALLEST : full;
  const reach = Math.max(1, height - viewHeight);

  const rowAt = useCallback(
    (top: number) => Math.min(last, Math.max(0, scaled ? Math.round((top / reach) * last) : Math.round(top / rowHeight))),
    [last, reach, scaled, rowHeight],
  );
  const topOf = useCallback(
    (row: number) => (scaled ? (row / Math.max(1, last)) * reach : row * rowHeight),
    [last, reach, scaled, rowHeight],
  );

  useEffect(() => {
    if (first > last) setFirst(last);
  }, [first, last]);

  const onScroll = (e: UIEvent<HTMLElement>) => setFirst(rowAt(e.currentTarget.scrollTop));
  const goTo = useCallback(
    (row: number) => {
      const to = Math.min(last, Math.max(0, row));
      setFirst(to);
      if (body.current) body.current.scrollTop = topOf(to);
    },
    [body, last, topOf],
  );
  const scrollTo = useCallback((row: number) => goTo(row - Math.floor(visible / 2)), [goTo, visible]);
  const scrollBy = useCallback((by: number) => goTo(first + by), [goTo, first]);
  return { first, visible, height, viewHeight, onScroll, scrollTo, scrollBy };
}

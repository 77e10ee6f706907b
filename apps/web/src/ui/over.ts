import { createContext } from 'react';

/** Whether one is on a sheet, which keeps the focus to itself: menus on it must take it from there. */
export const OnSheet = createContext(false);

/** Where menus and lists are put: a part of the page of its own, which sheets over the page do not hide. */
export const over = (): HTMLElement | undefined => document.getElementById('over') ?? undefined;

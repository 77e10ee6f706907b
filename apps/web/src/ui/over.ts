/** Where menus and lists are put: a part of the page of its own, which sheets over the page do not hide. */
export const over = (): HTMLElement | undefined => document.getElementById('over') ?? undefined;

import type { Store } from './store.ts';
import { uiSet } from './ui-slice.ts';

const KEY = 'umberfish-theme';

/** Puts the theme on the page before anything draws with its colours, and remembers it in this browser. */
export function keepTheme(store: Store): void {
  try {
    if (localStorage.getItem(KEY) === 'night') store.dispatch(uiSet({ theme: 'night' }));
  } catch {
    // Without storage the day's theme it is.
  }
  const apply = () => {
    const { theme } = store.getState().ui;
    if (document.documentElement.dataset.theme === theme) return;
    document.documentElement.dataset.theme = theme;
    try {
      localStorage.setItem(KEY, theme);
    } catch {
      // It is still in force on this page.
    }
  };
  apply();
  store.subscribe(apply);
}

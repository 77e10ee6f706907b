import type { Store } from './store.ts';
import { uiSet, type UiState } from './ui-slice.ts';

/** What this browser remembers of how things look, by the names it goes under there. */
const KEPT = {
  'umberfish-theme': {
    read: (text: string): Partial<UiState> => (text === 'night' ? { theme: 'night' } : {}),
    write: ({ theme }: UiState): string => theme,
  },
  'umberfish-coarse': {
    read: (text: string): Partial<UiState> => (text === 'yes' ? { coarse: true } : {}),
    write: ({ coarse }: UiState): string => (coarse ? 'yes' : 'no'),
  },
} as const;

/** Takes over what was remembered before anything is drawn, and remembers what changes. */
export function keepLooks(store: Store): void {
  const seen = new Map<string, string>();
  for (const [key, { read, write }] of Object.entries(KEPT)) {
    try {
      store.dispatch(uiSet(read(localStorage.getItem(key) ?? '')));
    } catch {
      // Without storage it looks as it does at first.
    }
    seen.set(key, write(store.getState().ui));
  }
  const apply = () => {
    const { ui } = store.getState();
    if (document.documentElement.dataset.theme !== ui.theme) document.documentElement.dataset.theme = ui.theme;
    for (const [key, { write }] of Object.entries(KEPT)) {
      const now = write(ui);
      if (seen.get(key) === now) continue;
      seen.set(key, now);
      try {
        localStorage.setItem(key, now);
      } catch {
        // It is still in force on this page.
      }
    }
  };
  apply();
  store.subscribe(apply);
}

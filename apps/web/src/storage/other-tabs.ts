/** What tabs tell one another about a project that is stored: that it was saved as a revision, or removed. */
export type TabMessage = { readonly id: string; readonly revision: number } | { readonly id: string; readonly removed: true };

const channel = typeof BroadcastChannel === 'undefined' ? null : new BroadcastChannel('umberfish-saves');

/** Tells the other tabs. */
export const tellTabs = (message: TabMessage): void => channel?.postMessage(message);

/** Hears what other tabs tell. */
export const hearTabs = (hear: (message: TabMessage) => void): void =>
  channel?.addEventListener('message', (event: MessageEvent<TabMessage>) => hear(event.data));

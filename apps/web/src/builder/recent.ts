const KEY = 'umberfish-recent';
const MOST = 6;

/** Types of nodes that were added lately in this browser, the last first. */
export function recentTypes(): readonly string[] {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(KEY) ?? '[]');
    return Array.isArray(found) ? found.filter((t) => typeof t === 'string').slice(0, MOST) : [];
  } catch {
    return [];
  }
}

/** Remembers that a type was added. */
export function addedNow(type: string): void {
  try {
    localStorage.setItem(KEY, JSON.stringify([type, ...recentTypes().filter((t) => t !== type)].slice(0, MOST)));
  } catch {
    // Without storage nothing is recent.
  }
}

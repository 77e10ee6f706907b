const KEY = 'umberfish-memory-gb';
const STANDARD = 1;

/** How much memory results may take in this browser, GB. */
export function memoryInGigabytes(): number {
  try {
    const kept = Number(localStorage.getItem(KEY) ?? STANDARD);
    return kept >= 0.1 && kept <= 16 ? kept : STANDARD;
  } catch {
    return STANDARD;
  }
}

export const memoryInBytes = (): number => memoryInGigabytes() * 1e9;

/** Remembers it in this browser. */
export function keepMemory(gigabytes: number): void {
  try {
    localStorage.setItem(KEY, String(gigabytes));
  } catch {
    // Without storage it holds for this page only through the worker.
  }
}

/** A line of the palette. */
export interface PaletteEntry {
  readonly key: string;
  readonly heading: string;
  readonly title: string;
  /** Said beside the title. */
  readonly about?: string;
  /** What a node takes and gives. */
  readonly ports?: string;
  /** Said at the right end: a key, a graph. */
  readonly note?: string;
  /** Other words it is found by. */
  readonly words?: readonly string[];
  /** The node it leads to, if any. */
  readonly node?: string;
  run(): void;
}

/** Every word of the search must be found; titles count more than other words, beginnings more than middles. */
export function scoreOf({ title, words = [] }: Pick<PaletteEntry, 'title' | 'words'>, search: string): number {
  const name = title.toLowerCase();
  let total = name === search.trim().toLowerCase() ? 2 : 1;
  for (const word of search.toLowerCase().split(/\s+/).filter(Boolean)) {
    if (name.startsWith(word)) total *= 1;
    else if (name.includes(word)) total *= 0.8;
    else if (words.some((k) => k.toLowerCase().startsWith(word))) total *= 0.5;
    else if (words.some((k) => k.toLowerCase().includes(word))) total *= 0.2;
    else return 0;
  }
  return total;
}

/** Entries that match, best first, under their headings; the heading of the best entry comes first. */
export function matching(
  entries: readonly PaletteEntry[],
  search: string,
): readonly { readonly heading: string; readonly entries: readonly PaletteEntry[] }[] {
  const scored = entries.map((entry) => ({ entry, score: scoreOf(entry, search) })).filter((s) => s.score > 0);
  // Without a search all scores are 1, and sorting keeps the order.
  scored.sort((a, b) => b.score - a.score);
  const groups = new Map<string, PaletteEntry[]>();
  for (const { entry } of scored) groups.set(entry.heading, [...(groups.get(entry.heading) ?? []), entry]);
  return [...groups].map(([heading, found]) => ({ heading, entries: found }));
}

import type { CSSProperties } from 'react';

/** Titles are broken into so many lines at most. */
const MOST_LINES = 4;
/** Longer words are broken. */
const LONGEST = 12;
/** The height of a line and the width of a letter, as parts of the size of letters. */
const LINE = 1.1;
const LETTER = 0.58;

/** The least number of letters that a line has room for where a text comes to so many lines, words whole. */
function lettersFor(words: readonly string[], lines: number): number {
  for (let room = Math.max(...words.map((w) => w.length)); ; room++) {
    let count = 0;
    let used = Infinity;
    for (const { length } of words) {
      used += 1 + length;
      if (used <= room) continue;
      count++;
      used = length;
    }
    if (count <= lines) return room;
  }
}

/** The largest letters with which a title is all on its card, in parts of the card: by whichever number of lines. */
function largest(title: string): string {
  const words = title.match(new RegExp(`\\S{1,${LONGEST}}`, 'g')) ?? [' '];
  const sizes = Array.from({ length: Math.min(MOST_LINES, words.length) }, (_, i) => {
    const [height, width] = [100 / (LINE * (i + 1)), 100 / (LETTER * lettersFor(words, i + 1))];
    return `min(${height.toFixed(1)}cqh, ${width.toFixed(1)}cqw)`;
  });
  return `max(${sizes.join(', ')})`;
}

/** What a card is called, large, for seeing it from afar: all of it on the card, however low that is. */
export const FarTitle = ({ title }: { title: string }) => (
  <strong aria-hidden className="far-title" style={{ '--largest': largest(title) } as CSSProperties}>
    <span>{title}</span>
  </strong>
);

/** A whole number with its thousands apart, by spaces at which no line is broken. */
export function grouped(n: number): string {
  if (!(Math.abs(n) < 1e15)) return Number.isFinite(n) ? n.toPrecision(2) : n > 0 ? '∞' : n < 0 ? '−∞' : 'NaN';
  return n.toLocaleString('en').replaceAll(',', '\u202f').replace('-', '−');
}

/** Several of a noun: points, copies, vertices, matrices. */
export function several(noun: string): string {
  if (noun === 'vertex' || noun === 'matrix') return `${noun.slice(0, -2)}ices`;
  return /[^aeo]y$/.test(noun) ? `${noun.slice(0, -1)}ies` : `${noun}s`;
}

/** How many of a noun: 1 point, 2 points. */
export const counted = (n: number, noun: string): string => `${grouped(n)} ${n === 1 ? noun : several(noun)}`;

/** A text without the byte order mark that some editors put before it. */
export const withoutMark = (text: string): string => (text.startsWith('\uFEFF') ? text.slice(1) : text);

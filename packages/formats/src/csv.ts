import Papa from 'papaparse';

type Cell = string | number;

/** A word that spreadsheets would take for a formula gets an apostrophe before it, and so it is text to them. */
const asText = (word: string) => (/^'*[=+\-@\t\r]/.test(word) ? `'${word}` : word);

/** A word as it was before it was written. */
export const fromText = (cell: string): string => (/^'+[=+\-@\t\r]/.test(cell) ? cell.slice(1) : cell);

/** Rows as CSV, the header first; words are quoted where they have to be, and are no formulas to anybody. */
export function writeCsv(header: readonly string[], rows: Iterable<readonly Cell[]>): string {
  const all: Cell[][] = [[...header].map(asText)];
  for (const row of rows) all.push(row.map((cell) => (typeof cell === 'string' ? asText(cell) : cell)));
  return `${Papa.unparse(all, { newline: '\n' })}\n`;
}

/** The rows of a CSV, and the number of the first whose quoted cell does not end. */
export function readCsv(text: string): { rows: string[][]; unended: number | undefined } {
  const { data, errors } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { delimiter: ',' });
  return { rows: data, unended: errors.find((e) => e.type === 'Quotes')?.row };
}

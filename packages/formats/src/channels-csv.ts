import { counted, PLACE_CHANNELS, type ChannelSamples } from '@umberfish/core';
import { FormatError } from './imported.ts';

/** Most rows of a file of channels. */
const MOST_ROWS = 2_000_000;

/** Channels over frames as CSV: `object,frame`, then the nine channels (metres, degrees, factors), one row a frame. */
export function writeChannelsCsv(samples: readonly ChannelSamples[], frames: readonly number[]): string {
  const lines = [['object', 'frame', ...PLACE_CHANNELS].join(',')];
  for (const { object, rows } of samples)
    rows.forEach((row, i) => lines.push([quoted(object.name), frames[i], ...PLACE_CHANNELS.map((c) => String(row[c]))].join(','))); // prettier-ignore
  return `${lines.join('\n')}\n`;
}

const quoted = (name: string) => (/[",\n]/.test(name) ? `"${name.replaceAll('"', '""')}"` : name);

/** Channels of an object as they came from a file. */
export interface ReadChannels {
  readonly object: string;
  /** Frames and numbers, by channel. */
  readonly channels: ReadonlyMap<string, readonly (readonly [frame: number, value: number])[]>;
}

/**
 * Reads channels over frames: a header with `object` and `frame` and any columns after it, which are names of channels.
 * Empty cells are left out. @throws FormatError with the line and what is wrong
 */
export function readChannelsCsv(text: string): ReadChannels[] {
  const lines = text.replace(/^\uFEFF/, '').split(/\r?\n/);
  const header = cells(lines[0] ?? '', 1).map((c) => c.trim());
  const [objectAt, frameAt] = [header.indexOf('object'), header.indexOf('frame')];
  if (objectAt < 0 || frameAt < 0)
    throw new FormatError(
      'Line 1 must name the columns "object" and "frame", then channels such as translate.x.',
    );
  if (lines.length > MOST_ROWS)
    throw new FormatError(`The file has ${lines.length} lines; the most is ${MOST_ROWS}.`);
  const found = new Map<string, Map<string, [number, number][]>>();
  for (let n = 1; n < lines.length; n++) {
    if (lines[n].trim() === '') continue;
    const row = cells(lines[n], n + 1);
    if (row.length !== header.length)
      throw new FormatError(
        `Line ${n + 1} has ${counted(row.length, 'cell')}, the header has ${header.length}.`,
      );
    const frame = numberOf(row[frameAt], 'frame', n + 1);
    const name = row[objectAt].trim();
    if (!name) throw new FormatError(`Line ${n + 1} names no object.`);
    let mine = found.get(name);
    if (!mine) found.set(name, (mine = new Map()));
    header.forEach((channel, i) => {
      if (i === objectAt || i === frameAt || !channel || row[i].trim() === '') return;
      const list = mine.get(channel) ?? [];
      if (list.length === 0) mine.set(channel, list);
      list.push([frame, numberOf(row[i], channel, n + 1)]);
    });
  }
  if (found.size === 0) throw new FormatError('The file has a header, but no rows.');
  return [...found].map(([object, channels]) => ({ object, channels }));
}

function numberOf(cell: string, column: string, line: number): number {
  const v = Number(cell.trim());
  if (cell.trim() === '' || !Number.isFinite(v))
    throw new FormatError(`Line ${line}: "${cell.trim().slice(0, 40)}" in "${column}" is not a number.`);
  return v;
}

/** Cells of a line; quoted ones may hold commas and doubled quotes. */
function cells(line: string, number: number): string[] {
  const out: string[] = [];
  let cell = '';
  let inside = false;
  for (let i = 0; i < line.length; i++) {
    const c = line[i];
    if (inside && c === '"' && line[i + 1] === '"') {
      cell += '"';
      i++;
    } else if (c === '"' && (inside || cell === '')) inside = !inside;
    else if (c === ',' && !inside) {
      out.push(cell);
      cell = '';
    } else cell += c;
  }
  if (inside) throw new FormatError(`Line ${number}: a quoted cell does not end.`);
  return [...out, cell];
}

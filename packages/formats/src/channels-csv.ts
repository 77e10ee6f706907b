import { CHANNEL_LIMIT, counted, isChannelNumber, PLACE_CHANNELS, type ChannelSamples } from '@umberfish/core';
import { fromText, readCsv, writeCsv } from './csv.ts';
import { FormatError } from './imported.ts';

/** Most rows of a file of channels. */
const MOST_ROWS = 2_000_000;

/**
 * Channels over frames as CSV: `object,id,frame`, then the nine channels (metres, degrees, factors), one row a frame.
 * The id tells objects of one name apart.
 */
export function writeChannelsCsv(samples: readonly ChannelSamples[], frames: readonly number[]): string {
  const rows = samples.flatMap(({ object, rows: mine }) =>
    mine.map((row, i) => [object.name, object.id, frames[i], ...PLACE_CHANNELS.map((c) => row[c])]),
  );
  return writeCsv(['object', 'id', 'frame', ...PLACE_CHANNELS], rows);
}

/** Channels of an object as they came from a file. */
export interface ReadChannels {
  readonly object: string;
  /** The object's id, where the file has them. */
  readonly id: string | undefined;
  /** Frames and numbers, by channel. */
  readonly channels: ReadonlyMap<string, readonly (readonly [frame: number, value: number])[]>;
}

/**
 * Reads channels over frames: a header with `object` and `frame`, perhaps `id`, and any columns after it, which are names
 * of channels. Empty cells are left out. @throws FormatError with the line and what is wrong
 */
export function readChannelsCsv(text: string): ReadChannels[] {
  const { rows: data, unended } = readCsv(text);
  const header = (data[0] ?? []).map((c) => c.trim());
  const [objectAt, idAt, frameAt] = ['object', 'id', 'frame'].map((c) => header.indexOf(c));
  if (objectAt < 0 || frameAt < 0)
    throw new FormatError('Line 1 must name the columns "object" and "frame", then channels such as translate.x.');
  if (data.length > MOST_ROWS) throw new FormatError(`The file has ${data.length} rows; the most is ${MOST_ROWS}.`);
  const found = new Map<string, { object: string; id: string | undefined; channels: Map<string, [number, number][]> }>();
  for (let n = 1, line = 1 + linesIn(data[0]); n < data.length; line += linesIn(data[n]), n++) {
    const row = data[n];
    if (unended === n) throw new FormatError(`Line ${line}: a quoted cell does not end.`);
    if (row.length === 1 && row[0].trim() === '') continue;
    if (row.length !== header.length)
      throw new FormatError(`Line ${line} has ${counted(row.length, 'cell')}, the header has ${header.length}.`);
    const frame = numberOf(row[frameAt], 'frame', line);
    const object = fromText(row[objectAt]);
    const id = idAt >= 0 && row[idAt] !== '' ? fromText(row[idAt]) : undefined;
    if (!object.trim() && id === undefined) throw new FormatError(`Line ${line} names no object.`);
    const whose = JSON.stringify([object, id]);
    let mine = found.get(whose);
    if (!mine) found.set(whose, (mine = { object, id, channels: new Map() }));
    const { channels } = mine;
    header.forEach((channel, i) => {
      if (i === objectAt || i === frameAt || i === idAt || !channel || row[i].trim() === '') return;
      const list = channels.get(channel) ?? [];
      if (list.length === 0) channels.set(channel, list);
      list.push([frame, numberOf(row[i], channel, line)]);
    });
  }
  if (found.size === 0) throw new FormatError('The file has a header, but no rows.');
  return [...found.values()];
}

/** Lines of the file that a row takes: cells may have breaks in them. */
const linesIn = (row: readonly string[]) => row.reduce((sum, cell) => sum + (cell.match(/\r\n?|\n/g)?.length ?? 0), 1);

function numberOf(cell: string, column: string, line: number): number {
  const v = Number(cell.trim());
  if (cell.trim() === '' || !Number.isFinite(v))
    throw new FormatError(`Line ${line}: "${cell.trim().slice(0, 40)}" in "${column}" is not a number.`);
  if (!isChannelNumber(v))
    throw new FormatError(`Line ${line}: ${v} in "${column}" is too large; numbers go up to ${CHANNEL_LIMIT}.`);
  return v;
}

import { CommandError } from './command-error.ts';

const MOST_FRAMES = 1_000_000;

/** One frame, as a number such as 7 or 12.5. @throws CommandError */
export function parseFrame(text: string): number {
  const frame = text.trim() === '' ? NaN : Number(text);
  if (!Number.isFinite(frame) || Math.abs(frame) > 1e9)
    throw new CommandError(`--frame "${text}": expected a number, such as 7.`);
  return frame;
}

/**
 * Frames such as `7`, `1-24`, `1-100x2` (every second) and several of these, parted by commas; each once, in order.
 * @throws CommandError
 */
export function parseFrames(text: string): number[] {
  const frames = new Set<number>();
  for (const part of text.split(',')) {
    const match = /^(-?\d{1,9})(?:-(-?\d{1,9})(?:x(\d{1,9}))?)?$/.exec(part.trim());
    const first = match ? Number(match[1]) : NaN;
    const last = match?.[2] === undefined ? first : Number(match[2]);
    const step = match?.[3] === undefined ? 1 : Number(match[3]);
    if (!match || last < first || step < 1)
      throw new CommandError(
        `--frames "${text}": expected frames such as 7, 1-24, 1-100x2 (every second), or several parted by commas.`,
      );
    if ((last - first) / step + frames.size >= MOST_FRAMES)
      throw new CommandError(`--frames "${text}": that is more than 1 000 000 frames.`);
    for (let f = first; f <= last; f += step) frames.add(f);
  }
  return [...frames].sort((a, b) => a - b);
}

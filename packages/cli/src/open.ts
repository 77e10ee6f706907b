import { readFileSync } from 'node:fs';
import { Evaluator, ProjectFileError, readProjectFile, type OpenedProject } from '@umberfish/core';

/** A sentence for the person at the terminal; the command ends with exit code 1. */
export class CommandError extends Error {}

/** Opens a project file. @throws CommandError with the file's name. */
export function openProject(path: string): OpenedProject {
  let text: string;
  try {
    text = readFileSync(path, 'utf8');
  } catch (error) {
    throw new CommandError(
      `${path}: ${(error as NodeJS.ErrnoException).code === 'ENOENT' ? 'there is no such file' : (error as Error).message}.`,
    );
  }
  try {
    return readProjectFile(text);
  } catch (error) {
    if (error instanceof ProjectFileError) throw new CommandError(`${path}: ${error.message}`);
    throw error;
  }
}

/** An evaluator that holds the project's meshes. */
export function evaluatorFor(opened: OpenedProject): Evaluator {
  const evaluator = new Evaluator({ now: () => performance.now() });
  for (const [id, mesh] of opened.assets) evaluator.setAsset(id, mesh);
  return evaluator;
}

/** Reads `7` or `1-24`. @throws CommandError */
export function parseFrames(text: string): number[] {
  const match = /^(-?\d+)(?:-(-?\d+))?$/.exec(text.trim());
  const first = match ? Number(match[1]) : NaN;
  const last = match?.[2] === undefined ? first : Number(match[2]);
  if (!match || last < first)
    throw new CommandError(`--frames "${text}": expected one frame, such as 7, or a range, such as 1-24.`);
  if (last - first >= 1_000_000)
    throw new CommandError(`--frames "${text}": that is more than 1 000 000 frames.`);
  return Array.from({ length: last - first + 1 }, (_, i) => first + i);
}

import { CATALOGUE, Evaluator, ProjectFileError, readProjectFile, type OpenedProject } from '@umberfish/core';
import { CommandError } from './command-error.ts';
import { readText } from './files.ts';

/** Opens a project file. @throws CommandError with the file's name. */
export function openProject(path: string): OpenedProject {
  const text = readText(path);
  try {
    return readProjectFile(text);
  } catch (error) {
    if (error instanceof ProjectFileError) throw new CommandError(`${path}: ${error.message}`);
    throw error;
  }
}

/** An evaluator that holds the project's meshes. */
export function evaluatorFor(opened: OpenedProject): Evaluator {
  const evaluator = new Evaluator(CATALOGUE, { now: () => performance.now() });
  for (const [id, mesh] of opened.assets) evaluator.setAsset(id, mesh);
  return evaluator;
}

import { expose } from 'comlink';
import { readProjectFile, writeProjectFile, type Assets, type OpenedProject, type Project } from '@umberfish/core';

const clerk = {
  /** The text of a project file, as a file in memory. */
  write: (project: Project, assets: Assets): Blob => new Blob([writeProjectFile(project, assets)], { type: 'application/json' }),
  /** Reads the text of a project file. @throws Error with a sentence */
  read: (text: string): OpenedProject => readProjectFile(text),
};

export type Clerk = typeof clerk;

expose(clerk);

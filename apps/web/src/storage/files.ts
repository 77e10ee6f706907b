import { readProjectFile, writeProjectFile, type OpenedProject, type Project } from '@umberfish/core';
import type { SourceFile } from '@umberfish/formats';
import demoUrl from '@umberfish/demo/lantern-quay.json?url';
import { engine } from '../engine/index.ts';

/** Hands a file to the person. */
export function download(name: string, content: BlobPart, type: string): void {
  const url = URL.createObjectURL(new Blob([content], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  window.setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

/** A name that is safe for files. */
export const fileName = (name: string): string =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '') || 'project';

export function saveProjectFile(project: Project): void {
  download(`${fileName(project.name)}.json`, writeProjectFile(project, engine.getAssets()), 'application/json');
}

/** Reads a project file. @throws ProjectFileError with a sentence */
export async function openProjectFile(file: File): Promise<OpenedProject> {
  return readProjectFile(await file.text());
}

/** The demo as it is shipped. */
export async function fetchDemo(): Promise<OpenedProject> {
  const answer = await fetch(demoUrl);
  if (!answer.ok) throw new Error('The demo project could not be loaded from this site.');
  return readProjectFile(await answer.text());
}

export async function readFiles(files: readonly File[]): Promise<SourceFile[]> {
  return Promise.all(files.map(async (f) => ({ name: f.name, bytes: new Uint8Array(await f.arrayBuffer()) })));
}

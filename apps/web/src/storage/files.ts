import { readProjectFile, writeProjectFile, type OpenedProject, type Project } from '@umberfish/core';
import type { SourceFile } from '@umberfish/formats';
import { wrap, type Remote } from 'comlink';
import demoUrl from '@umberfish/demo/lantern-quay.json?url';
import { engine } from '../engine/index.ts';
import { store } from '../state/store.ts';
import { remarked } from '../state/ui-slice.ts';
import type { Clerk } from './file-worker.ts';

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

/** Hands the person a project as a file, with its meshes. */
export async function saveProjectFile(project: Project): Promise<void> {
  const assets = engine.getAssets();
  const points = project.assets.reduce((n, { id }) => n + (assets.get(id)?.topology.pointCount ?? 0), 0);
  const name = `${fileName(project.name)}.json`;
  if (points < MANY_POINTS) return download(name, writeProjectFile(project, assets), 'application/json');
  store.dispatch(remarked({ text: `Writing ${name}…`, kind: 'done' }));
  try {
    download(name, await withClerk((clerk) => clerk.write(project, assets)), 'application/json');
    store.dispatch(remarked({ text: `${name} is written.`, kind: 'done' }));
  } catch (error) {
    store.dispatch(remarked({ text: `${name} was not written: ${(error as Error).message}`, kind: 'wrong' }));
  }
}

/** Reads a project file. @throws Error with a sentence */
export async function openProjectFile(file: File): Promise<OpenedProject> {
  const text = await file.text();
  return text.length < LONG_TEXT ? readProjectFile(text) : withClerk((clerk) => clerk.read(text));
}

/** From here on files are written and read in a worker: it is slower to begin with, and the page goes on. */
const MANY_POINTS = 100_000;
const LONG_TEXT = 8_000_000;

async function withClerk<T>(work: (clerk: Remote<Clerk>) => Promise<T>): Promise<T> {
  const worker = new Worker(new URL('./file-worker.ts', import.meta.url), { type: 'module' });
  try {
    return await work(wrap<Clerk>(worker));
  } finally {
    worker.terminate();
  }
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

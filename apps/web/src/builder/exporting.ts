import { shownResults, type Project } from '@umberfish/core';
import { engine } from '../engine/index.ts';
import type { Written } from '../engine/protocol.ts';
import { download, fileName } from '../storage/files.ts';
import { catalogue } from '../state/catalogue.ts';

/**
 * Downloads the named result at a frame; the worker evaluates and writes it.
 * @returns what was written, in words. @throws Error with a sentence when the result has no mesh.
 */
export async function exportResult(project: Project, node: string, frame: number, format: 'obj' | 'glb'): Promise<string> {
  const result = shownResults(catalogue(), project).find((r) => r.node === node);
  if (!result) throw new Error('That result is no longer there.');
  const { files, notes } = await engine.write({ project, frame, result, format, stem: fileName(result.name) });
  for (const file of files) downloadFile(file);
  return [`Wrote ${files[0].name}.`, ...notes].join(' ');
}

const TYPES: Readonly<Record<string, string>> = { glb: 'model/gltf-binary', obj: 'model/obj', mtl: 'model/mtl', csv: 'text/csv' };

/** Downloads a file that was baked, as what its ending says. */
export function downloadFile({ name, content }: Written['files'][number]): void {
  download(name, content as BlobPart, TYPES[name.slice(name.lastIndexOf('.') + 1)] ?? 'application/octet-stream');
}

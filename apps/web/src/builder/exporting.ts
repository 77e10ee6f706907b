import { CATALOGUE, shownResults, type Project } from '@umberfish/core';
import { engine } from '../engine/index.ts';
import { download, fileName } from '../storage/files.ts';

/**
 * Downloads the named result at a frame; the worker evaluates and writes it.
 * @returns the file's name. @throws Error with a sentence when the result has no mesh.
 */
export async function exportResult(project: Project, node: string, frame: number, format: 'obj' | 'glb'): Promise<string> {
  const result = shownResults(CATALOGUE, project).find((r) => r.node === node);
  if (!result) throw new Error('That result is no longer there.');
  const stem = fileName(result.name);
  const written = await engine.write({
    project,
    node,
    frame,
    format,
    name: result.name,
    library: `${stem}.mtl`,
  });
  const file = `${stem}.${String(frame).padStart(4, '0')}.${format}`;
  download(file, written.content as BlobPart, format === 'glb' ? 'model/gltf-binary' : 'model/obj');
  if (written.materials) download(`${stem}.mtl`, written.materials, 'model/mtl');
  return file;
}

import { Evaluator, SHOWN_PORT, shownResults, type Project } from '@umberfish/core';
import { writeGlb, writeMtl, writeObj, type NamedMesh } from '@umberfish/formats';
import { engine } from '../engine/index.ts';
import { download, fileName } from '../storage/files.ts';

/**
 * Downloads the named result at a frame. It is evaluated here once more, in full: an export is asked for rarely
 * and must not depend on what the stage happens to show.
 * @throws Error with a sentence when the result has no mesh.
 */
export async function exportResult(
  project: Project,
  node: string,
  frame: number,
  format: 'obj' | 'glb',
): Promise<string> {
  const result = shownResults(project).find((r) => r.node === node);
  const evaluator = new Evaluator();
  for (const [id, mesh] of engine.getAssets()) evaluator.setAsset(id, mesh);
  const ref = { node, port: SHOWN_PORT };
  const value = evaluator.evaluate({ project, frame, wanted: [ref] }).value(ref);
  if (!result || value?.form !== 'geometry')
    throw new Error('There is no mesh to export: the result has an error or nothing arrives at it.');
  const named: NamedMesh[] = [{ name: result.name, mesh: value.mesh }];
  const stem = `${fileName(result.name)}.${String(frame).padStart(4, '0')}`;
  if (format === 'glb') {
    download(`${stem}.glb`, new Uint8Array(await writeGlb(named)), 'model/gltf-binary');
    return `${stem}.glb`;
  }
  download(`${stem}.obj`, writeObj(named, `${fileName(result.name)}.mtl`), 'model/obj');
  if (value.mesh.materials.length > 0) download(`${fileName(result.name)}.mtl`, writeMtl(named), 'model/mtl');
  return `${stem}.obj`;
}

import { wrap } from 'comlink';
import { decompose, makeObject, type Channels, type Vec3 } from '@umberfish/core';
import type { ImportUnits } from '@umberfish/formats';
import type { Reader, ReadFiles } from '../engine/import-worker.ts';
import { engine } from '../engine/index.ts';
import { addMeshObject, freeName, newId } from '../state/edits.ts';
import { applyEdit, store } from '../state/store.ts';
import { objectsPicked, remarked } from '../state/ui-slice.ts';
import { readFiles } from '../storage/files.ts';

/** Units an OBJ file may be in. */
export const UNITS: readonly { value: string; label: string; metres: number }[] = [
  { value: 'm', label: 'Metres', metres: 1 },
  { value: 'cm', label: 'Centimetres', metres: 0.01 },
  { value: 'mm', label: 'Millimetres', metres: 0.001 },
  { value: 'in', label: 'Inches', metres: 0.0254 },
  { value: 'ft', label: 'Feet', metres: 0.3048 },
];

/** Whether the files leave their units open, so that the person must be asked. */
export const asksForUnits = (files: readonly File[]): boolean => files.some((f) => /\.obj$/i.test(f.name));

/** Reads mesh files and puts an object for each mesh into the open project, as one step; picks them. */
export async function importIntoProject(files: readonly File[], units: ImportUnits): Promise<void> {
  let imported: ReadFiles;
  try {
    imported = await readAway(files, units);
  } catch (error) {
    store.dispatch(remarked({ text: (error as Error).message, kind: 'wrong' }));
    return;
  }
  const origin = files.map((f) => f.name).join(', ');
  const added: string[] = [];
  const gesture = `import ${newId('step')}`;
  for (const m of imported.meshes) {
    const asset = {
      id: m.id,
      name: m.name,
      points: m.mesh.topology.pointCount,
      faces: m.mesh.topology.faceCount,
      origin,
    };
    engine.addAsset(asset.id, m.mesh);
    const d = decompose(m.matrix, 'xyz');
    const channels: Channels = {
      translate: d.translate,
      rotate: d.anglesInRadians.map((a) => (a * 180) / Math.PI) as unknown as Vec3,
      order: 'xyz',
      scale: d.scale,
    };
    const id = newId('mesh');
    applyEdit(
      `Import ${m.name}`,
      (p) => addMeshObject(asset, makeObject(id, freeName(p, m.name), 'mesh', { mesh: m.id, channels }))(p),
      gesture,
    );
    added.push(id);
  }
  store.dispatch(objectsPicked(added));
  const count = imported.meshes.reduce((n, m) => n + m.mesh.topology.pointCount, 0);
  const told = [`Imported ${origin}: ${count} points.`, ...imported.notes].join(' ');
  store.dispatch(remarked({ text: told, kind: 'done' }));
}

/** Reads the files in a worker of their own, so that a large one does not hold up the page. */
export async function readAway(files: readonly File[], units: ImportUnits): Promise<ReadFiles> {
  const worker = new Worker(new URL('../engine/import-worker.ts', import.meta.url), { type: 'module' });
  try {
    return await wrap<Reader>(worker).read(await readFiles(files), units);
  } finally {
    worker.terminate();
  }
}

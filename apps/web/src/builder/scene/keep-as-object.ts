import { addMeshObjects, freeName, makeObject, newId, type PortRef } from '@umberfish/core';
import { engine } from '../../engine/index.ts';
import { applyEdit, store } from '../../state/store.ts';
import { objectsPicked, remarked } from '../../state/ui-slice.ts';

/** Makes a mesh object of what an output is at this frame: it stands where the result does, and no graph moves it. */
export async function keepAsObject(ref: PortRef, title: string): Promise<void> {
  const say = (text: string, kind: 'done' | 'wrong') => void store.dispatch(remarked({ text, kind }));
  const { project } = store.getState().project;
  const { frame } = store.getState().ui;
  if (!project) return;
  try {
    const kept = await engine.meshOf(project, frame, ref);
    if (!kept || kept.mesh.topology.pointCount === 0) return say('There is no mesh here to keep. Messages tell why.', 'wrong');
    const { id, mesh } = kept;
    if (!mesh.positions.every(Number.isFinite))
      return say('Some of its points are not finite, so it is not kept. Messages tell which node made them.', 'wrong');
    const now = store.getState().project.project ?? project;
    const name = freeName(now, `${title}, frame ${frame}`);
    const { pointCount: points, faceCount: faces } = mesh.topology;
    engine.addAsset(id, mesh);
    const object = makeObject(newId('mesh'), name, 'mesh', { mesh: id });
    applyEdit('Keep as an object', addMeshObjects([{ id, name, points, faces, origin: `kept from ${title}` }], [object]));
    store.dispatch(objectsPicked([object.id]));
    say(`"${name}" is in the scene, as it was at this frame.`, 'done');
  } catch (error) {
    say((error as Error).message, 'wrong');
  }
}

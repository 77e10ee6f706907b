import { assetIdOf, identity, type GraphRecord, type PlacedMesh } from '@umberfish/core';
import { engine } from './index.ts';
import { poseNow } from './pose.ts';

/** The mesh of an object where it stands in the last picture. */
export function placedMesh(object: string): PlacedMesh | undefined {
  const pose = poseNow();
  const record = pose?.objects.get(object);
  const world = pose?.world(object);
  return record && world && { world, mesh: engine.getAssets().get(assetIdOf(record) ?? '') };
}

/** The same as a graph sees it: in the object's own space where the graph reads it there. */
export function placedMeshIn(graph: GraphRecord, object: string): PlacedMesh | undefined {
  const placed = placedMesh(object);
  const isOwn = graph.nodes.some((n) => n.settings.object === object && n.settings.space === 'own');
  return placed && isOwn ? { ...placed, world: identity() } : placed;
}

import {
  SHOWN_PORT,
  shownResults,
  objectsById,
  worldMatrix,
  type Matrix,
  type Project,
} from '@umberfish/core';
import { COMPARE_KEYS, isVisible, PREVIEW_KEY } from '../../engine/request.ts';
import type { DrawnMesh, DrawnPicture } from '../../engine/geometry-store.ts';

/** One thing on the stage. */
export interface DrawnItem {
  readonly id: string;
  readonly name: string;
  readonly mesh: DrawnMesh;
  /** Own space to world; null is the identity (results are in world space). */
  readonly matrix: Matrix | null;
  readonly object: string | null;
  /** The output it comes from, so that its points can be looked up. */
  readonly ref: { node: string; port: string } | null;
  readonly colour: readonly [number, number, number] | null;
  readonly ghost: boolean;
}

/** What the stage draws: results, objects nothing replaces, the preview, and ghosts of what was replaced. */
export function drawnItems(
  project: Project,
  picture: DrawnPicture,
  graph: string | null,
  ghosts: boolean,
): DrawnItem[] {
  const items: DrawnItem[] = [];
  const objects = objectsById(project.objects);
  const replaced = new Set<string>();
  for (const r of shownResults(project)) {
    const mesh = picture.meshes.get(r.node);
    if (!mesh) continue;
    if (r.object) replaced.add(r.object);
    const colour = r.object ? (objects.get(r.object)?.colour ?? null) : null;
    items.push({
      id: r.node,
      name: r.name,
      mesh,
      matrix: null,
      object: r.object,
      ref: { node: r.node, port: SHOWN_PORT },
      colour,
      ghost: false,
    });
  }
  const preview = picture.meshes.get(PREVIEW_KEY);
  const current = project.graphs.find((g) => g.id === graph);
  const compared = picture.meshes.get(COMPARE_KEYS.b);
  if (compared) return compareItems(picture, compared, ghosts);
  if (preview && current?.preview) {
    items.push({
      id: PREVIEW_KEY,
      name: 'Preview',
      mesh: preview,
      matrix: null,
      object: null,
      ref: null,
      colour: null,
      ghost: false,
    });
    for (const r of shownResults(project)) if (r.graph === graph && r.object) replaced.add(r.object);
  }
  for (const o of project.objects) {
    if (o.mesh === null || !isVisible(project, o.id)) continue;
    const mesh = picture.meshes.get(`asset ${o.mesh}`);
    const ghost = replaced.has(o.id);
    if (!mesh || (ghost && !ghosts)) continue;
    items.push({
      id: `object ${o.id}`,
      name: o.name,
      mesh,
      matrix: worldMatrix(objects, o.id),
      object: o.id,
      ref: null,
      colour: o.colour,
      ghost,
    });
  }
  return items;
}

/** Two compared meshes alone: B as it is, A as a ghost behind it. */
function compareItems(picture: DrawnPicture, b: DrawnMesh, ghosts: boolean): DrawnItem[] {
  const item = (id: string, name: string, mesh: DrawnMesh, ghost: boolean): DrawnItem => ({
    id,
    name,
    mesh,
    matrix: null,
    object: null,
    ref: null,
    colour: null,
    ghost,
  });
  const a = picture.meshes.get(COMPARE_KEYS.a);
  return [item(COMPARE_KEYS.b, 'B', b, false), ...(a && ghosts ? [item(COMPARE_KEYS.a, 'A', a, true)] : [])];
}

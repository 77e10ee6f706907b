import {
  rootGraph,
  drivenIn,
  SHOWN_PORT,
  shownResults,
  objectsAt,
  visibleIds,
  worldLookup,
  type Matrix,
  type Project,
  assetIdOf,
  colourOf,
} from '@umberfish/core';
import { COMPARE_KEYS, PREVIEW_KEY } from '../../engine/request.ts';
import { partKey } from '../../engine/protocol.ts';
import type { DrawnMesh, DrawnPicture } from '../../engine/geometry-store.ts';
import { catalogue } from '../../state/catalogue.ts';

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
export function drawnItems(project: Project, picture: DrawnPicture, graph: string | null, ghosts: boolean): DrawnItem[] {
  const items: DrawnItem[] = [];
  const objects = objectsAt(project, picture.frame);
  const replaced = new Set<string>();
  const driven = drivenIn(picture.driven);
  for (const r of shownResults(catalogue(), project)) {
    const parts = partsOf(picture, r.node);
    if (parts.length === 0) continue;
    if (r.object) replaced.add(r.object);
    const colour = colourOf(r.object === null ? undefined : objects.get(r.object));
    const ref = { node: r.node, port: SHOWN_PORT };
    for (const mesh of parts)
      items.push({
        id: mesh.key,
        name: r.name,
        mesh,
        matrix: null,
        object: r.object,
        ref,
        colour,
        ghost: false,
      });
  }
  const previews = partsOf(picture, PREVIEW_KEY);
  const current = graph === null ? undefined : rootGraph(project, graph);
  const compared = picture.meshes.get(COMPARE_KEYS.b);
  if (compared) return compareItems(picture, compared, ghosts);
  if (previews.length > 0 && current?.preview) {
    for (const mesh of previews)
      items.push({ id: mesh.key, name: 'Preview', mesh, matrix: null, object: null, ref: null, colour: null, ghost: false });
    for (const r of shownResults(catalogue(), project)) if (r.graph === current.id && r.object) replaced.add(r.object);
  }
  const visible = visibleIds(project.objects);
  const worldOf = worldLookup(objects, 'channels', driven);
  for (const o of project.objects) {
    const asset = assetIdOf(o);
    if (asset === null || !visible.has(o.id)) continue;
    const mesh = picture.meshes.get(`asset ${asset}`);
    const ghost = replaced.has(o.id);
    const colours = ghost ? undefined : picture.painted.get(o.id);
    if (!mesh || (ghost && !ghosts)) continue;
    items.push({
      id: `object ${o.id}`,
      name: o.name,
      mesh: colours && mesh ? { ...mesh, colours } : mesh,
      matrix: worldOf(o.id),
      object: o.id,
      ref: null,
      colour: colourOf(o),
      ghost,
    });
  }
  return items;
}

/** The geometries drawn under a key: one, or one for each mesh that copies are made of. */
function partsOf(picture: DrawnPicture, key: string): DrawnMesh[] {
  const parts: DrawnMesh[] = [];
  for (let i = 0; ; i++) {
    const mesh = picture.meshes.get(partKey(key, i));
    if (!mesh) return parts;
    parts.push(mesh);
  }
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

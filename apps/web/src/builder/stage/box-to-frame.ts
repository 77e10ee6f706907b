import { jointsOf, kindOf, transformPoint, type Matrix, type ObjectRecord } from '@umberfish/core';
import { Box3, Vector3, type Object3D } from 'three';
import { PREVIEW_KEY } from '../../engine/request.ts';
import { drawnLines } from './curve-points.ts';
import type { DrawnItem } from './drawn-items.ts';
import { itemBox } from './item-box.ts';

/** What stands on the stage. */
interface Standing {
  readonly items: readonly DrawnItem[];
  readonly meshes: ReadonlyMap<string, Object3D>;
  readonly objects: readonly ObjectRecord[];
  matrixOf(object: string): Matrix;
}

/** Room round a cross (metres). */
const CROSS = 0.3;

/**
 * The box of what is framed, in world space: what is picked; with nothing picked what the graph one looks at makes, else
 * everything.
 * @param here the nodes of that graph
 */
export function boxToFrame(
  { items, meshes, objects, matrixOf }: Standing,
  picked: readonly string[],
  here: ReadonlySet<string>,
): Box3 {
  const box = new Box3();
  const isPicked = new Set(picked);
  const solid = items.filter((i) => !i.ghost);
  const made = solid.filter((i) => i.id === PREVIEW_KEY || isMadeIn(i, here));
  const wanted =
    picked.length > 0 ? solid.filter((i) => i.object !== null && isPicked.has(i.object)) : made.length > 0 ? made : solid;
  for (const i of wanted) {
    const object = meshes.get(i.id);
    box.union(object ? new Box3().setFromObject(object) : itemBox(i));
  }
  const chains = objects.filter((o) => o.type === 'chain' && isPicked.has(o.id));
  const chained = new Set(chains.flatMap(({ id }) => jointsOf(objects, id).map((j) => j.id)));
  for (const o of objects) {
    if (!isPicked.has(o.id) && !chained.has(o.id)) continue;
    const m = matrixOf(o.id);
    if (['cross', 'joint'].includes(kindOf(o).drawn)) {
      const at = new Vector3(m[12], m[13], m[14]);
      box.expandByPoint(at.clone().addScalar(CROSS)).expandByPoint(at.addScalar(-CROSS));
    }
    if (o.type !== 'curve') continue;
    const lines = drawnLines(o.curve);
    for (let i = 0; i < lines.length; i += 3)
      box.expandByPoint(new Vector3(...transformPoint(m, [lines[i], lines[i + 1], lines[i + 2]])));
  }
  return box;
}

/** Whether a result is made by a node of a graph, or inside of a use that stands in it. */
export const isMadeIn = ({ ref }: DrawnItem, here: ReadonlySet<string>): boolean =>
  ref !== null && ref.node.split('/').some((_, k, parts) => here.has(parts.slice(0, k + 1).join('/')));

import { Plane, Raycaster, Vector2, Vector3, type Mesh as ThreeMesh, type Object3D } from 'three';
import {
  controlOf,
  identity,
  kindOf,
  type CurvePick,
  type Matrix,
  type ObjectRecord,
  type Vec3,
  type ObjectOf,
} from '@umberfish/core';
import { bonesOf } from './bone-shapes.ts';
import { shapeOf } from './control-shapes.ts';
import { awayFromLines, holdAt, isOnCurve, onCanvas, snapped } from './curve-points.ts';
import type { DrawnItem } from './drawn-items.ts';
import { itemBox } from './item-box.ts';
import type { View } from './view.ts';

/** Meshes of more faces are not searched while the pointer merely passes over them. */
const HOVER_FACES = 150_000;

/** Everything on the stage that can be under the pointer. */
export interface StageThings {
  readonly view: View;
  readonly canvas: DOMRect;
  readonly items: readonly DrawnItem[];
  readonly meshes: ReadonlyMap<string, Object3D>;
  readonly objects: readonly ObjectRecord[];
  /** The objects that may be picked; a click goes through all others. */
  readonly pickable: ReadonlySet<string>;
  matrixOf(object: string): Matrix;
}

/** What is under the pointer. */
export interface Thing {
  readonly item?: DrawnItem;
  /** Which of the item's points is nearest to where it was hit, and where that was, in the world. */
  readonly point?: number;
  readonly place?: Vector3;
  readonly locator?: string;
  readonly curve?: string;
}

type Pointer = { clientX: number; clientY: number };

function rayFrom({ view, canvas }: StageThings, e: Pointer): Raycaster {
  const x = ((e.clientX - canvas.left) / canvas.width) * 2 - 1;
  const y = 1 - ((e.clientY - canvas.top) / canvas.height) * 2;
  const ray = new Raycaster();
  ray.setFromCamera(new Vector2(x, y), view.camera);
  return ray;
}

/** Locators and curves come first, since they are thin; then the nearest surface. */
export function thingAt(things: StageThings, e: Pointer, everything: boolean): Thing {
  const { view, canvas, objects, pickable, items, matrixOf } = things;
  const [x, y] = [e.clientX - canvas.left, e.clientY - canvas.top];
  const locator = locatorAt(things, x, y);
  if (locator !== undefined) return { locator };
  const curve = objects.find(
    (o) => o.type === 'curve' && pickable.has(o.id) && isOnCurve(o.curve, matrixOf(o.id), view, canvas, x, y),
  );
  if (curve) return { curve: curve.id };
  const free = items.filter((i) => i.object === null || pickable.has(i.object));
  return surfaceAt({ ...things, items: free }, rayFrom(things, e), everything);
}

/** How near the pointer has to be to a cross, and to the line of a control (pixels). */
const NEAR = 14;
const NEAR_LINE = 7;

/** The locator whose cross is under the pointer, or the control whose line is the nearest. */
function locatorAt({ view, canvas, objects, pickable, matrixOf }: StageThings, x: number, y: number): string | undefined {
  const byId = new Map(objects.map((o) => [o.id, o]));
  let best: string | undefined;
  let least = NEAR_LINE;
  for (const o of objects) {
    const { drawn } = kindOf(o);
    if ((drawn !== 'cross' && !(drawn === 'joint' && controlOf(o))) || !pickable.has(o.id)) continue;
    const m = matrixOf(o.id);
    if (controlOf(o)) {
      const away = awayFromLines(
        shapeOf(o, (id) => byId.get(id)),
        m,
        view,
        canvas,
        x,
        y,
        least,
      );
      if (away < least) [least, best] = [away, o.id];
      continue;
    }
    const p = onCanvas(view, canvas, [m[12], m[13], m[14]]);
    if (p && Math.hypot(p[0] - x, p[1] - y) < NEAR) return best ?? o.id;
  }
  for (const b of bonesOf(objects, matrixOf)) {
    if (!pickable.has(b.joint)) continue;
    const away = awayFromLines([...b.from, ...b.to], IDENTITY, view, canvas, x, y, least);
    if (away < least) [least, best] = [away, b.joint];
  }
  return best;
}

const IDENTITY = identity();

/** The middle between the two surfaces of a body that the pointer is on, in the world: where one goes in, and where one comes out. */
export function middleUnder(things: StageThings, e: Pointer): Vec3 | undefined {
  const ray = rayFrom(things, e);
  const all = things.items.flatMap((item) => {
    const object = things.meshes.get(item.id);
    return object && !item.ghost ? ray.intersectObject(object, true) : [];
  });
  all.sort((a, b) => a.distance - b.distance);
  const first = all[0];
  if (!first) return undefined;
  const second = all.find((h) => h.distance > first.distance + 1e-4 && h.object === first.object);
  const middle = second ? first.point.clone().add(second.point).multiplyScalar(0.5) : first.point;
  return [middle.x, middle.y, middle.z];
}

/** The surface under the pointer, whatever thin things stand before it. */
export const surfaceUnderPointer = (things: StageThings, e: Pointer): Thing => surfaceAt(things, rayFrom(things, e), true);

function surfaceAt({ items, meshes }: StageThings, ray: Raycaster, everything: boolean): Thing {
  let best:
    | { distance: number; item: DrawnItem; face?: { a: number; b: number; c: number }; place: Vector3; object?: Object3D }
    | undefined;
  for (const item of items) {
    if (item.ghost) continue;
    const object = meshes.get(item.id) as ThreeMesh | undefined;
    if (!object) {
      // Its box stands in for it.
      const place = item.mesh.instances ? null : ray.ray.intersectBox(itemBox(item), new Vector3());
      const distance = place?.distanceTo(ray.ray.origin) ?? Infinity;
      if (place && distance < (best?.distance ?? Infinity)) best = { distance, item, place };
      continue;
    }
    if (!everything && item.mesh.topology.faceCount > HOVER_FACES) continue;
    const hit = ray.intersectObject(object, true)[0];
    if (hit?.face && (!best || hit.distance < best.distance))
      best = { distance: hit.distance, item, face: hit.face, place: hit.point, object };
  }
  if (!best) return {};
  const { item, face, place, object } = best;
  // The points of copies are not points of anything one can look up.
  if (item.mesh.instances || !object || !face) return { item, place };
  const local = object.worldToLocal(place.clone());
  const { positions, topology } = item.mesh;
  let nearest = face.a;
  let least = Infinity;
  for (const v of [face.a, face.b, face.c]) {
    const d = Math.hypot(positions[v * 3] - local.x, positions[v * 3 + 1] - local.y, positions[v * 3 + 2] - local.z);
    if (d < least) [least, nearest] = [d, v];
  }
  return { item, point: topology.vertexPoints[nearest], place };
}

/** The point or handle of a curve under the pointer. */
export function curveHoldAt(
  things: StageThings,
  e: Pointer,
  object: ObjectOf<'curve'>,
  pick: CurvePick | null,
): CurvePick | null {
  const { canvas } = things;
  return holdAt(
    object.curve,
    things.matrixOf(object.id),
    pick,
    things.view,
    canvas,
    e.clientX - canvas.left,
    e.clientY - canvas.top,
  );
}

/**
 * Where a new point of a curve goes, in the world: on the surface under the pointer when that is asked for, else on the
 * level plane through the last point, or the ground. Undefined when the pointer looks past it.
 */
export function placeForPoint(
  things: StageThings,
  e: Pointer,
  last: Vec3 | undefined,
  snap: 'none' | 'grid' | 'surface',
): Vec3 | undefined {
  const ray = rayFrom(things, e);
  const onSurface = snap === 'surface' ? placeUnder(things, e) : undefined;
  if (onSurface) return onSurface;
  const at = ray.ray.intersectPlane(new Plane(new Vector3(0, 1, 0), -(last?.[1] ?? 0)), new Vector3());
  return at ? snapped([at.x, at.y, at.z], snap) : undefined;
}

/** Where the surface is that the pointer is on, in the world. */
export function placeUnder(things: StageThings, e: Pointer): Vec3 | undefined {
  const { place } = surfaceAt(things, rayFrom(things, e), true);
  return place && [place.x, place.y, place.z];
}

/** Where the pointer is in the plane through a place that faces the eye. */
export function inSightPlane(things: StageThings, e: Pointer, through: Vector3): Vec3 | undefined {
  const facing = things.view.camera.getWorldDirection(new Vector3());
  const plane = new Plane().setFromNormalAndCoplanarPoint(facing, through);
  const at = rayFrom(things, e).ray.intersectPlane(plane, new Vector3());
  return at ? [at.x, at.y, at.z] : undefined;
}

/** The surface under a place as one sees it: along the line of sight through it. */
export function surfaceUnder(things: StageThings, at: Vector3): Vec3 | undefined {
  const ray = new Raycaster(things.view.camera.position.clone(), at.clone().sub(things.view.camera.position).normalize());
  const { place } = surfaceAt(things, ray, true);
  return place && [place.x, place.y, place.z];
}

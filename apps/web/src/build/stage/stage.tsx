import { addAfterEffect, Canvas, useThree } from '@react-three/fiber';
import {
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
  useSyncExternalStore,
  type KeyboardEvent,
  type PointerEvent,
} from 'react';
import {
  Box3,
  BufferAttribute,
  BufferGeometry,
  Color,
  Raycaster,
  Vector2,
  Vector3,
  type Mesh as ThreeMesh,
  type Object3D,
} from 'three';
import { objectsById, SHOWN_PORT, shownResults, worldMatrix } from '@umberfish/core';
import { engine } from '../../engine/index.ts';
import { isVisible, PREVIEW_KEY } from '../../engine/request.ts';
import { selectProject, store, useSend, useStore } from '../../state/store.ts';
import { nodesPicked, objectsPicked, portPicked, uiSet } from '../../state/ui-slice.ts';
import { formatCount } from '../../ui/format.ts';
import { drawnItems, type DrawnItem } from './drawn-items.ts';
import { Geometry, made } from './geometry.tsx';
import { Gizmo } from './gizmo.tsx';
import { Legend } from './legend.tsx';
import { Locator } from './locators.tsx';
import { StageBar } from './stage-bar.tsx';
import { View } from './view.ts';
import { keepThumbnail } from './thumbnail.ts';

/** Meshes of more faces are not searched while the pointer merely passes over them. */
const HOVER_FACES = 150_000;

/** The 3D view: drawn on demand, never on its own. */
export default function Stage() {
  const project = useStore(selectProject);
  const ui = useStore((s) => s.ui);
  const picture = useSyncExternalStore(engine.geometry.subscribe, engine.geometry.get);
  const send = useSend();
  const root = useRef<HTMLDivElement>(null);
  const [view, setView] = useState<View | null>(null);
  const [hover, setHover] = useState<{ name: string; x: number; y: number } | null>(null);
  const meshes = useRef(new Map<string, Object3D>());
  const press = useRef<{ x: number; y: number } | null>(null);

  const items = useMemo(() => {
    const all = project ? drawnItems(project, picture, ui.graph, ui.ghost) : [];
    if (!ui.isolate) return all;
    const kept = all.filter(
      (i) =>
        i.id === PREVIEW_KEY ||
        (i.object !== null && ui.objects.includes(i.object)) ||
        (i.ref !== null && i.ref.node === ui.port?.node),
    );
    return kept.length > 0 ? kept : all;
  }, [project, picture, ui.graph, ui.ghost, ui.isolate, ui.objects, ui.port]);
  const register = useCallback(
    (id: string, o: Object3D | null) => void (o ? meshes.current.set(id, o) : meshes.current.delete(id)),
    [],
  );
  const locators = (project?.objects ?? []).filter(
    (o) => o.type === 'locator' && project && isVisible(project, o.id),
  );
  const byId = useMemo(() => objectsById(project?.objects ?? []), [project?.objects]);

  /** What is under the pointer: the thing, and which of its points is nearest to where it was hit. */
  const find = useCallback(
    (
      e: { clientX: number; clientY: number },
      everything: boolean,
    ): { item?: DrawnItem; locator?: string; point?: number } => {
      const box = root.current?.querySelector('canvas')?.getBoundingClientRect();
      if (!view || !box) return {};
      const at = new Vector2(
        ((e.clientX - box.left) / box.width) * 2 - 1,
        1 - ((e.clientY - box.top) / box.height) * 2,
      );
      for (const o of locators) {
        const m = worldMatrix(byId, o.id);
        const p = new Vector3(m[12], m[13], m[14]).project(view.camera);
        if (Math.hypot(((p.x - at.x) * box.width) / 2, ((p.y - at.y) * box.height) / 2) < 14)
          return { locator: o.id };
      }
      const ray = new Raycaster();
      ray.setFromCamera(at, view.camera);
      let best:
        | {
            distance: number;
            item: DrawnItem;
            face: { a: number; b: number; c: number };
            point: Vector3;
            object: Object3D;
          }
        | undefined;
      for (const item of items) {
        const object = meshes.current.get(item.id) as ThreeMesh | undefined;
        if (!object || item.ghost || (!everything && item.mesh.topology.faceCount > HOVER_FACES)) continue;
        const hit = ray.intersectObject(object, false)[0];
        if (hit?.face && (!best || hit.distance < best.distance))
          best = { distance: hit.distance, item, face: hit.face, point: hit.point, object };
      }
      if (!best) return {};
      const local = best.object.worldToLocal(best.point.clone());
      const { positions, topology } = best.item.mesh;
      let nearest = best.face.a;
      let least = Infinity;
      for (const v of [best.face.a, best.face.b, best.face.c]) {
        const d = Math.hypot(
          positions[v * 3] - local.x,
          positions[v * 3 + 1] - local.y,
          positions[v * 3 + 2] - local.z,
        );
        if (d < least) [least, nearest] = [d, v];
      }
      return { item: best.item, point: topology.vertexPoints[nearest] };
    },
    [view, items, locators, byId],
  );

  const onUp = (e: PointerEvent) => {
    const from = press.current;
    press.current = null;
    if (!from || Math.hypot(e.clientX - from.x, e.clientY - from.y) > 4 || e.button !== 0) return;
    const found = find(e, true);
    if (found.locator)
      return void send(
        objectsPicked(e.shiftKey ? [...new Set([...ui.objects, found.locator])] : [found.locator]),
      );
    const { item, point } = found;
    if (!item) {
      send(objectsPicked([]));
      return void send(nodesPicked([]));
    }
    // With a table open, a click marks the point in it; else it picks the object.
    if (ui.port && point !== undefined && !e.shiftKey) {
      if (item.ref && ui.port.port === SHOWN_PORT && item.ref.node !== ui.port.node)
        send(portPicked(item.ref));
      return void send(uiSet({ element: point, tableOn: 'point' }));
    }
    if (item.object) send(objectsPicked([item.object]));
    else if (item.ref) send(portPicked(item.ref));
    if (point !== undefined) send(uiSet({ element: point }));
  };

  const onMove = (e: PointerEvent) => {
    if (e.buttons !== 0) return hover && setHover(null);
    const found = find(e, false);
    const name = found.locator ? byId.get(found.locator)?.name : found.item?.name;
    const box = root.current?.getBoundingClientRect();
    if (!name || !box) return hover && setHover(null);
    setHover({ name, x: e.clientX - box.left, y: e.clientY - box.top });
  };

  const frame = useCallback(() => {
    if (!view) return;
    const box = new Box3();
    const wanted = items.filter(
      (i) =>
        !i.ghost && (ui.objects.length === 0 ? true : i.object !== null && ui.objects.includes(i.object)),
    );
    for (const i of wanted) {
      const object = meshes.current.get(i.id);
      if (object) box.union(new Box3().setFromObject(object));
    }
    for (const o of locators) {
      if (!ui.objects.includes(o.id)) continue;
      const m = worldMatrix(byId, o.id);
      box
        .expandByPoint(new Vector3(m[12] + 0.3, m[13] + 0.3, m[14] + 0.3))
        .expandByPoint(new Vector3(m[12] - 0.3, m[13] - 0.3, m[14] - 0.3));
    }
    view.frame(box);
  }, [view, items, ui.objects, locators, byId]);

  const onKey = (e: KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const keys: Record<string, () => void> = {
      m: () => send(uiSet({ tool: 'move' })),
      t: () => send(uiSet({ tool: 'turn' })),
      s: () => send(uiSet({ tool: 'size' })),
      f: frame,
      g: () => send(uiSet({ ghost: !ui.ghost })),
      i: () => send(uiSet({ isolate: !ui.isolate })),
    };
    const run = keys[e.key.toLowerCase()];
    if (!run) return;
    run();
    e.preventDefault();
  };

  // Framing is asked for once a project's first picture is there.
  const framed = useRef<string | null>(null);
  useEffect(() => {
    if (!view || !project || items.length === 0 || framed.current === project.id) return;
    framed.current = project.id;
    if (project.id !== 'lantern-quay') window.setTimeout(frame, 30);
  }, [view, project, items, frame]);

  const here = new Set(project?.graphs.find((g) => g.id === ui.graph)?.nodes.map((n) => n.id));
  const footer =
    items.find((i) => i.object !== null && ui.objects.includes(i.object) && !i.ghost) ??
    items.find((i) => i.id === PREVIEW_KEY || i.ref?.node === ui.port?.node) ??
    items.find((i) => i.ref !== null && here.has(i.ref.node)) ??
    items.find((i) => !i.ghost);
  const marked =
    ui.element !== null && ui.tableOn === 'point'
      ? markOf(items, ui.element, ui.port?.node ?? null, ui.objects)
      : null;
  const gizmo = ui.objects.length === 1 ? ui.objects[0] : null;
  return (
    <section
      ref={root}
      aria-label="Stage"
      data-stage
      tabIndex={0}
      onKeyDown={onKey}
      className="relative size-full overflow-hidden outline-none"
      style={{ background: 'linear-gradient(var(--stage-high), var(--stage-low))' }}
    >
      <Canvas
        frameloop="demand"
        dpr={1}
        gl={{ antialias: !navigator.webdriver, alpha: true, preserveDrawingBuffer: false }}
        onPointerDown={(e) => (press.current = { x: e.clientX, y: e.clientY })}
        onPointerUp={onUp}
        onPointerMove={onMove}
        onPointerLeave={() => setHover(null)}
      >
        <Eye onView={setView} />
        <hemisphereLight args={[new Color('#fff4e0'), new Color('#6a4a38'), 1.5]} />
        <directionalLight position={[3, 6, 4]} intensity={2.1} color="#ffe6c2" />
        <directionalLight position={[-5, 2, -3]} intensity={0.7} color="#b9c6d8" />
        <Ground />
        {items.map((item) => (
          <Geometry
            key={item.id}
            item={item}
            shading={ui.shading}
            picked={item.object !== null && ui.objects.includes(item.object)}
            register={register}
          />
        ))}
        {locators.map((o) => (
          <Locator key={o.id} matrix={worldMatrix(byId, o.id)} picked={ui.objects.includes(o.id)} />
        ))}
        {marked && <Mark at={marked} />}
        {view && gizmo && byId.has(gizmo) && <Gizmo view={view} objectId={gizmo} />}
        <DrawnMarker request={picture.request} frame={picture.frame} root={root} />
      </Canvas>
      <StageBar view={view} onFrame={frame} />
      <Legend items={items} />
      {hover && (
        <span
          className="pointer-events-none absolute rounded-sm bg-ink px-2 py-0.5 text-xs text-paper"
          style={{ left: hover.x + 12, top: hover.y + 10 }}
        >
          {hover.name}
        </span>
      )}
      {items.length === 0 && locators.length === 0 && (
        <p className="pointer-events-none absolute inset-x-8 top-1/2 text-center text-soft">
          Nothing to see yet. Import a mesh, or make one on the bench and preview it.
        </p>
      )}
      {footer && (
        <p className="number pointer-events-none absolute bottom-2 left-2 rounded-sm bg-raised/85 px-1.5 py-0.5 text-[11px] text-ink">
          {footer.name} · {formatCount(footer.mesh.topology.pointCount)} points ·{' '}
          {formatCount(footer.mesh.topology.faceCount)} faces · grid 1 m
        </p>
      )}
    </section>
  );
}

/** Where a point of the mesh looked at stands, in world space. */
function markOf(
  items: readonly DrawnItem[],
  element: number,
  node: string | null,
  objects: readonly string[],
): Vector3 | null {
  const project = store.getState().project.project;
  const graphOf = project?.graphs.find((g) => g.nodes.some((n) => n.id === node));
  const results = project
    ? shownResults(project)
        .filter((r) => r.graph === graphOf?.id)
        .map((r) => r.node)
    : [];
  const item =
    items.find((i) => i.id === PREVIEW_KEY) ??
    items.find((i) => i.ref?.node === node) ??
    items.find((i) => i.object !== null && objects.includes(i.object) && !i.ghost) ??
    items.find((i) => i.ref !== null && results.includes(i.ref.node));
  if (!item || element >= item.mesh.topology.pointCount) return null;
  const p = item.mesh.positions;
  const at = new Vector3(p[element * 3], p[element * 3 + 1], p[element * 3 + 2]);
  if (item.matrix) {
    const m = item.matrix;
    at.set(
      m[0] * at.x + m[4] * at.y + m[8] * at.z + m[12],
      m[1] * at.x + m[5] * at.y + m[9] * at.z + m[13],
      m[2] * at.x + m[6] * at.y + m[10] * at.z + m[14],
    );
  }
  return at;
}

function Mark({ at }: { at: Vector3 }) {
  const geometry = useMemo(() => {
    const g = new BufferGeometry();
    g.setAttribute('position', new BufferAttribute(Float32Array.of(at.x, at.y, at.z), 3));
    return g;
  }, [at.x, at.y, at.z]);
  const invalidate = useThree((s) => s.invalidate);
  useEffect(() => {
    invalidate();
    return () => geometry.dispose();
  }, [geometry, invalidate]);
  return (
    <points geometry={geometry} renderOrder={20} frustumCulled={false}>
      <pointsMaterial color="#8a2f52" size={10} sizeAttenuation={false} depthTest={false} transparent />
    </points>
  );
}

function Ground() {
  const invalidate = useThree((s) => s.invalidate);
  const theme = useStore((s) => s.ui.theme);
  const colour = useMemo(() => {
    void theme;
    return new Color(
      getComputedStyle(document.documentElement).getPropertyValue('--stage-grid').trim() || '#b3936a',
    );
  }, [theme]);
  useEffect(() => invalidate(), [colour, invalidate]);
  return <gridHelper args={[20, 20, colour, colour]} material-transparent material-opacity={0.35} />;
}

/** Makes the view and follows the size of the stage. */
function Eye({ onView }: { onView(view: View): void }) {
  const { gl, set, size, invalidate } = useThree();
  const [view, setView] = useState<View | null>(null);
  useEffect(() => {
    const made = new View(
      gl.domElement,
      () => invalidate(),
      (camera) => set({ camera: camera as never }),
    );
    set({ camera: made.perspective });
    setView(made);
    onView(made);
    return () => made.dispose();
  }, [gl, set, invalidate, onView]);
  useEffect(() => view?.resize(size.width, size.height), [view, size]);
  return null;
}

/** Tells, on the page, which picture has really been drawn. */
function DrawnMarker({
  request,
  frame,
  root,
}: {
  request: number;
  frame: number;
  root: React.RefObject<HTMLDivElement | null>;
}) {
  const { invalidate, gl, scene } = useThree();
  const get = useThree((s) => s.get);
  useEffect(() => {
    invalidate();
    return addAfterEffect(() => {
      const data = root.current?.dataset;
      if (!data) return;
      data.drawn = String(request);
      data.frame = String(frame);
      data.geometries = String(made.geometries);
      data.topologies = String(engine.geometry.topologiesReceived);
      if (request > 0) keepThumbnail(gl, scene, get().camera);
    });
  }, [request, frame, root, invalidate, gl, scene, get]);
  return null;
}

import { Canvas } from '@react-three/fiber';
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
import { Color, type Object3D } from 'three';
import {
  graphAt,
  kindOf,
  resolveNode,
  drivenIn,
  objectsAt,
  SHOWN_PORT,
  pickableIds,
  visibleIds,
  worldLookup,
  setsOf,
  type ObjectRecord,
} from '@umberfish/core';
import { engine } from '../../engine/index.ts';
import { PREVIEW_KEY } from '../../engine/request.ts';
import { selectGraph, selectProject, useSend, useStore } from '../../state/store.ts';
import { nodesPicked, objectsPicked, portPicked, uiSet } from '../../state/ui-slice.ts';
import { BoxOutline } from './box-outline.tsx';
import { boxToFrame, isMadeIn } from './box-to-frame.ts';
import { ChooseBar, ChosenDots, chosenSet, pointsInBox, togglePoint, writeSet } from './choose-points.tsx';
import { CurveBar } from './curve-bar.tsx';
import { CurveEditor, DrawnCurve } from './curve-editor.tsx';
import { drawnItems } from './drawn-items.ts';
import { Geometry } from './geometry.tsx';
import { Gizmo } from './gizmo.tsx';
import { HandleChip } from './handle-chip.tsx';
import { MotionTrails, useMotionTrails } from './motion-trails.tsx';
import { TransformGizmo, transformPicked } from './transform-gizmo.tsx';
import { Legend } from './legend.tsx';
import { INK, Lines } from './lines.tsx';
import { Locators } from './locators.tsx';
import { Mark, markedItem, markOn, Measure, measureWords } from './marked-point.tsx';
import { OutOfView } from './out-of-view.tsx';
import { PointGizmo } from './point-gizmo.tsx';
import { DrawnMarker, Eye, Ground } from './scenery.tsx';
import { StageBar } from './stage-bar.tsx';
import { StageLine } from './stage-line.tsx';
import { surfaceUnder, thingAt, type StageThings, type Thing } from './thing-at.ts';
import { useCurveDrawing } from './use-curve-drawing.ts';
import { useOpenedGraph, useSubjects } from './use-opened-graph.ts';
import { useSharpness } from './use-sharpness.ts';
import { useStageMenu } from './use-stage-menu.ts';
import type { View } from './view.ts';
import { ContextMenu } from '../../ui/context-menu.tsx';
import { catalogue } from '../../state/catalogue.ts';

const NO_OBJECTS: readonly ObjectRecord[] = [];
const NO_POINTS: readonly number[] = [];

/** How lines look: curves that graphs make, and the two ends of falloffs. */
const LINE_LOOKS = {
  curve: { colour: INK.day, over: false, opacity: 0.9 },
  inner: { colour: '#8a2f52', over: true, opacity: 0.85 },
  outer: { colour: '#b26b1f', over: true, opacity: 0.6 },
} as const;

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
  const [box, setBox] = useState<{ from: [number, number]; to: [number, number] } | null>(null);

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
  const visibleObjects = useMemo(
    () => (project?.objects ?? []).filter((o) => project && visibleIds(project.objects).has(o.id)),
    [project],
  );
  const pickable = pickableIds(project?.objects ?? NO_OBJECTS);
  const locators = useMemo(() => visibleObjects.filter((o) => kindOf(o).drawn === 'cross'), [visibleObjects]);
  const pickedObjects = useMemo(() => new Set(ui.objects), [ui.objects]);
  const byId = useMemo(() => (project ? objectsAt(project, picture.frame) : new Map<string, never>()), [project, picture.frame]);
  const matrixOf = useMemo(() => worldLookup(byId, 'channels', drivenIn(picture.driven)), [byId, picture]);

  const things = useCallback((): StageThings | null => {
    const canvas = root.current?.querySelector('canvas')?.getBoundingClientRect();
    return view && canvas ? { view, canvas, items, meshes: meshes.current, objects: visibleObjects, pickable, matrixOf } : null;
  }, [view, items, visibleObjects, pickable, matrixOf]);
  /** What is under the pointer. */
  const find = useCallback(
    (e: { clientX: number; clientY: number }, everything: boolean): Thing => {
      const all = things();
      return all ? thingAt(all, e, everything) : {};
    },
    [things],
  );
  const drawn = useCurveDrawing(visibleObjects, matrixOf);

  const choosingItem = ui.choosing ? items.find((i) => i.object === ui.choosing?.object && !i.ghost) : undefined;

  /** While a set is chosen, Shift and a drag take in what lies in a box; with Alt they take it out. */
  const endBox = (e: PointerEvent): boolean => {
    if (!box || !view || !choosingItem) return false;
    setBox(null);
    view.controls.enabled = true;
    const canvas = root.current?.querySelector('canvas')?.getBoundingClientRect();
    const [x, y] = [Math.min(box.from[0], e.clientX), Math.min(box.from[1], e.clientY)];
    const size = new DOMRect(x, y, Math.abs(e.clientX - box.from[0]), Math.abs(e.clientY - box.from[1]));
    if (!canvas || size.width + size.height < 6) return false;
    const inside = new Set(pointsInBox(choosingItem, view, canvas, size));
    const before = chosenSet()?.set.points ?? [];
    writeSet(e.altKey ? before.filter((p) => !inside.has(p)) : [...before, ...inside]);
    return true;
  };

  const onDown = (e: PointerEvent) => {
    press.current = { x: e.clientX, y: e.clientY };
    if (!e.shiftKey || !choosingItem || !view || e.button !== 0) return;
    view.controls.enabled = false;
    setBox({ from: [e.clientX, e.clientY], to: [e.clientX, e.clientY] });
  };

  const onUp = (e: PointerEvent) => {
    const from = press.current;
    press.current = null;
    if (endBox(e)) return;
    if (!from || Math.hypot(e.clientX - from.x, e.clientY - from.y) > 4 || e.button !== 0) return;
    const all = things();
    if (all && drawn.onClick(all, e)) return;
    const found = find(e, true);
    if (found.curve) return void send(objectsPicked([found.curve]));
    if (found.locator)
      return void send(objectsPicked(e.shiftKey ? [...new Set([...ui.objects, found.locator])] : [found.locator]));
    const { item, point } = found;
    if (ui.choosing) {
      if (item && item === choosingItem && point !== undefined) togglePoint(point);
      return;
    }
    if (!item) {
      send(objectsPicked([]));
      return void send(nodesPicked([]));
    }
    // With a table open, a click marks the point in it; else it picks the object.
    if (ui.port && point !== undefined && !e.shiftKey) {
      if (item.ref && ui.port.port === SHOWN_PORT && item.ref.node !== ui.port.node) send(portPicked(item.ref));
      return void send(uiSet({ element: point, tableOn: 'point' }));
    }
    // From the marked point to another one is measured.
    if (e.shiftKey && marked && item === ruled && point !== undefined) return void send(uiSet({ measured: point }));
    if (item.object) send(objectsPicked([item.object]));
    else if (item.ref) send(portPicked(item.ref));
    if (point !== undefined) send(uiSet({ element: point }));
  };

  const onMove = (e: PointerEvent) => {
    if (box) return setBox({ ...box, to: [e.clientX, e.clientY] });
    if (e.buttons !== 0) return hover && setHover(null);
    const found = find(e, false);
    const thin = found.locator ?? found.curve;
    const name = thin ? byId.get(thin)?.name : found.item?.name;
    const at = root.current?.getBoundingClientRect();
    if (!name || !at) return hover && setHover(null);
    setHover({ name, x: e.clientX - at.left, y: e.clientY - at.top });
  };

  const here = useMemo(() => {
    const graph = project && ui.graph !== null ? graphAt(project, ui.graph) : undefined;
    return new Set(graph?.nodes.map((n) => n.id));
  }, [project, ui.graph]);
  const boxOfPicked = useCallback(
    () => boxToFrame({ items, meshes: meshes.current, objects: visibleObjects, matrixOf }, ui.objects, here),
    [items, ui.objects, visibleObjects, matrixOf, here],
  );
  const frame = useCallback(() => {
    if (!view) return;
    view.frame(boxOfPicked());
  }, [view, boxOfPicked]);

  useOpenedGraph(view, (subjects) => {
    if (view && project)
      view.frame(boxToFrame({ items, meshes: meshes.current, objects: visibleObjects, matrixOf }, subjects, here));
  });

  const onKey = (e: KeyboardEvent) => {
    if (drawn.onKey(e)) return;
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const keys: Record<string, () => void> = {
      m: () => send(uiSet({ tool: 'move' })),
      t: () => send(uiSet({ tool: 'turn' })),
      s: () => send(uiSet({ tool: 'size' })),
      v: () => send(uiSet({ tool: 'pivot' })),
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

  const subjects = useSubjects();
  const footer =
    items.find((i) => i.object !== null && ui.objects.includes(i.object) && !i.ghost) ??
    items.find((i) => i.id === PREVIEW_KEY || (i.ref !== null && i.ref.node === ui.port?.node)) ??
    items.find((i) => isMadeIn(i, here)) ??
    items.find((i) => i.object !== null && subjects.includes(i.object) && !i.ghost) ??
    items.find((i) => !i.ghost);
  const ruled = ui.tableOn === 'point' ? markedItem(items, ui.port?.node ?? null, ui.objects) : undefined;
  const marked = useMemo(() => markOn(ruled, ui.element), [ruled, ui.element]);
  const measured = useMemo(() => markOn(ruled, ui.measured), [ruled, ui.measured]);
  const chosenPoints = useStore((s) => {
    const { choosing } = s.ui;
    const object = s.project.project?.objects.find((o) => o.id === choosing?.object);
    return (choosing && setsOf(object).find((x) => x.name === choosing.set)?.points) || NO_POINTS;
  });
  const hand = useStore((s) => {
    const record = selectGraph(s)?.nodes.find((n) => n.id === s.ui.nodes[0]);
    const settings = record && resolveNode(catalogue(), record).definition?.settings;
    return s.ui.nodes.length === 1 && settings?.some((x) => x.type === 'offsets') ? (record?.id ?? null) : null;
  });
  const sharpness = useSharpness(view);
  const gizmo = ui.objects.length === 1 && pickable.has(ui.objects[0]) ? ui.objects[0] : null;
  const trails = useMotionTrails();
  const transforming = useStore((s) => transformPicked(selectGraph(s), s.ui.nodes));
  const menu = useStageMenu(
    root,
    (e) => {
      const found = find(e, true);
      return found.locator ?? found.curve ?? found.item?.object ?? undefined;
    },
    frame,
  );
  return (
    <ContextMenu itemsAt={menu.itemsAt}>
      <section
        ref={root}
        aria-label="Stage"
        data-stage
        onPointerDownCapture={menu.onPointerDownCapture}
        onPointerUpCapture={menu.onPointerUpCapture}
        data-trails={trails.length}
        tabIndex={0}
        onKeyDown={onKey}
        className="relative size-full overflow-hidden outline-none"
        style={{ background: 'linear-gradient(var(--stage-high), var(--stage-low))' }}
      >
        <Canvas
          frameloop="demand"
          dpr={sharpness}
          gl={{ antialias: !navigator.webdriver, alpha: true, preserveDrawingBuffer: false }}
          onCreated={(s) => (s.gl.debug.checkShaderErrors = import.meta.env.DEV)}
          onPointerDown={onDown}
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
              picked={item.object !== null && pickedObjects.has(item.object)}
              register={register}
            />
          ))}
          <Locators objects={locators} matrixOf={matrixOf} picked={pickedObjects} />
          {visibleObjects.map(
            (o) =>
              o.type === 'curve' && (
                <DrawnCurve key={o.id} curve={o.curve} matrix={matrixOf(o.id)} picked={pickedObjects.has(o.id)} />
              ),
          )}
          {picture.lines.map((l) => (
            <Lines key={l.key} data={l.data} {...LINE_LOOKS[l.as]} {...(l.as === 'curve' ? { colour: INK[ui.theme] } : {})} />
          ))}
          {view && drawn.object && (
            <CurveEditor
              view={view}
              object={drawn.object}
              curve={drawn.object.curve}
              matrix={matrixOf(drawn.object.id)}
              pick={drawn.pick}
              surfaceUnder={(at) => {
                const all = things();
                return all ? surfaceUnder(all, at) : undefined;
              }}
            />
          )}
          {marked && !ui.choosing && <Mark at={marked} />}
          {marked && measured && <Measure from={marked} to={measured} />}
          {choosingItem && <ChosenDots item={choosingItem} points={chosenPoints} />}
          {view && gizmo && byId.has(gizmo) && !drawn.drawing && !drawn.taken && <Gizmo view={view} objectId={gizmo} />}
          {view && transforming && <TransformGizmo key={transforming} view={view} node={transforming} />}
          <MotionTrails trails={trails} />
          {view && marked && hand && ui.element !== null && (
            <PointGizmo
              key={`${hand} ${ui.element}`}
              view={view}
              node={hand}
              point={ui.element}
              points={footer?.mesh.topology.pointCount ?? 0}
              at={marked}
            />
          )}
          <DrawnMarker
            request={picture.request}
            frame={picture.frame}
            root={root}
            marked={drawn.taken ?? marked}
            holds={drawn.holds}
            results={items.filter((i) => i.ref !== null).length}
            lines={picture.lines.filter((l) => l.data.length > 0).length}
          />
        </Canvas>
        <StageBar view={view} onFrame={frame} />
        <HandleChip object={gizmo && byId.has(gizmo) ? gizmo : undefined} node={transforming} />
        <Legend items={items} />
        <ChooseBar />
        <CurveBar />
        {box && <BoxOutline box={box} root={root} />}
        {hover && (
          <span
            className="pointer-events-none absolute rounded-sm bg-ink px-2 py-0.5 text-xs text-paper"
            style={{ left: hover.x + 12, top: hover.y + 10 }}
          >
            {hover.name}
          </span>
        )}
        {items.length === 0 && !visibleObjects.some((o) => ['cross', 'curve'].includes(kindOf(o).drawn)) && (
          <p className="pointer-events-none absolute inset-x-8 top-1/2 text-center text-soft">
            Nothing to see yet. Import a mesh, or make one on the bench and preview it.
          </p>
        )}
        {view && ui.objects.length > 0 && (
          <OutOfView view={view} name={nameOfPicked(ui.objects, byId)} boxOf={boxOfPicked} onShow={frame} />
        )}
        {footer && !drawn.object && (
          <StageLine item={footer} items={items} measure={marked && measured && measureWords(marked, measured)} />
        )}
      </section>
    </ContextMenu>
  );
}

/** What is picked, in words. */
const nameOfPicked = (ids: readonly string[], byId: ReadonlyMap<string, ObjectRecord>): string =>
  ids.length === 1 ? (byId.get(ids[0])?.name ?? 'What is picked') : `${ids.length} objects`;

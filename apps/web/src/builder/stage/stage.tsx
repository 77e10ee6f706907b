import { useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { kindOf, resolveNode, setsOf, type ObjectRecord } from '@umberfish/core';
import { selectGraph, selectProject, useSend, useStore } from '../../state/store.ts';
import { uiSet } from '../../state/ui-slice.ts';
import { BoxOutline } from './box-outline.tsx';
import { BRUSH, ChooseBar, ChosenDots } from './choose-points.tsx';
import { CurveBar } from './curve-bar.tsx';
import { CurveEditor } from './curve-editor.tsx';
import { Gizmo } from './gizmo.tsx';
import { HandleChip } from './handle-chip.tsx';
import { MotionTrails, useMotionTrails } from './motion-trails.tsx';
import { TransformGizmo, transformPicked } from './transform-gizmo.tsx';
import { JointBar } from './joint-bar.tsx';
import { Legend } from './legend.tsx';
import { Mark, markedItem, markOn, Measure, measureWords } from './marked-point.tsx';
import { HoverName } from './hover-name.tsx';
import { OutOfView } from './out-of-view.tsx';
import { PaintBar } from '../paint/paint-bar.tsx';
import { usePainting } from '../paint/use-painting.ts';
import { PointGizmo } from './point-gizmo.tsx';
import { DrawnMarker } from './scenery.tsx';
import { StageCanvas } from './stage-canvas.tsx';
import { useFirstView } from './use-first-view.ts';
import { useStagePointer } from './use-stage-pointer.ts';
import { useStanding } from './use-standing.ts';
import { StageBar } from './stage-bar.tsx';
import { StageLine } from './stage-line.tsx';
import { surfaceUnder, thingAt } from './thing-at.ts';
import { useJointDrawing } from './use-joint-drawing.ts';
import { useCurveDrawing } from './use-curve-drawing.ts';
import { useStageMenu } from './use-stage-menu.ts';
import type { View } from './view.ts';
import { ContextMenu } from '../../ui/context-menu.tsx';
import { catalogue } from '../../state/catalogue.ts';

const NO_POINTS: readonly number[] = [];

/** The stage of Build: what graphs make, with everything that can be picked, marked, measured and drawn on it. */
export default function Stage() {
  const project = useStore(selectProject);
  const ui = useStore((s) => s.ui);
  const send = useSend();
  const root = useRef<HTMLDivElement>(null);
  const [view, setView] = useState<View | null>(null);
  const standing = useStanding(root, view);
  const { picture, items, objects, byId, pickable, matrixOf, things, boxOfPicked, frame, spokenOf } = standing;
  const drawn = useCurveDrawing(objects, matrixOf);
  const joints = useJointDrawing(objects, matrixOf);
  const ruled = ui.tableOn === 'point' ? markedItem(items, ui.port?.node ?? null, ui.objects) : undefined;
  const marked = useMemo(() => markOn(ruled, ui.element), [ruled, ui.element]);
  const measured = useMemo(() => markOn(ruled, ui.measured), [ruled, ui.measured]);
  const painting = usePainting(root);
  const { hover, box, brush, on } = useStagePointer(
    root,
    standing,
    (all, e) => joints.onClick(all, e) || drawn.onClick(all, e),
    ruled,
    marked !== null,
    painting,
  );

  const onKey = (e: KeyboardEvent) => {
    if (painting.onKey(e) || joints.onKey(e) || drawn.onKey(e)) return;
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

  useFirstView(view, project, items.length > 0, frame);

  const choosingItem = ui.choosing ? items.find((i) => i.object === ui.choosing?.object && !i.ghost) : undefined;
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
  // While points are chosen, nothing stands in the way of the pointer.
  const gizmo = ui.objects.length === 1 && !ui.choosing && pickable.has(ui.objects[0]) ? ui.objects[0] : null;
  const trails = useMotionTrails();
  const transforming = useStore((s) => (s.ui.painting ? undefined : transformPicked(selectGraph(s), s.ui.nodes)));
  const menu = useStageMenu(
    root,
    (e) => {
      const all = things();
      const found = all ? thingAt(all, e, true) : {};
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
        <StageCanvas standing={standing} view={view} onView={setView} opened={hover?.curve} on={on}>
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
          {view && gizmo && byId.has(gizmo) && !drawn.drawing && !joints.isDrawing && !drawn.taken && (
            <Gizmo view={view} objectId={gizmo} />
          )}
          {view && transforming && <TransformGizmo key={transforming} view={view} node={transforming} />}
          <MotionTrails trails={trails} />
          {view && marked && hand && ui.element !== null && (
            <PointGizmo
              key={`${hand} ${ui.element}`}
              view={view}
              node={hand}
              point={ui.element}
              points={spokenOf?.mesh.topology.pointCount ?? 0}
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
        </StageCanvas>
        <StageBar view={view} onFrame={frame} />
        <HandleChip object={gizmo && byId.has(gizmo) ? gizmo : undefined} node={transforming} />
        <Legend items={items} atTop={painting.isOn} />
        <ChooseBar />
        <CurveBar />
        <JointBar />
        {painting.isOn && <PaintBar items={items} />}
        {box && <BoxOutline box={box} root={root} />}
        {brush && (
          <span
            className="pointer-events-none absolute rounded-full border border-pick"
            style={{ left: brush.x - BRUSH, top: brush.y - BRUSH, width: 2 * BRUSH, height: 2 * BRUSH }}
          />
        )}
        {painting.ring && (
          <span
            data-brush
            className="pointer-events-none absolute rounded-full border-2 border-pick"
            style={{
              left: painting.ring.x - painting.ring.radius,
              top: painting.ring.y - painting.ring.radius,
              width: 2 * painting.ring.radius,
              height: 2 * painting.ring.radius,
            }}
          />
        )}
        {hover && <HoverName {...hover} />}
        {items.length === 0 && !objects.some((o) => ['cross', 'curve', 'joint'].includes(kindOf(o).drawn)) && (
          <p className="pointer-events-none absolute inset-x-8 top-1/2 text-center text-soft">
            Nothing to see yet. Import a mesh, or make one on the bench and preview it.
          </p>
        )}
        {view && ui.objects.length > 0 && (
          <OutOfView view={view} name={nameOfPicked(ui.objects, byId)} boxOf={boxOfPicked} onShow={frame} />
        )}
        {spokenOf && !drawn.object && !painting.isOn && !['chain', 'joint'].includes(byId.get(ui.objects[0])?.type ?? '') && (
          <StageLine item={spokenOf} items={items} measure={marked && measured && measureWords(marked, measured)} />
        )}
      </section>
    </ContextMenu>
  );
}

/** What is picked, in words. */
const nameOfPicked = (ids: readonly string[], byId: ReadonlyMap<string, ObjectRecord>): string =>
  ids.length === 1 ? (byId.get(ids[0])?.name ?? 'What is picked') : `${ids.length} objects`;

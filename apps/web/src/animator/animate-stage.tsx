import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { Vector3 } from 'three';
import { MotionTrails, useMotionTrails } from '../builder/stage/motion-trails.tsx';
import { DrawnMarker } from '../builder/stage/scenery.tsx';
import { FRAME_EVENT } from '../builder/stage/frame-event.ts';
import { Gizmo } from '../builder/stage/gizmo.tsx';
import { HoverName } from '../builder/stage/hover-name.tsx';
import { OutOfView } from '../builder/stage/out-of-view.tsx';
import { StageCanvas } from '../builder/stage/stage-canvas.tsx';
import { thingAt } from '../builder/stage/thing-at.ts';
import { useFirstView } from '../builder/stage/use-first-view.ts';
import { useStanding } from '../builder/stage/use-standing.ts';
import type { View } from '../builder/stage/view.ts';
import { selectProject, store, useSend, useStore } from '../state/store.ts';
import { objectsPicked, uiSet } from '../state/ui-slice.ts';
import { AnimateStageBar } from './animate-stage-bar.tsx';
import { FrameGhosts } from './frame-ghosts.tsx';

/** A pointer that moved less than this has clicked (pixels). */
const STILL = 4;

/** The stage of Animate: what is handed out is picked and dragged, and nothing else. */
export default function AnimateStage() {
  const heldAxes = useStore((s) => s.ui.heldAxes);
  const project = useStore(selectProject);
  const picked = useStore((s) => s.ui.objects);
  const frame = useStore((s) => s.ui.frame);
  const send = useSend();
  const root = useRef<HTMLDivElement>(null);
  const [view, setView] = useState<View | null>(null);
  const [hover, setHover] = useState<{ name: string; x: number; y: number } | null>(null);
  const press = useRef<{ x: number; y: number } | null>(null);
  const standing = useStanding(root, view);
  const { picture, items, byId, pickable, matrixOf, things, boxOfPicked, frame: look } = standing;
  const trails = useMotionTrails();

  const found = (e: PointerEvent): string | undefined => {
    const all = things();
    if (!all) return undefined;
    const { locator, curve, item } = thingAt(all, e, true);
    return locator ?? curve ?? item?.object ?? undefined;
  };
  const onPointerDown = (e: PointerEvent) => void (press.current = { x: e.clientX, y: e.clientY });
  const onPointerUp = (e: PointerEvent) => {
    const from = press.current;
    press.current = null;
    if (!from || e.button !== 0 || Math.hypot(e.clientX - from.x, e.clientY - from.y) > STILL) return;
    const id = found(e);
    const before = store.getState().ui.objects;
    if (id === undefined) return void (e.shiftKey || send(objectsPicked([])));
    if (!e.shiftKey) return void send(objectsPicked([id]));
    send(objectsPicked(before.includes(id) ? before.filter((x) => x !== id) : [...before, id]));
  };
  const onPointerMove = (e: PointerEvent) => {
    const id = e.buttons === 0 ? found(e) : undefined;
    const name = id === undefined ? undefined : byId.get(id)?.name;
    const at = root.current?.getBoundingClientRect();
    setHover(name && at ? { name, x: e.clientX - at.left, y: e.clientY - at.top } : null);
  };

  const onKey = (e: KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const keys: Record<string, () => void> = {
      m: () => send(uiSet({ tool: 'move' })),
      t: () => send(uiSet({ tool: 'turn' })),
      s: () => send(uiSet({ tool: 'size' })),
      escape: () => send(objectsPicked([])),
    };
    const run = keys[e.key.toLowerCase()];
    if (!run) return;
    run();
    e.preventDefault();
  };
  useEffect(() => {
    window.addEventListener(FRAME_EVENT, look);
    return () => window.removeEventListener(FRAME_EVENT, look);
  }, [look]);

  useFirstView(view, project, items.length > 0, look);

  // What was picked on another page may not be handed out.
  useEffect(() => {
    const still = picked.filter((id) => pickable.has(id));
    if (still.length < picked.length) send(objectsPicked(still));
  }, [picked, pickable, send]);

  const held = picked[picked.length - 1] as string | undefined;
  const heldAt = useMemo(() => {
    const m = held !== undefined && byId.has(held) ? matrixOf(held) : undefined;
    return m ? new Vector3(m[12], m[13], m[14]) : null;
  }, [held, byId, matrixOf]);
  return (
    <section
      ref={root}
      aria-label="Stage"
      data-stage
      data-trails={trails.length}
      data-ghosts={picture.ghosts.length}
      tabIndex={0}
      onKeyDown={onKey}
      className="relative size-full overflow-hidden outline-none"
      style={{ background: 'linear-gradient(var(--stage-high), var(--stage-low))' }}
    >
      <StageCanvas
        standing={standing}
        view={view}
        onView={setView}
        on={{ onPointerDown, onPointerUp, onPointerMove, onPointerLeave: () => setHover(null) }}
      >
        {view && held !== undefined && byId.has(held) && pickable.has(held) && <Gizmo view={view} objectId={held} />}
        <MotionTrails trails={trails} />
        <FrameGhosts />
        <DrawnMarker
          request={picture.request}
          frame={picture.frame}
          root={root}
          marked={heldAt}
          holds={NO_HOLDS}
          results={items.filter((i) => i.ref !== null).length}
          lines={0}
        />
      </StageCanvas>
      <AnimateStageBar view={view} onFrame={look} />
      {hover && <HoverName {...hover} />}
      {view && picked.length > 0 && (
        <OutOfView
          view={view}
          name={picked.length === 1 ? (byId.get(picked[0])?.name ?? '') : `${picked.length} controls`}
          boxOf={boxOfPicked}
          onShow={look}
        />
      )}
      <p
        data-stage-line
        className="number pointer-events-none absolute bottom-2 left-2 rounded-sm bg-raised/85 px-1.5 py-0.5 text-[11px] text-ink"
      >
        frame {frame} · {project?.frameRate} fps · {pickedWords(picked.map((id) => byId.get(id)?.name ?? ''))}
        {heldAxes !== null && <span data-held-axes> · {heldAxes}</span>}
      </p>
    </section>
  );
}

const NO_HOLDS: readonly never[] = [];

const pickedWords = (names: readonly string[]): string =>
  names.length === 0 ? 'nothing picked' : names.length === 1 ? names[0] : `${names.length} picked`;

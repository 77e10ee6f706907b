import { ChevronFirst, ChevronLast, ChevronLeft, ChevronRight, Pause, Play, Repeat } from 'lucide-react';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { grouped } from '@umberfish/core';
import { keepable } from '../../engine/engine.ts';
import { engine } from '../../engine/index.ts';
import { selectProject, store, useSend, useStore } from '../../state/store.ts';
import { uiSet } from '../../state/ui-slice.ts';
import { keyBeside, keyFrames } from '../keys/key-frames.ts';
import { stepFor } from '../keys/view.ts';
import { Button } from '../../ui/button.tsx';
import { Menu } from '../../ui/menu.tsx';
import { NumberField } from '../../ui/number-field.tsx';

/** Play, the present frame, and a ruler to scrub on. */
export function TimeStrip() {
  const project = useStore(selectProject);
  const frame = useStore((s) => s.ui.frame);
  const playing = useStore((s) => s.ui.playing);
  const autoKey = useStore((s) => s.ui.autoKey);
  const keys = useStore((s) => s.ui.keys);
  const loop = useStore((s) => s.ui.loop);
  const send = useSend();
  const ruler = useRef<HTMLDivElement>(null);
  const animating = useStore((s) => s.ui.animating);
  const rate = usePlaying(playing);
  if (!project) return null;
  const { first, last } = project.range;
  const span = Math.max(1, last - first);
  const go = (to: number) => send(uiSet({ frame: Math.round(Math.min(last, Math.max(first, to))) }));
  const scrub = (e: PointerEvent) => {
    const box = ruler.current?.getBoundingClientRect();
    if (box) go(first + ((e.clientX - box.left) / box.width) * span);
  };
  const onKey = (e: KeyboardEvent) => {
    const moves: Record<string, number> = {
      ArrowRight: frame + 1,
      ArrowLeft: frame - 1,
      PageDown: frame + 10,
      PageUp: frame - 10,
      Home: first,
      End: last,
    };
    if (!(e.key in moves)) return;
    go(moves[e.key]);
    e.preventDefault();
  };
  return (
    <footer
      aria-label="Time"
      data-time-strip
      className="flex h-11 shrink-0 items-center gap-3 border-t border-line bg-paper px-3"
    >
      <Button
        look="framed"
        onClick={() => send(uiSet({ playing: !playing }))}
        hint="Play or pause (Space)"
        aria-label={playing ? 'Pause' : 'Play'}
        className="w-[76px]"
      >
        {playing ? <Pause size={13} /> : <Play size={13} />} {playing ? 'Pause' : 'Play'}
      </Button>
      <div className="flex items-center">
        {STEPS.map(({ label, hint, Icon, to }) => (
          <Button
            key={label}
            className="!h-6 !px-1"
            hint={hint}
            aria-label={label}
            onClick={() => {
              const next = to(frame);
              if (next !== undefined) go(next);
            }}
          >
            <Icon size={13} />
          </Button>
        ))}
        <Button
          className="!h-6 !px-1"
          hint="Play again from the start"
          aria-label="Loop"
          pressed={loop}
          onClick={() => send(uiSet({ loop: !loop }))}
        >
          <Repeat size={13} />
        </Button>
      </div>
      <div className="flex min-w-28 shrink-0 items-center gap-1.5">
        <div className="flex w-[72px] shrink-0">
          <NumberField
            label="Frame"
            whole
            value={frame}
            range={{ min: first, max: last, hard: true }}
            onChange={(v) => typeof v === 'number' && go(v)}
          />
        </div>
        <span className="number text-xs text-faint">/ {last}</span>
      </div>
      <div
        ref={ruler}
        role="slider"
        tabIndex={0}
        aria-label="Frame ruler"
        aria-valuemin={first}
        aria-valuemax={last}
        aria-valuenow={frame}
        data-ruler
        className="relative mr-3 h-8 min-w-0 flex-1 cursor-ew-resize touch-none"
        onKeyDown={onKey}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          send(uiSet({ playing: false }));
          scrub(e);
        }}
        onPointerMove={(e) => e.buttons === 1 && scrub(e)}
      >
        <Kept first={first} span={span} />
        <Ticks first={first} last={last} />
        <KeyMarks first={first} last={last} />
        <span
          className="pointer-events-none absolute inset-y-0 w-0.5 -translate-x-px bg-umber"
          style={{ left: `${((frame - first) / span) * 100}%` }}
        />
      </div>
      <Button
        className="!h-6 !px-1.5 text-xs"
        pressed={autoKey}
        hint="Auto-key: every channel and number you change gets a key at this frame"
        onClick={() => send(uiSet({ autoKey: !autoKey }))}
        data-auto-key={autoKey}
      >
        <span className={`size-2 rounded-full ${autoKey ? 'bg-rust' : 'border border-line-strong'}`} /> Auto-key
      </Button>
      {!animating && (
        <Button
          className="!h-6 !px-1.5 text-xs"
          pressed={keys !== 'off'}
          hint="Keys as rows or as curves"
          onClick={() => send(uiSet({ keys: keys === 'off' ? 'rows' : 'off' }))}
        >
          Keys
        </Button>
      )}
      <Keep />
      {animating ? (
        <Speed rate={project.frameRate} shown={rate} />
      ) : (
        <Button
          className="number !h-6 !px-1.5 text-xs text-soft"
          hint="Frame rate and range: the settings of the project"
          onClick={() => send(uiSet({ nodes: [], objects: [], section: null }))}
        >
          {project.frameRate} fps
        </Button>
      )}
    </footer>
  );
}

/** Frame by frame, and key by key. */
const STEPS = [
  { label: 'Key before', hint: 'To the key before (H)', Icon: ChevronFirst, to: () => keyBeside(-1) },
  { label: 'Frame before', hint: 'One frame back', Icon: ChevronLeft, to: (f: number) => f - 1 },
  { label: 'Frame after', hint: 'One frame on', Icon: ChevronRight, to: (f: number) => f + 1 },
  { label: 'Key after', hint: 'To the next key (J)', Icon: ChevronLast, to: () => keyBeside(1) },
];

/** Marks which frames are kept: neighbours as one bar. */
function Kept({ first, span }: { first: number; span: number }) {
  const kept = useStore((s) => s.evaluation.kept);
  const bars: { from: number; to: number }[] = [];
  for (const f of kept) {
    const last = bars[bars.length - 1];
    if (last?.to === f - 1) last.to = f;
    else bars.push({ from: f, to: f });
  }
  const at = (frame: number) => `${Math.max(0, Math.min(100, ((frame - first) / span) * 100))}%`;
  return (
    <div data-kept={kept.length} className="pointer-events-none absolute inset-x-0 bottom-1 h-1">
      {bars.map((b) => (
        <span
          key={b.from}
          className="absolute h-1 rounded-full bg-moss"
          style={{ left: at(b.from - 0.5), right: `calc(100% - ${at(b.to + 0.5)})` }}
        />
      ))}
    </div>
  );
}

/** Where what is picked has keys, or where anything has when that has none: the keys one goes to by H and J. */
function KeyMarks({ first, last }: { first: number; last: number }) {
  const project = useStore(selectProject);
  const objects = useStore((s) => s.ui.objects);
  const nodes = useStore((s) => s.ui.nodes);
  const animating = useStore((s) => s.ui.animating);
  const frames = useMemo(
    () => (project ? keyFrames(project, { animating, objects, nodes }) : []),
    [project, animating, objects, nodes],
  );
  const seen = frames.filter((f) => f >= first && f <= last);
  const span = Math.max(1, last - first);
  return (
    <div data-key-marks={seen.length} className="pointer-events-none absolute inset-x-0 bottom-[5px] h-1.5">
      {seen.map((f) => (
        <span
          key={f}
          className="absolute size-1.5 -translate-x-1/2 rotate-45 bg-rust"
          style={{ left: `${((f - first) / span) * 100}%` }}
        />
      ))}
    </div>
  );
}

/** Evaluates the whole range ahead. */
function Keep() {
  const project = useStore(selectProject);
  const kept = useStore((s) => s.evaluation.kept.length);
  const working = useStore((s) => s.evaluation.keeping);
  const { first, last, all } = project ? keepable(project) : { first: 1, last: 0, all: true };
  const count = last - first + 1;
  return (
    <Button
      className="!h-6 !px-1.5 text-xs"
      disabled={working || kept >= count}
      hint={`Evaluate ${all ? 'the whole range' : `the first ${grouped(count)} frames`} now, so that it plays at once. Edits drop only what they change.`}
      onClick={() => void engine.keepRange()}
    >
      {/* As wide whatever it says: the ruler beside it must not move under the pointer. */}
      <span className="w-[66px] text-left">{working ? 'Keeping…' : 'Keep range'}</span>
      <span className="number text-right text-faint" style={{ minWidth: `${String(count).length}ch` }}>
        {kept}
      </span>
    </Button>
  );
}

function Ticks({ first, last }: { first: number; last: number }) {
  const ticks = useMemo(() => {
    const span = Math.max(1, last - first);
    const step = Math.max(1, stepFor(span, 60, 1));
    const out: { at: number; frame: number; long: boolean }[] = [];
    for (let f = Math.ceil(first / step) * step; f <= last; f += step)
      out.push({ at: ((f - first) / span) * 100, frame: f, long: (f / step) % 5 === 0 });
    return out;
  }, [first, last]);
  return (
    <>
      <span className="absolute inset-x-0 bottom-2 h-px bg-line-strong" />
      {ticks.map((t) => (
        <span key={t.frame} className="absolute bottom-2" style={{ left: `${t.at}%` }}>
          <span className={`absolute bottom-0 w-px bg-line-strong ${t.long ? 'h-2.5' : 'h-1.5'}`} />
          {t.long && <span className="number absolute bottom-3 -translate-x-1/2 text-[10px] text-faint">{t.frame}</span>}
        </span>
      ))}
    </>
  );
}

const SPEEDS = [0.25, 0.5, 1, 2] as const;

/** How fast it plays, whether every frame is shown, and how many are while it plays. */
function Speed({ rate, shown }: { rate: number; shown: number | null }) {
  const speed = useStore((s) => s.ui.speed);
  const everyFrame = useStore((s) => s.ui.everyFrame);
  const send = useSend();
  return (
    <>
      <Button
        className="!h-6 !px-1.5 text-xs"
        pressed={everyFrame}
        hint={everyFrame ? 'Shows every frame, however long it takes' : 'Keeps the time; a slow picture skips frames'}
        onClick={() => send(uiSet({ everyFrame: !everyFrame }))}
      >
        Every frame
      </Button>
      <Menu
        align="end"
        trigger={
          <Button className="number !h-6 !px-1.5 text-xs text-soft" aria-label="Speed">
            <span className="w-[86px] text-right" data-rate={shown ?? ''}>
              {shown === null ? `${rate} fps` : `${shown} of ${rate * speed}`}
              {speed !== 1 && shown === null && ` · ${speed}×`} ▾
            </span>
          </Button>
        }
        items={SPEEDS.map((to) => ({
          label: to === 1 ? 'Its own speed' : to < 1 ? `${1 / to === 2 ? 'Half' : 'A quarter of'} the speed` : 'Twice the speed',
          keys: to === speed ? 'now' : undefined,
          onSelect: () => send(uiSet({ speed: to })),
        }))}
      />
    </>
  );
}

/** So often it is told how many frames are shown (ms). */
const TELLS_EVERY = 500;

/**
 * Advances frames by the clock; a slow graph skips frames and keeps the time, or shows every frame and takes its time.
 * @returns frames shown in a second; null while nothing plays
 */
function usePlaying(playing: boolean): number | null {
  const [rate, setRate] = useState<number | null>(null);
  useEffect(() => {
    if (!playing) return setRate(null);
    const { project } = store.getState().project;
    if (!project) return;
    let [startFrame, start, speed] = [store.getState().ui.frame, performance.now(), store.getState().ui.speed];
    let [told, shown] = [start, 0];
    let timer = 0;
    const step = () => {
      timer = requestAnimationFrame(step);
      const { project: open, ui, evaluation } = store.getState();
      const p = open.project;
      if (!p || !ui.playing) return;
      const now = performance.now();
      if (now - told > TELLS_EVERY) {
        setRate(Math.round((shown * 1000) / (now - told)));
        [told, shown] = [now, 0];
      }
      // The next frame is asked for when the last one was shown, so that frames never queue up.
      if (!evaluation.settled) return;
      if (speed !== ui.speed || ui.everyFrame) {
        if (ui.everyFrame && now - start < 1000 / (p.frameRate * ui.speed)) return;
        [startFrame, start, speed] = [ui.frame, ui.everyFrame ? now - 1000 / (p.frameRate * ui.speed) : now, ui.speed];
      }
      const length = p.range.last - p.range.first + 1;
      const passed = Math.floor(((now - start) / 1000) * p.frameRate * speed + 1e-6);
      if (!ui.loop && startFrame + passed >= p.range.last)
        return void store.dispatch(uiSet({ playing: false, frame: p.range.last }));
      const frame = p.range.first + ((((startFrame - p.range.first + passed) % length) + length) % length);
      if (frame === ui.frame) return;
      shown++;
      store.dispatch(uiSet({ frame }));
      if (ui.everyFrame) [startFrame, start] = [frame, now];
    };
    timer = requestAnimationFrame(step);
    return () => cancelAnimationFrame(timer);
  }, [playing]);
  return rate;
}

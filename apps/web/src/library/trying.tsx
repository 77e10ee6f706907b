import { CATALOGUE, catalogueOf, typeOfUse, type Dials, type ModuleFile, type Setting, type Way } from '@umberfish/core';
import { Pause, Play, RotateCcw } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import { Button } from '../ui/button.tsx';
import { Choice } from '../ui/choice.tsx';
import { NumberField } from '../ui/number-field.tsx';
import { Switch } from '../ui/switch.tsx';
import { ExampleScene } from './example-scene.ts';
import { WayRow } from './way-row.tsx';
import { lookAway, PICTURE_FRAME } from './looking.ts';

const LAST_FRAME = 48;

interface TryingProps {
  file: ModuleFile;
  dials: Dials;
}

/** The example of a module on a stage of its own, which follows the dials. */
export function ExampleStage({ file, dials }: TryingProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const scene = useRef<ExampleScene | null>(null);
  const framed = useRef(false);
  const [frame, setFrame] = useState(PICTURE_FRAME);
  const [playing, setPlaying] = useState(false);
  const [seen, setSeen] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  /** What is looked at now, and what is to be looked at afterwards: of many turns of a dial the last. */
  const line = useRef<{ busy: boolean; next: (() => void) | null }>({ busy: false, next: null });

  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    const made = new ExampleScene(element);
    const controls = new OrbitControls(made.camera, element);
    const size = () => {
      made.resize(element.clientWidth, element.clientHeight);
      made.render();
    };
    controls.addEventListener('change', () => made.render());
    const watch = new ResizeObserver(size);
    watch.observe(element);
    size();
    made.onFramed = () => {
      controls.target.copy(made.target);
      controls.update();
    };
    scene.current = made;
    return () => {
      scene.current = null;
      watch.disconnect();
      controls.dispose();
      made.dispose();
    };
  }, []);

  useEffect(() => {
    const state = line.current;
    const look = () => {
      state.busy = true;
      lookAway(file, dials, frame, true)
        .then(
          (found) => {
            const there = scene.current;
            if (!there) return;
            there.show(found);
            if (!framed.current) there.frame();
            framed.current = true;
            there.render();
            setWrong(null);
            setSeen(JSON.stringify({ frame, ...dials }));
          },
          (error: unknown) => setWrong((error as Error).message),
        )
        .finally(() => {
          const { next } = state;
          state.busy = false;
          state.next = null;
          next?.();
        });
    };
    if (state.busy) state.next = look;
    else look();
  }, [file, dials, frame]);

  // The next frame follows when this one was seen, so that none is left out.
  useEffect(() => {
    if (!playing) return;
    const timer = window.setTimeout(() => setFrame((f) => (f >= LAST_FRAME ? 1 : f + 1)), 1000 / 24);
    return () => window.clearTimeout(timer);
  }, [playing, seen]);

  return (
    <figure className="flex flex-col gap-1.5" data-example={wrong === null ? 'seen' : 'wrong'} data-seen={seen ?? ''}>
      <div className="relative h-[232px] overflow-hidden rounded-md border border-line bg-linear-to-b from-[var(--stage-high)] to-[var(--stage-low)]">
        <canvas ref={canvas} className="size-full" aria-label={`The example of ${file.module.name}: drag to turn it`} />
        {wrong !== null && <p className="absolute inset-x-3 bottom-2 rounded bg-raised px-2 py-1 text-xs text-rust">{wrong}</p>}
      </div>
      <figcaption className="flex items-center gap-2 text-xs text-soft">
        <button
          type="button"
          aria-label={playing ? 'Pause' : 'Play'}
          className="rounded p-1 hover:bg-sunk hover:text-ink"
          onClick={() => setPlaying(!playing)}
        >
          {playing ? <Pause size={14} /> : <Play size={14} />}
        </button>
        <input
          type="range"
          aria-label="Frame"
          min={1}
          max={LAST_FRAME}
          value={frame}
          onChange={(e) => setFrame(Number(e.target.value))}
          className="h-3 flex-1 accent-umber"
        />
        <span className="number w-20 text-right">frame {frame}</span>
      </figcaption>
    </figure>
  );
}

interface DialListProps {
  file: ModuleFile;
  ways: readonly Way[];
  dials: Dials;
  onChange(dials: Dials): void;
}

/** What a module takes: every way with what it is for, and a dial where it can be turned here. */
export function DialList({ file, ways, dials, onChange }: DialListProps) {
  const types = catalogueOf(CATALOGUE, { modules: [file.module, ...file.inside] });
  const definition = types.get(typeOfUse(file.module));
  const turn = (way: string, value: Dials[string] | undefined) => {
    const { [way]: _before, ...rest } = dials;
    onChange(value === undefined ? rest : { ...rest, [way]: value });
  };
  return (
    <section aria-label="Dials and ways in">
      <div className="mb-1 flex items-center justify-between">
        <h3 className="font-semibold">Dials and ways in</h3>
        {Object.keys(dials).length > 0 && (
          <Button className="!h-6 !px-1.5 text-xs" onClick={() => onChange({})} hint="All dials to where they were">
            <RotateCcw size={12} className="mr-1" /> As it comes
          </Button>
        )}
      </div>
      <ul className="flex flex-col gap-2">
        {ways.map((way) => (
          <WayRow key={way.id} way={way}>
            <Dial
              way={way}
              setting={definition?.settings.find((s) => s.id === way.id)}
              value={dials[way.id]}
              onChange={(v) => turn(way.id, v)}
            />
          </WayRow>
        ))}
      </ul>
    </section>
  );
}

interface DialProps {
  way: Way;
  setting: Setting | undefined;
  value: Dials[string] | undefined;
  onChange(value: Dials[string]): void;
}

/** A dial of the library: a number, a yes or no, or one of several. */
function Dial({ way, setting, value, onChange }: DialProps) {
  if (setting?.type === 'choice')
    return (
      <Choice label={way.name} value={String(value ?? setting.default)} options={setting.options} onChange={(v) => onChange(v)} />
    );
  if (setting?.type === 'toggle')
    return <Switch label={way.name} checked={Boolean(value ?? setting.default)} onChange={onChange} />;
  const now = value ?? (setting?.type === 'number' ? setting.default : way.default);
  if (typeof now === 'boolean') return <Switch label={way.name} checked={now} onChange={onChange} />;
  const isNumber = typeof now === 'number' || (typeof now === 'object' && now !== null && 'expression' in now);
  if (!isNumber) return <span className="text-xs text-faint">{way.control === 'place' ? 'a locator' : ''}</span>;
  return (
    <NumberField
      label={way.name}
      value={now}
      unit={way.unit}
      range={way.range ?? undefined}
      whole={way.kind === 'integer' || (setting?.type === 'number' && setting.whole === true)}
      expressions={setting === undefined}
      onChange={(v) => onChange(v)}
    />
  );
}

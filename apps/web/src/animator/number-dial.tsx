import type { NumberRange, NumberSource } from '@umberfish/core';
import { gestureEnded } from '../state/project-slice.ts';
import { store } from '../state/store.ts';
import { AnimatedField, sourceWith, useNumberNow } from '../ui/animated-field.tsx';
import { Hint } from '../ui/hint.tsx';

interface Props {
  label: string;
  help: string;
  unit?: string;
  range: NumberRange | undefined;
  whole?: boolean;
  value: NumberSource;
  onChange(value: NumberSource, gesture: string | null): void;
}

const endGesture = () => store.dispatch(gestureEnded());

/** A dial: its name, how far it is turned, its number, and its key. */
export function NumberDial({ label, help, unit, range, whole = false, value, onChange }: Props) {
  const now = useNumberNow(value) ?? 0;
  const slide = (to: number) => {
    const { frame, autoKey } = store.getState().ui;
    onChange(sourceWith(value, to, frame, autoKey), `slide ${label}`);
  };
  const step = range ? (whole ? 1 : (range.max - range.min) / 200) : 1;
  return (
    <div className="grid h-7 grid-cols-[76px_1fr_108px] items-center gap-2" data-dial={label}>
      <Hint text={help || label} side="left">
        <span className="truncate text-soft">{label}</span>
      </Hint>
      {range ? (
        <input
          type="range"
          aria-label={`${label}, slider`}
          min={range.min}
          max={range.max}
          step={step}
          value={Math.min(range.max, Math.max(range.min, now))}
          onChange={(e) => slide(Number(Number(e.target.value).toPrecision(6)))}
          onPointerUp={endGesture}
          onKeyUp={endGesture}
          className="h-3 w-full min-w-0 accent-umber"
        />
      ) : (
        <span />
      )}
      <AnimatedField label={label} unit={unit} range={range} whole={whole} value={value} onChange={onChange} onEnd={endGesture} />
    </div>
  );
}

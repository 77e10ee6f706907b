import { X } from 'lucide-react';
import { useRef, useState, type PointerEvent } from 'react';
import type { Gradient } from '@umberfish/core';
import { ColourField, hexOf } from './colour-field.tsx';
import { NumberField } from './number-field.tsx';

interface Props {
  value: Gradient;
  onChange(value: Gradient, gesture: string | null): void;
  onEnd(): void;
}

/** A gradient as a background, mixed in linear light as the stage mixes it. */
export const cssGradient = (g: Gradient): string =>
  `linear-gradient(in srgb-linear 90deg, ${sorted(g)
    .map((s) => `${hexOf(s.colour)} ${(s.at * 100).toFixed(1)}%`)
    .join(', ')})`;

const sorted = (g: Gradient) => [...g.stops].sort((a, b) => a.at - b.at);

/** Colours along a bar: click to add a stop, drag one along, pick its colour below. */
export function GradientEditor({ value, onChange, onEnd }: Props) {
  const [picked, setPicked] = useState(0);
  const bar = useRef<HTMLDivElement>(null);
  const { stops } = value;
  const stop = stops[Math.min(picked, stops.length - 1)];
  const change = (i: number, part: Partial<typeof stop>, gesture: string | null) =>
    onChange({ stops: stops.map((s, j) => (j === i ? { ...s, ...part } : s)) }, gesture);
  const placeOf = (e: PointerEvent): number => {
    const box = bar.current?.getBoundingClientRect();
    if (!box) return 0;
    return Number(Math.max(0, Math.min(1, (e.clientX - box.left) / box.width)).toFixed(3));
  };
  const add = (e: PointerEvent) => {
    if (stops.length >= 50) return;
    const at = placeOf(e);
    const nearest = [...stops].sort((a, b) => Math.abs(a.at - at) - Math.abs(b.at - at))[0];
    setPicked(stops.length);
    onChange({ stops: [...stops, { at, colour: nearest.colour }] }, null);
  };
  const drag = (i: number) => (e: PointerEvent<HTMLButtonElement>) => {
    if (e.currentTarget.hasPointerCapture(e.pointerId)) change(i, { at: placeOf(e) }, 'gradient');
  };
  return (
    <div className="mt-1" data-gradient>
      <div
        ref={bar}
        onPointerDown={add}
        title="Click to add a colour"
        className="h-6 cursor-copy rounded-sm border border-line-strong"
        style={{ background: cssGradient(value) }}
      />
      <div className="relative mx-px h-4">
        {stops.map((s, i) => (
          <button
            key={i}
            type="button"
            aria-label={`Colour at ${s.at}`}
            aria-pressed={i === picked}
            onPointerDown={(e) => {
              e.stopPropagation();
              setPicked(i);
              e.currentTarget.setPointerCapture(e.pointerId);
            }}
            onPointerMove={drag(i)}
            onPointerUp={onEnd}
            className={`absolute top-0.5 size-3 -translate-x-1/2 cursor-ew-resize rounded-full border-2 ${i === picked ? 'border-pick' : 'border-ink'}`}
            style={{ left: `${s.at * 100}%`, background: hexOf(s.colour) }}
          />
        ))}
      </div>
      <div className="mt-1 flex items-center gap-1.5">
        <ColourField
          label="Colour of the stop"
          value={stop.colour}
          onChange={(colour, gesture) => change(stops.indexOf(stop), { colour }, gesture)}
          onEnd={onEnd}
        />
        <NumberField
          label="Place of the colour"
          prefix="at"
          value={stop.at}
          range={{ min: 0, max: 1, hard: true }}
          onChange={(v, gesture) => typeof v === 'number' && change(stops.indexOf(stop), { at: v }, gesture)}
          onEnd={onEnd}
        />
        <button
          type="button"
          aria-label="Remove the colour"
          disabled={stops.length < 2}
          className="shrink-0 p-1 text-faint hover:text-ink disabled:opacity-40"
          onClick={() => {
            setPicked(0);
            onChange({ stops: stops.filter((s) => s !== stop) }, null);
          }}
        >
          <X size={13} />
        </button>
      </div>
    </div>
  );
}

import { arrivalOf, trackAt, type Key, type TrackRow } from '@umberfish/core';
import { RULER, stepFor, xOf, yOf, type Box, type KeysView } from './view.ts';

/** Inks of the page, so that curves can be told from the paper by day and by night. */
const INKS = ['var(--rust)', 'var(--moss)', 'var(--sea)', 'var(--clay)', 'var(--pick)', 'var(--ink)'];

/** An ink for each row. */
export const inksOf = (rows: readonly TrackRow[]): ReadonlyMap<string, string> =>
  new Map(rows.map((r, i) => [r.key, INKS[i % INKS.length]]));

const MANY = 400;

/** Keys inside the view; of very many, as many as can be told apart. */
export function seenKeys(row: TrackRow, view: KeysView): readonly Key[] {
  const inside = row.track.keys.filter((k) => k.frame >= view.from && k.frame <= view.to);
  if (inside.length <= MANY) return inside;
  const step = Math.ceil(inside.length / MANY);
  return inside.filter((_, i) => i % step === 0);
}

/** A key: a square, told from the others by being filled when it is chosen; with its handles. */
export function KeyMark({
  row,
  k,
  x,
  y,
  on,
  handles,
  view,
  box,
}: {
  row: TrackRow;
  k: Key;
  x: number;
  y: number;
  on: boolean;
  handles: boolean;
  view: KeysView;
  box: Box;
}) {
  const size = k.shape === 'step' ? 7 : 8;
  const common = { 'data-row': row.key, 'data-frame': k.frame };
  const ends = handles && on && k.shape === 'curve' ? (['in', 'out'] as const) : [];
  return (
    <>
      {ends.map((side) => {
        // A key that jumps has a handle at each of its numbers.
        const at = side === 'in' ? arrivalOf(k) : k.value;
        const [hx, hy] = [xOf(view, box, k.frame + k[side][0]), yOf(view, box, at + k[side][1])];
        return (
          <g key={side}>
            <line
              x1={x}
              y1={side === 'in' && k.arrives !== undefined ? yOf(view, box, at) : y}
              x2={hx}
              y2={hy}
              stroke="var(--pick)"
              pointerEvents="none"
            />
            <circle
              cx={hx}
              cy={hy}
              r={4}
              fill="var(--paper-raised)"
              stroke="var(--pick)"
              {...common}
              data-side={side}
              className="cursor-grab"
            />
          </g>
        );
      })}
      <rect
        x={x - size / 2}
        y={y - size / 2}
        width={size}
        height={size}
        rx={k.shape === 'curve' ? 4 : 0.5}
        fill={on ? 'var(--pick)' : 'var(--paper)'}
        stroke={on ? 'var(--pick)' : 'var(--ink)'}
        strokeWidth={1.5}
        className="cursor-pointer"
        data-key
        data-on={on}
        {...common}
      />
    </>
  );
}

export function curveOf(row: TrackRow, view: KeysView, box: Box): string {
  const steps = Math.min(600, Math.ceil(box.width / 2));
  const parts: string[] = [];
  for (let i = 0; i <= steps; i++) {
    const f = view.from + ((view.to - view.from) * i) / steps;
    parts.push(
      `${i === 0 ? 'M' : 'L'}${((box.width * i) / steps).toFixed(1)} ${yOf(view, box, trackAt(row.track, f)).toFixed(1)}`,
    );
  }
  return parts.join('');
}

const frameMarks = (view: KeysView, box: Box): number[] => {
  const step = Math.max(1, stepFor(view.to - view.from, box.width, 46));
  const marks: number[] = [];
  for (let f = Math.ceil(view.from / step) * step; f <= view.to && marks.length < 200; f += step) marks.push(f);
  return marks;
};

/** Lines down from the marks of the ruler. */
export function FrameLines({ view, box }: { view: KeysView; box: Box }) {
  return frameMarks(view, box).map((f) => (
    <line
      key={f}
      x1={xOf(view, box, f)}
      x2={xOf(view, box, f)}
      y1={RULER}
      y2={box.height}
      stroke="var(--line)"
      pointerEvents="none"
    />
  ));
}

/** Frame numbers at the top, over what is scrolled below them. */
export function Ruler({ view, box }: { view: KeysView; box: Box }) {
  return (
    <g className="number" fontSize={10} fill="var(--ink-faint)">
      <rect width={box.width} height={RULER} fill="var(--paper)" />
      <g pointerEvents="none">
        <line x1={0} x2={box.width} y1={RULER} y2={RULER} stroke="var(--line-strong)" />
        {frameMarks(view, box).map((f) => (
          <g key={f}>
            <line x1={xOf(view, box, f)} x2={xOf(view, box, f)} y1={RULER - 4} y2={RULER} stroke="var(--line)" />
            <text x={xOf(view, box, f) + 3} y={RULER - 6}>
              {f}
            </text>
          </g>
        ))}
      </g>
    </g>
  );
}

export function Values({ view, box }: { view: KeysView; box: Box }) {
  const step = stepFor(view.high - view.low, box.height - RULER, 28);
  const marks: number[] = [];
  for (let v = Math.ceil(view.low / step) * step; v <= view.high && marks.length < 60; v += step) marks.push(v);
  return (
    <g className="number" fontSize={10} fill="var(--ink-faint)" pointerEvents="none">
      {marks.map((v) => (
        <g key={v}>
          <line x1={0} x2={box.width} y1={yOf(view, box, v)} y2={yOf(view, box, v)} stroke="var(--line)" />
          <text x={3} y={yOf(view, box, v) - 2}>
            {Number(v.toPrecision(6))}
          </text>
        </g>
      ))}
    </g>
  );
}

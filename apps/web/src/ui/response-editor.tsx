import { useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import {
  clampHandles,
  compileResponse,
  respond,
  RESPONSE_PRESETS,
  type Response,
  type ResponsePoint,
  type ResponseShape,
} from '@umberfish/core';
import { Button } from './button.tsx';
import { Choice } from './choice.tsx';
import { Menu } from './menu.tsx';
import { NumberField } from './number-field.tsx';
import { Switch } from './switch.tsx';

interface Props {
  value: Response;
  onChange(value: Response, gesture: string | null): void;
}

const WIDTH = 232;
const HEIGHT = 132;
const MARGIN = 10;
const LOW = -0.15;
const HIGH = 1.15;

const toX = (at: number) => MARGIN + at * (WIDTH - 2 * MARGIN);
const toY = (value: number) => MARGIN + ((HIGH - value) / (HIGH - LOW)) * (HEIGHT - 2 * MARGIN);
const fromX = (x: number) => (x - MARGIN) / (WIDTH - 2 * MARGIN);
const fromY = (y: number) => HIGH - ((y - MARGIN) / (HEIGHT - 2 * MARGIN)) * (HIGH - LOW);
const clamp = (v: number, low: number, high: number) => Math.min(high, Math.max(low, v));
const round = (v: number) => Number(v.toFixed(4));

/** The curve as an SVG path through many samples, so that what is drawn is what is computed. */
export function responsePath(response: Response, x: (at: number) => number, y: (value: number) => number, samples = 96): string {
  const compiled = compileResponse(response);
  let path = '';
  for (let i = 0; i <= samples; i++) {
    const at = i / samples;
    path += `${i === 0 ? 'M' : 'L'}${x(at).toFixed(1)} ${y(respond(compiled, at)).toFixed(1)}`;
  }
  return path;
}

type Grab = { index: number; part: 'point' | 'in' | 'out'; gesture: string };

/**
 * Edits a response: drag points and handles, double-click to add, Delete to remove, arrow keys to nudge
 * (Shift for larger steps), Tab to the next point.
 */
export function ResponseEditor({ value, onChange }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const grab = useRef<Grab | null>(null);
  const [picked, setPicked] = useState(0);
  const points = useMemo(() => [...value.points].sort((a, b) => a.at - b.at), [value.points]);
  const index = Math.min(picked, points.length - 1);
  const point = points[index] as ResponsePoint | undefined;

  const change = (next: readonly ResponsePoint[], gesture: string | null) => onChange({ ...value, points: next }, gesture);
  const replace = (i: number, p: ResponsePoint, gesture: string | null) =>
    change(
      points.map((q, j) => (j === i ? p : q)),
      gesture,
    );

  const place = (e: { clientX: number; clientY: number }) => {
    const box = svg.current?.getBoundingClientRect() as DOMRect;
    return {
      at: fromX(((e.clientX - box.left) / box.width) * WIDTH),
      value: fromY(((e.clientY - box.top) / box.height) * HEIGHT),
    };
  };

  const movePoint = (i: number, at: number, v: number, gesture: string | null) => {
    const low = i > 0 ? points[i - 1].at : 0;
    const high = i < points.length - 1 ? points[i + 1].at : 1;
    replace(i, { ...points[i], at: round(clamp(at, low, high)), value: round(clamp(v, LOW, HIGH)) }, gesture);
  };

  const onMove = (e: PointerEvent) => {
    const g = grab.current;
    if (!g) return;
    const to = place(e);
    const p = points[g.index];
    if (g.part === 'point') movePoint(g.index, to.at, to.value, g.gesture);
    else {
      const dx = g.part === 'in' ? Math.min(0, to.at - p.at) : Math.max(0, to.at - p.at);
      const handle = [round(dx), round(to.value - p.value)] as const;
      // Both handles turn together, each keeping its length, unless Alt is held.
      const length = Math.hypot(...(g.part === 'in' ? p.out : p.in));
      const own = Math.hypot(...handle);
      const opposite = own > 0 ? ([round((-handle[0] / own) * length), round((-handle[1] / own) * length)] as const) : undefined;
      const other = e.altKey || !opposite ? {} : g.part === 'in' ? { out: opposite } : { in: opposite };
      replace(g.index, { ...p, [g.part]: handle, ...other }, g.gesture);
    }
  };

  const add = (e: { clientX: number; clientY: number }) => {
    const to = place(e);
    const at = round(clamp(to.at, 0, 1));
    const next = [
      ...points,
      {
        at,
        value: round(clamp(to.value, LOW, HIGH)),
        in: [-0.12, 0] as const,
        out: [0.12, 0] as const,
        shape: 'curve' as const,
      },
    ];
    next.sort((a, b) => a.at - b.at);
    change(next, null);
    setPicked(next.findIndex((p) => p.at === at));
  };
  const remove = () => {
    if (points.length <= 1) return;
    change(
      points.filter((_, i) => i !== index),
      null,
    );
    setPicked(Math.max(0, index - 1));
  };

  const onKey = (e: KeyboardEvent) => {
    const size = e.shiftKey ? 0.1 : 0.01;
    const moves: Record<string, [number, number]> = {
      ArrowLeft: [-size, 0],
      ArrowRight: [size, 0],
      ArrowUp: [0, size],
      ArrowDown: [0, -size],
    };
    if (moves[e.key] && point) movePoint(index, point.at + moves[e.key][0], point.value + moves[e.key][1], 'response keys');
    else if (e.key === 'Delete' || e.key === 'Backspace') remove();
    else if (e.key === 'Tab' && !e.shiftKey && index < points.length - 1) setPicked(index + 1);
    else if (e.key === 'Tab' && e.shiftKey && index > 0) setPicked(index - 1);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };

  // What is drawn is upright; inverting turns the result over, so the drawn curve is turned back for editing.
  const upright = { ...value, invert: false };
  return (
    <div className="flex flex-col gap-2">
      <svg
        ref={svg}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        tabIndex={0}
        role="application"
        aria-label="Response curve. Arrow keys move the picked point, Tab picks the next, Delete removes it."
        data-response-editor
        className="w-full touch-none rounded border border-line-strong bg-paper"
        onPointerMove={onMove}
        onPointerUp={() => (grab.current = null)}
        onDoubleClick={add}
        onKeyDown={onKey}
      >
        {[0, 0.25, 0.5, 0.75, 1].map((t) => (
          <g key={t} stroke="var(--line)" strokeWidth={t === 0 || t === 1 ? 1 : 0.5}>
            <line x1={toX(t)} x2={toX(t)} y1={toY(0)} y2={toY(1)} />
            <line x1={toX(0)} x2={toX(1)} y1={toY(t)} y2={toY(t)} />
          </g>
        ))}
        <path d={responsePath(upright, toX, toY)} fill="none" stroke="var(--umber)" strokeWidth={1.75} />
        {value.invert && <path d={responsePath(value, toX, toY)} fill="none" stroke="var(--sea)" strokeDasharray="3 3" />}
        {point && point.shape === 'curve' && index < points.length - 1 && <Handle part="out" />}
        {point && index > 0 && points[index - 1].shape === 'curve' && <Handle part="in" />}
        {points.map((p, i) => (
          <circle
            key={i}
            cx={toX(p.at)}
            cy={toY(p.value)}
            r={5}
            data-response-point={i}
            fill={i === index ? 'var(--pick)' : 'var(--paper-raised)'}
            stroke={i === index ? 'var(--pick)' : 'var(--umber)'}
            strokeWidth={1.5}
            className="cursor-move"
            onPointerDown={(e) => {
              setPicked(i);
              grab.current = { index: i, part: 'point', gesture: `response ${e.timeStamp}` };
              svg.current?.setPointerCapture(e.pointerId);
            }}
          />
        ))}
      </svg>
      {point && (
        <div className="flex gap-1.5">
          <NumberField
            label="Point at"
            prefix="at"
            value={point.at}
            range={{ min: 0, max: 1, hard: true }}
            onChange={(v) => typeof v === 'number' && movePoint(index, v, point.value, null)}
          />
          <NumberField
            label="Point value"
            prefix="is"
            value={point.value}
            range={{ min: LOW, max: HIGH, hard: true }}
            onChange={(v) => typeof v === 'number' && movePoint(index, point.at, v, null)}
          />
        </div>
      )}
      <div className="flex items-center gap-1.5">
        <Choice
          label="To the next point"
          value={point?.shape ?? 'curve'}
          options={[
            { value: 'curve', label: 'Curve' },
            { value: 'straight', label: 'Straight' },
            { value: 'step', label: 'Step' },
          ]}
          onChange={(shape) => point && replace(index, { ...point, shape: shape as ResponseShape }, null)}
        />
        <Button look="framed" onClick={remove} disabled={points.length <= 1} hint="Remove the picked point (Delete)">
          Remove
        </Button>
      </div>
      <div className="flex items-center gap-3">
        <Menu
          trigger={<Button look="framed">Presets</Button>}
          items={Object.entries(RESPONSE_PRESETS).map(([label, preset]) => ({
            label,
            onSelect: () => onChange({ ...preset, invert: value.invert }, null),
          }))}
        />
        <label className="flex items-center gap-2 text-soft">
          <Switch
            checked={value.invert}
            onChange={(invert) => onChange({ ...value, invert }, null)}
            label="Invert the response"
          />{' '}
          Invert
        </label>
      </div>
      <p className="text-xs text-faint">Double-click adds a point. Alt-drag turns one handle alone.</p>
    </div>
  );

  function Handle({ part }: { part: 'in' | 'out' }) {
    if (!point) return null;
    const other = part === 'out' ? points[index + 1] : points[index - 1];
    const [out, into] = part === 'out' ? clampHandles(point, other) : clampHandles(other, point);
    const [dx, dy] = part === 'out' ? out : into;
    const x = toX(point.at + dx);
    const y = toY(point.value + dy);
    return (
      <g>
        <line x1={toX(point.at)} y1={toY(point.value)} x2={x} y2={y} stroke="var(--pick)" />
        <rect
          x={x - 3.5}
          y={y - 3.5}
          width={7}
          height={7}
          fill="var(--paper-raised)"
          stroke="var(--pick)"
          data-response-handle={part}
          className="cursor-move"
          onPointerDown={(e) => {
            grab.current = { index, part, gesture: `response ${e.timeStamp}` };
            svg.current?.setPointerCapture(e.pointerId);
          }}
        />
      </g>
    );
  }
}

import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react';
import { Popover } from 'radix-ui';
import {
  CHANNEL_LIMIT,
  dependsOnTime,
  evaluateTree,
  ExpressionError,
  isChannelNumber,
  parseExpression,
  timeScope,
  type NumberRange,
  type NumberSource,
} from '@umberfish/core';
import { store } from '../state/store.ts';
import { remarked } from '../state/ui-slice.ts';
import { fieldNumber, formatCount, plainNumber } from './format.ts';
import { over } from './over.ts';

/** What is typed: a number, or an expression. */
export type TypedNumber = Exclude<NumberSource, { keys: unknown }>;

export interface NumberFieldProps {
  value: TypedNumber;
  onChange(value: TypedNumber, gesture: string | null): void;
  /** The end of a drag or a row of key presses. */
  onEnd?(): void;
  label: string;
  unit?: string;
  range?: NumberRange;
  /** Expressions may be typed too. */
  expressions?: boolean;
  whole?: boolean;
  /** Shown before the number, e.g. x. */
  prefix?: ReactNode;
  placeholder?: string;
  /** Why it cannot be changed; then it only shows the number. */
  locked?: string;
  /** It has keys, so that what is typed is a key. */
  hasKeys?: boolean;
}

const textOf = (v: TypedNumber) => (typeof v === 'number' ? plainNumber(v) : v.expression);

/** The size of one step: a hundredth of the range, to one digit. */
function stepOf(range: NumberRange | undefined, whole: boolean): number {
  if (whole) return 1;
  const span = range ? range.max - range.min : 10;
  return 10 ** Math.floor(Math.log10(Math.max(span, 1e-6) / 100));
}

/**
 * A number by typing, by dragging sideways over it, or by arrow keys (Shift ×10, Alt ×0.1); or an expression.
 */
export function NumberField({
  value,
  onChange,
  onEnd,
  label,
  unit,
  range,
  expressions = false,
  whole = false,
  prefix,
  placeholder,
  locked,
  hasKeys = false,
}: NumberFieldProps) {
  const [text, setText] = useState(textOf(value));
  const [error, setError] = useState<string | null>(null);
  const [editing, setEditing] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const drag = useRef<{ x: number; from: number; moved: boolean; gesture: string } | null>(null);
  const reverting = useRef(false);
  const step = stepOf(range, whole);

  const present = textOf(value);
  useEffect(() => {
    if (editing) return;
    setText(present);
    setError(null);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what was refused stays until another value comes
  }, [present, label]);

  const limited = (v: number) => {
    const fitting = whole ? Math.round(v) : v;
    return range?.hard ? Math.min(range.max, Math.max(range.min, fitting)) : fitting;
  };
  /** Takes what was typed as it can be; that it is not as it was typed is told. */
  const take = (v: number) => {
    const to = limited(v);
    if (to !== value) onChange(to, null);
    if (to === v) return;
    const why =
      range && v > range.max
        ? `${plainNumber(range.max)} is the most`
        : range && v < range.min
          ? `${plainNumber(range.min)} is the least`
          : 'only whole numbers fit';
    store.dispatch(remarked({ text: `${label}: ${why}, so ${plainNumber(v)} became ${plainNumber(to)}.`, kind: 'wrong' }));
  };
  /** Steps leave no dust of computing behind. */
  const stepped = (v: number) => limited(Number(v.toFixed(6)));

  const refuse = (why: string): false => {
    setError(why);
    return false;
  };

  /** Takes over what was typed. What cannot be read changes nothing: it stays in the field, and is told. */
  const commit = (typed: string): boolean => {
    const trimmed = typed.trim();
    const v = Number(trimmed.replace(',', '.').replace('−', '-'));
    if (trimmed !== '' && Number.isFinite(v) && !isChannelNumber(v))
      return refuse(`${trimmed} is too large; numbers go up to ${formatCount(CHANNEL_LIMIT)}. Esc brings the old one back.`);
    if (trimmed !== '' && Number.isFinite(v)) {
      setError(null);
      take(v);
      return true;
    }
    if (trimmed === '') return refuse(`Type a number${expressions ? ' or an expression' : ''}; Esc brings the old one back.`);
    if (!expressions) return refuse(`"${trimmed}" is not a number. Esc brings the old one back.`);
    try {
      const tree = parseExpression(trimmed);
      const isMoving = dependsOnTime(tree);
      const still = isMoving ? NaN : evaluateTree(tree, timeScope(0, 1, { first: 0, last: 1 }));
      if (!isMoving && !Number.isFinite(still))
        return refuse(`"${trimmed}" is not a finite number. Nothing was changed; Esc brings the old one back.`);
      setError(null);
      // A sum typed over a number that has keys is meant as a number.
      if (hasKeys && !isMoving) {
        take(still);
      } else if (typeof value === 'number' || value.expression !== trimmed) onChange({ expression: trimmed }, null);
      return true;
    } catch (e) {
      if (!(e instanceof ExpressionError)) throw e;
      return refuse(`The expression ${e.message} Nothing was changed; Esc brings the old one back.`);
    }
  };

  const onKey = (e: KeyboardEvent<HTMLInputElement>) => {
    if (e.key === 'Enter') {
      if (!locked) commit(text);
      input.current?.select();
    } else if (e.key === 'Escape') {
      reverting.current = true;
      input.current?.blur();
    } else if (!locked && (e.key === 'ArrowUp' || e.key === 'ArrowDown') && typeof value === 'number') {
      e.preventDefault();
      const factor = e.shiftKey ? 10 : e.altKey ? 0.1 : 1;
      const next = stepped(value + (e.key === 'ArrowUp' ? 1 : -1) * step * (whole ? Math.max(1, factor) : factor));
      setText(plainNumber(next));
      onChange(next, `keys ${label}`);
    }
    e.stopPropagation();
  };

  const onDown = (e: PointerEvent<HTMLDivElement>) => {
    if (locked || e.button !== 0 || typeof value !== 'number' || document.activeElement === input.current) return;
    drag.current = { x: e.clientX, from: value, moved: false, gesture: `drag ${label} ${e.timeStamp}` };
    e.currentTarget.setPointerCapture(e.pointerId);
  };
  const onMove = (e: PointerEvent<HTMLDivElement>) => {
    const d = drag.current;
    if (!d) return;
    const dx = e.clientX - d.x;
    if (!d.moved && Math.abs(dx) < 3) return;
    d.moved = true;
    const factor = e.shiftKey ? 10 : e.altKey ? 0.1 : 1;
    onChange(stepped(d.from + Math.round(dx / (whole ? 6 : 2)) * step * factor), d.gesture);
  };
  const onUp = () => {
    if (drag.current && !drag.current.moved) {
      input.current?.focus();
      input.current?.select();
    } else if (drag.current) onEnd?.();
    drag.current = null;
  };

  const isExpression = typeof value !== 'number';
  return (
    <Popover.Root open={error !== null}>
      <Popover.Anchor
        className={`flex h-7 min-w-0 flex-1 items-center rounded border bg-raised focus-within:border-pick ${error ? 'border-rust' : 'border-line-strong'} ${locked ? 'border-dashed opacity-70' : isExpression || editing ? '' : 'cursor-ew-resize'}`}
        onPointerDown={onDown}
        // A press may become a drag; the field is focused when it did not.
        onMouseDown={(e) => drag.current && e.preventDefault()}
        onPointerMove={onMove}
        onPointerUp={onUp}
      >
        {typeof prefix === 'string' ? <span className="number pl-1.5 text-[11px] text-faint select-none">{prefix}</span> : prefix}
        <input
          ref={input}
          aria-label={label}
          aria-invalid={error !== null}
          value={editing || error !== null ? text : typeof value === 'number' ? fieldNumber(value) : value.expression}
          placeholder={placeholder}
          readOnly={locked !== undefined}
          title={locked ?? (typeof value === 'object' ? value.expression : undefined)}
          spellCheck={false}
          onFocus={() => {
            if (error === null) setText(present);
            setEditing(true);
          }}
          onBlur={() => {
            if (locked || reverting.current || text === present) {
              setText(present);
              setError(null);
            } else commit(text);
            reverting.current = false;
            setEditing(false);
            onEnd?.();
          }}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={onKey}
          className={`number w-full min-w-0 bg-transparent px-1.5 text-xs outline-none ${isExpression ? 'text-left text-umber' : 'cursor-[inherit] text-right'} focus:cursor-text`}
        />
        {unit && <span className="number pr-1.5 text-[11px] text-faint select-none">{unit}</span>}
      </Popover.Anchor>
      <Popover.Portal container={over()}>
        <Popover.Content
          role="alert"
          data-refused={label}
          align="start"
          sideOffset={3}
          // It says something; the hand stays in the field.
          onOpenAutoFocus={(e) => e.preventDefault()}
          onCloseAutoFocus={(e) => e.preventDefault()}
          className="z-50 max-w-64 rounded border border-rust bg-rust-wash px-2 py-1.5 text-xs leading-snug text-rust"
        >
          {error}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

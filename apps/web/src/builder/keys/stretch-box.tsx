import { largest, smallest, type ChosenKeys, type TrackRow } from '@umberfish/core';

/** From the first to the last of the chosen keys, and from the lowest to the highest. */
export interface Bounds {
  readonly first: number;
  readonly last: number;
  readonly low: number;
  readonly high: number;
  /** Places of the rows that they are in. */
  readonly top: number;
  readonly bottom: number;
}

export type Side = 'first' | 'last' | 'low' | 'high';

/** Where the chosen keys are; undefined when they are all at one frame. */
export function boundsOf(rows: readonly TrackRow[], chosen: ChosenKeys): Bounds | undefined {
  const places: number[] = [];
  const keys = rows.flatMap(({ key, track }, i) => {
    const frames = new Set(chosen.get(key));
    if (frames.size > 0) places.push(i);
    return track.keys.filter((k) => frames.has(k.frame));
  });
  const frames = keys.map((k) => k.frame);
  const values = keys.map((k) => k.value);
  const bounds = {
    first: smallest(frames),
    last: largest(frames),
    low: smallest(values),
    high: largest(values),
    top: smallest(places),
    bottom: largest(places),
  };
  return keys.length > 1 && bounds.last > bounds.first ? bounds : undefined;
}

/** How keys are stretched when a side of their box is moved: about the other side, to a length of at least a frame. */
export function stretchTo({ first, last, low, high }: Bounds, side: Side, frames: number, values: number) {
  const length = last - first;
  const outwards = side === 'first' || side === 'low' ? -1 : 1;
  const isTime = side === 'first' || side === 'last';
  return {
    about: { frame: side === 'first' ? last : first, value: side === 'low' ? high : low },
    by: {
      time: isTime ? (Math.round(length + outwards * frames) || 1) / length : 1,
      value: isTime ? 1 : 1 + (outwards * values) / (high - low),
    },
  };
}

interface Props {
  /** Pixels of the box round the keys. */
  left: number;
  right: number;
  top: number;
  bottom: number;
  /** Whether it is also stretched in value. */
  inValue: boolean;
}

/** A box round the chosen keys, with a grip at each side that may be dragged. */
export function StretchBox({ left, right, top, bottom, inValue }: Props) {
  const sides: readonly Side[] = inValue ? ['first', 'last', 'low', 'high'] : ['first', 'last'];
  const [x, y] = [(left + right) / 2, (top + bottom) / 2];
  const grips = { first: [left, y], last: [right, y], high: [x, top], low: [x, bottom] } as const;
  return (
    <>
      <rect
        x={left}
        y={top}
        width={right - left}
        height={Math.max(0, bottom - top)}
        fill="none"
        stroke="var(--pick)"
        strokeDasharray="2 3"
        pointerEvents="none"
        data-stretch-box
      />
      {sides.map((side) => {
        const isTime = side === 'first' || side === 'last';
        const [w, h] = isTime ? [6, 16] : [16, 6];
        return (
          <rect
            key={side}
            x={grips[side][0] - w / 2}
            y={grips[side][1] - h / 2}
            width={w}
            height={h}
            rx={2}
            fill="var(--pick-wash)"
            stroke="var(--pick)"
            className={isTime ? 'cursor-ew-resize' : 'cursor-ns-resize'}
            data-grip={side}
          >
            <title>{isTime ? 'Drag to stretch in time' : 'Drag to stretch in value'}</title>
          </rect>
        );
      })}
    </>
  );
}

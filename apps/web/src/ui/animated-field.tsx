import { KeyRound } from 'lucide-react';
import { animatedAt, keysIn, timeScope, withKey, withoutKeys, type NumberSource } from '@umberfish/core';
import { selectProject, useStore } from '../state/store.ts';
import { Hint } from './hint.tsx';
import { NumberField, type NumberFieldProps } from './number-field.tsx';

/** The number of a source at the frame that is shown; undefined when its expression cannot be worked out. */
export function useNumberNow(value: NumberSource): number | undefined {
  const frame = useStore((s) => s.ui.frame);
  const project = useStore(selectProject);
  if (typeof value === 'number') return value;
  if (!project) return undefined;
  try {
    return animatedAt(value, timeScope(frame, project.frameRate, project.range));
  } catch {
    return undefined;
  }
}

/** A source with another number at a frame: as a key where it has keys, or where keys are set by themselves. */
export function sourceWith(source: NumberSource, to: number, frame: number, autoKey: boolean): NumberSource {
  const track = keysIn(source);
  return track || autoKey ? { keys: withKey(track, frame, to) } : to;
}

/**
 * A number that may have keys: it shows what it is at the frame, and what is typed there becomes a key. The button
 * sets a key at the frame, or takes it away.
 */
export function AnimatedField({
  value,
  onChange,
  keyable = true,
  ...field
}: Omit<NumberFieldProps, 'value' | 'onChange'> & {
  value: NumberSource;
  onChange(value: NumberSource, gesture: string | null): void;
  keyable?: boolean;
}) {
  const frame = useStore((s) => s.ui.frame);
  const autoKey = useStore((s) => s.ui.autoKey);
  const now = useNumberNow(value);
  const track = keysIn(value);
  const here = track?.keys.some((k) => k.frame === frame) ?? false;
  const write = (v: NumberSource, gesture: string | null) => {
    onChange(typeof v === 'number' ? sourceWith(value, v, frame, autoKey && keyable) : v, gesture);
  };
  const toggle = () => {
    if (track && here) {
      const left = withoutKeys(track, [frame]);
      onChange(left ? { keys: left } : (now ?? 0), null);
    } else onChange({ keys: withKey(track, frame, now ?? 0) }, null);
  };
  return (
    <div className="flex min-w-0 flex-1 items-start" data-keys={track ? (here ? 'here' : 'yes') : 'none'}>
      <NumberField
        {...field}
        hasKeys={track !== undefined}
        value={typeof value === 'object' && 'keys' in value ? (now ?? 0) : value}
        onChange={write}
      />
      {keyable && <KeyButton label={field.label} keyed={track !== undefined} here={here} onClick={toggle} />}
    </div>
  );
}

/** Tells whether a number has keys and whether one is at the frame, by its shape as well as by its colour. */
export function KeyButton({ label, keyed, here, onClick }: { label: string; keyed: boolean; here: boolean; onClick(): void }) {
  const says = here ? 'Take the key at this frame away' : keyed ? 'Set a key at this frame' : 'Set the first key, at this frame';
  return (
    <Hint text={says}>
      <button
        type="button"
        aria-label={`Key ${label}`}
        aria-pressed={here}
        onClick={onClick}
        className={`flex h-7 w-4 shrink-0 items-center justify-center ${keyed ? 'text-umber' : 'text-faint/60 hover:text-soft'}`}
      >
        <KeyRound size={11} strokeWidth={here ? 3 : 1.75} fill={here ? 'var(--color-pick)' : 'none'} />
      </button>
    </Hint>
  );
}

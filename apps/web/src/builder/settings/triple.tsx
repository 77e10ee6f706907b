import type { Vec3 } from '@umberfish/core';
import { gestureEnded } from '../../state/project-slice.ts';
import { store } from '../../state/store.ts';
import { Hint } from '../../ui/hint.tsx';
import { NumberField } from '../../ui/number-field.tsx';

interface TripleProps {
  label: string;
  help: string;
  unit: string;
  value: Vec3;
  range: [number, number];
  zero: number;
  onChange(v: Vec3, gesture: string | null): void;
}

/** Three numbers under one label. */
export function Triple({ label, help, unit, value, range, zero, onChange }: TripleProps) {
  const changed = value.some((v) => v !== zero);
  return (
    <div>
      <div className="flex items-baseline justify-between">
        <Hint text={help} side="left">
          <span className="text-soft">{label}</span>
        </Hint>
        <span className="flex items-center gap-1.5 text-xs text-faint">
          {changed && (
            <button type="button" className="hover:text-ink hover:underline" onClick={() => onChange([zero, zero, zero], null)}>
              reset
            </button>
          )}
          <span className="number">{unit}</span>
        </span>
      </div>
      <div className="mt-0.5 flex min-w-0 gap-1">
        {value.map((v, axis) => (
          <NumberField
            key={axis}
            label={`${label} ${'xyz'[axis]}`}
            prefix={'xyz'[axis]}
            value={v}
            range={{ min: range[0], max: range[1] }}
            onChange={(n, gesture) =>
              typeof n === 'number' && onChange(value.map((old, i) => (i === axis ? n : old)) as unknown as Vec3, gesture)
            }
            onEnd={() => store.dispatch(gestureEnded())}
          />
        ))}
      </div>
    </div>
  );
}

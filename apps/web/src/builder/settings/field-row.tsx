import type { ReactNode } from 'react';
import { Crosshair, RotateCcw, SlidersHorizontal } from 'lucide-react';
import { Hint } from '../../ui/hint.tsx';

interface Props {
  label: string;
  help?: string;
  children: ReactNode;
  /** Puts the default back; shown when it would change something. */
  onReset?: () => void;
  /** Lets it follow a new locator. */
  onFollow?: () => void;
  /** Inside of a module: makes it a dial of it. */
  onExpose?: () => void;
}

/** A label and its control. */
export function FieldRow({ label, help, children, onReset, onFollow, onExpose }: Props) {
  return (
    <div className="flex min-h-7 items-start gap-2">
      <Hint text={help} side="left">
        <span className="flex min-h-7 w-[60px] shrink-0 items-center leading-4 text-soft">
          <span className="wrap-anywhere">{label}</span>
        </span>
      </Hint>
      <div className="flex min-w-0 flex-1 items-center">{children}</div>
      {onFollow && (
        <Hint text="Let it follow a new locator">
          <button
            type="button"
            aria-label={`Let ${label} follow a new locator`}
            onClick={onFollow}
            className="flex h-7 shrink-0 items-center text-faint hover:text-ink"
          >
            <Crosshair size={12} />
          </button>
        </Hint>
      )}
      {onExpose && (
        <Hint text="Make it a dial of the module">
          <button
            type="button"
            aria-label={`Make ${label} a dial`}
            onClick={onExpose}
            className="flex h-7 shrink-0 items-center text-faint hover:text-ink"
          >
            <SlidersHorizontal size={12} />
          </button>
        </Hint>
      )}
      <span className="flex h-7 w-3.5 shrink-0 items-center">
        {onReset && (
          <Hint text="Put the default back">
            <button type="button" aria-label={`Reset ${label}`} onClick={onReset} className="text-faint hover:text-ink">
              <RotateCcw size={12} />
            </button>
          </Hint>
        )}
      </span>
    </div>
  );
}

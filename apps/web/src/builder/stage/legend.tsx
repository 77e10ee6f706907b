import { UMBER_GRADIENT } from '@umberfish/core';
import { cssGradient } from '../../ui/gradient-editor.tsx';
import { formatNumber } from '../../ui/format.ts';
import type { DrawnItem } from './drawn-items.ts';

const RGB_WORDS = { stored: 'the stored colour', axes: 'x red, y green, z blue', joints: 'each joint its colour' };

/** What the colours or needles of a preview mean. */
export function Legend({ items, atTop }: { items: readonly DrawnItem[]; atTop: boolean }) {
  const painted = items.find((i) => i.mesh.colours?.label)?.mesh.colours;
  const needles = items.find((i) => i.mesh.needles)?.mesh.needles;
  if (!painted && !needles) return null;
  return (
    <div
      data-legend
      className={`pointer-events-none absolute right-2 ${atTop ? 'top-11' : 'bottom-9'} rounded border border-line bg-raised px-2 py-1.5 text-[11px]`}
    >
      {painted && (
        <>
          <p className="text-soft">{painted.label}</p>
          {painted.rgb ? (
            <p className="my-0.5">{RGB_WORDS[painted.rgb]}</p>
          ) : (
            <div className="my-1 h-2 w-36" style={{ background: cssGradient(UMBER_GRADIENT) }} />
          )}
          {painted.rgb !== 'stored' && painted.rgb !== 'joints' && (
            <p className="number flex justify-between gap-3">
              <span>{formatNumber(painted.from)}</span>
              <span>{formatNumber(painted.to)}</span>
            </p>
          )}
        </>
      )}
      {needles && <p className="text-soft">Needles: {needles.label}</p>}
    </div>
  );
}

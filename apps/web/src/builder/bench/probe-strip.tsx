import { counted } from '@umberfish/core';
import { useStore } from '../../state/store.ts';
import { formatCount, roundNumber } from '../../ui/format.ts';
import { Histogram } from './histogram.tsx';

/** A probe on a card: count, minimum, maximum, mean and a tiny histogram of what leaves a port. */
export function ProbeStrip({ node, port, label }: { node: string; port: string; label: string }) {
  const s = useStore((state) => state.evaluation.statistics.get(`${node}.${port}`));
  return (
    <div data-probe={`${node}.${port}`} className="mx-2 mb-2 bg-sunk px-1.5 pt-1 text-[10.5px]">
      <div className="number flex justify-between text-soft">
        <span>{label}</span>
        {s && <span data-probe-count>{s.kind === 'mesh' ? counted(s.count, 'point') : formatCount(s.count)}</span>}
      </div>
      {!s && <p className="pb-1 text-faint">no value</p>}
      {s && s.kind !== 'matrix' && (
        <>
          {s.minimum.map((low, axis) => (
            <div key={axis} className="number flex justify-between gap-1 whitespace-nowrap">
              <span className="text-faint">{s.minimum.length === 3 ? 'xyz'[axis] : ''}</span>
              <span data-probe-range>
                {roundNumber(low, 2)} … {roundNumber(s.maximum[axis], 2)}
              </span>
              <span className="text-soft" data-probe-mean>
                ⌀ {roundNumber(s.mean[axis], 2)}
              </span>
            </div>
          ))}
          {s.count > 1 && <Histogram statistics={s} />}
          {s.notFinite > 0 && <p className="text-rust">{formatCount(s.notFinite)} not finite</p>}
        </>
      )}
    </div>
  );
}

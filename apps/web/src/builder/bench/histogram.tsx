import type { Statistics } from '@umberfish/core';

/** A tiny histogram for a card. */
export function Histogram({ statistics, height = 26 }: { statistics: Statistics; height?: number }) {
  const { histogram } = statistics;
  const most = Math.max(1, ...histogram);
  const width = 100 / histogram.length;
  return (
    <svg viewBox={`0 0 100 ${height}`} preserveAspectRatio="none" className="block w-full" style={{ height }} aria-hidden>
      {histogram.map((n, i) => {
        const h = n === 0 ? 0 : Math.max(1, (n / most) * height);
        return <rect key={i} x={i * width + 0.3} width={width - 0.6} y={height - h} height={h} fill="var(--clay)" />;
      })}
    </svg>
  );
}

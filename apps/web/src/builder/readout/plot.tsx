import { counted } from '@umberfish/core';
import { BarController, BarElement, CategoryScale, Chart, LinearScale, Tooltip } from 'chart.js';
import { useEffect, useRef, useState } from 'react';
import type { Statistics } from '@umberfish/core';
import { useStore } from '../../state/store.ts';
import { Button } from '../../ui/button.tsx';
import { formatNumber } from '../../ui/format.ts';
import { HistoryPlot } from './history-plot.tsx';

Chart.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip);

/** A histogram of the looked-at output: of its numbers, or of the lengths of its vectors. */
export function Plot() {
  const port = useStore((s) => s.ui.port);
  const statistics = useStore((s) => (port ? s.evaluation.statistics.get(`${port.node}.${port.port}`) : undefined));
  const theme = useStore((s) => s.ui.theme);
  const [over, setOver] = useState(false);
  if (!port) return <p className="p-4 text-soft">Click an output on a card or a wire to see how its values are spread.</p>;
  const which = (
    <div className="flex shrink-0 items-center gap-1 px-2 pt-1">
      <Button className="!h-6 !px-1.5 text-xs" pressed={!over} onClick={() => setOver(false)}>
        Now
      </Button>
      <Button
        className="!h-6 !px-1.5 text-xs"
        pressed={over}
        hint="Minimum, mean and maximum at each frame of the range"
        onClick={() => setOver(true)}
      >
        Over the range
      </Button>
    </div>
  );
  if (over) {
    return (
      <div className="flex h-full flex-col">
        {which}
        <HistoryPlot key={`${theme} ${port.node}.${port.port}`} port={port} />
      </div>
    );
  }
  if (!statistics || statistics.count < 2)
    return (
      <>
        {which}
        <p className="p-4 text-soft">{statistics ? 'One value for all: look at it over the range.' : 'No value arrives here.'}</p>
      </>
    );
  return (
    <div className="flex h-full flex-col">
      {which}
      <div className="min-h-0 flex-1">
        <HistogramChart key={theme} statistics={statistics} />
      </div>
    </div>
  );
}

function HistogramChart({ statistics }: { statistics: Statistics }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart | null>(null);
  const { histogram, histogramFrom: from, histogramTo: to } = statistics;
  const vectors = statistics.minimum.length === 3;

  useEffect(() => {
    if (!canvas.current) return;
    const css = getComputedStyle(document.documentElement);
    const ink = css.getPropertyValue('--ink-soft');
    const font = { family: 'IBM Plex Mono', size: 10 };
    chart.current = new Chart(canvas.current, {
      type: 'bar',
      data: {
        labels: [],
        datasets: [
          {
            data: [],
            backgroundColor: css.getPropertyValue('--clay'),
            categoryPercentage: 1,
            barPercentage: 0.92,
          },
        ],
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        plugins: {
          legend: { display: false },
          tooltip: {
            callbacks: { title: (t) => t[0].label, label: (t) => counted(Number(t.raw), 'value') },
          },
        },
        scales: {
          x: {
            ticks: { color: ink, font, maxRotation: 0, autoSkipPadding: 18 },
            grid: { display: false },
            border: { color: css.getPropertyValue('--line-strong') },
          },
          y: {
            ticks: { color: ink, font, maxTicksLimit: 5 },
            grid: { color: css.getPropertyValue('--line') },
            border: { display: false },
          },
        },
      },
    });
    return () => chart.current?.destroy();
  }, []);

  useEffect(() => {
    const c = chart.current;
    if (!c) return;
    c.data.labels = histogram.map((_, i) => formatNumber(from + ((i + 0.5) / histogram.length) * (to - from), 2));
    c.data.datasets[0].data = [...histogram];
    c.update();
  }, [histogram, from, to]);

  return (
    <div className="flex h-full flex-col p-2" data-plot>
      <p className="number px-1 pb-1 text-[11px] text-soft">
        {counted(statistics.count, vectors ? 'vector' : 'value')}
        {vectors && ', by length'} · {formatNumber(from)} … {formatNumber(to)}
        {!vectors && ` · mean ${formatNumber(statistics.mean[0])}`}
      </p>
      <div className="relative min-h-0 flex-1">
        <canvas ref={canvas} role="img" aria-label="Histogram" />
      </div>
    </div>
  );
}

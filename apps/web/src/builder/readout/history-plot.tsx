import { Chart, Filler, Legend, LineController, LineElement, LinearScale, PointElement, Tooltip } from 'chart.js';
import { useEffect, useRef, useState } from 'react';
import type { PortRef } from '@umberfish/core';
import { engine } from '../../engine/index.ts';
import { historyToCsv, type History } from '../../engine/range.ts';
import { selectProject, useStore } from '../../state/store.ts';
import { download } from '../../storage/files.ts';
import { Button } from '../../ui/button.tsx';

Chart.register(LineController, LineElement, PointElement, LinearScale, Filler, Tooltip, Legend);

/** Minimum, mean and maximum of an output against the frames of the range; made anew when the document changes. */
export function HistoryPlot({ port }: { port: PortRef }) {
  const project = useStore(selectProject);
  const settled = useStore((s) => s.evaluation.settled);
  const playing = useStore((s) => s.ui.playing);
  const [history, setHistory] = useState<History | null>(null);
  const [of, setOf] = useState<unknown>(null);
  const fresh = of === project;

  useEffect(() => {
    if (!project || !settled || playing || fresh) return;
    let gone = false;
    const timer = window.setTimeout(() => {
      void engine.history(port, project.range.first, project.range.last).then((found) => {
        if (gone || !found) return;
        setHistory(found);
        setOf(project);
      });
    }, 250);
    return () => {
      gone = true;
      window.clearTimeout(timer);
    };
  }, [project, settled, playing, fresh, port]);

  if (!history) return <p className="p-4 text-soft">Evaluating the range…</p>;
  if (history.frames.length === 0) return <p className="p-4 text-soft">No numbers arrive here at any frame.</p>;
  return (
    <div data-history={fresh ? history.frames.length : 'stale'} className="flex min-h-0 flex-1 flex-col p-2">
      <p className="flex items-center px-1 text-[11px] text-soft">
        <span className="flex-1">
          Frames {history.frames[0]} to {history.frames[history.frames.length - 1]}
          {history.frames.length > 1 &&
            history.frames[1] - history.frames[0] > 1 &&
            `, every ${history.frames[1] - history.frames[0]} frames`}
          {!fresh && ', before the last edit'}
        </span>
        <Button
          className="!h-6 !px-1.5 text-xs"
          hint="Save the history as CSV"
          onClick={() =>
            void historyToCsv(history).then((text) => download(`${port.node}-${port.port}-history.csv`, text, 'text/csv'))
          }
        >
          CSV
        </Button>
      </p>
      <Lines history={history} />
    </div>
  );
}

function Lines({ history }: { history: History }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (!canvas.current) return;
    const css = getComputedStyle(document.documentElement);
    const ink = css.getPropertyValue('--ink-soft');
    const font = { family: 'IBM Plex Mono', size: 10 };
    const line = (label: string, values: number[], colour: string, dash: number[]) => ({
      label,
      data: values.map((y, i) => ({ x: history.frames[i], y })),
      borderColor: css.getPropertyValue(colour),
      borderDash: dash,
      borderWidth: 1.5,
      pointRadius: 0,
      pointHitRadius: 6,
    });
    const chart = new Chart(canvas.current, {
      type: 'line',
      data: {
        datasets: [
          line('maximum', history.maximum, '--clay', [5, 3]),
          line('mean', history.mean, '--ink', []),
          line('minimum', history.minimum, '--sea', [2, 2]),
        ],
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        interaction: { mode: 'index', intersect: false },
        plugins: { legend: { labels: { color: ink, font, boxWidth: 18, boxHeight: 1 } } },
        scales: {
          x: {
            type: 'linear',
            title: { display: true, text: 'frame', color: ink, font },
            ticks: { color: ink, font },
            grid: { display: false },
          },
          y: {
            ticks: { color: ink, font, maxTicksLimit: 5 },
            grid: { color: css.getPropertyValue('--line') },
            border: { display: false },
          },
        },
      },
    });
    return () => chart.destroy();
  }, [history]);
  return (
    <div className="relative min-h-0 flex-1">
      <canvas ref={canvas} role="img" aria-label="History over the range" />
    </div>
  );
}

import { Chart, Filler, Legend, LineController, LineElement, LinearScale, PointElement, Tooltip } from 'chart.js';
import { useEffect, useRef } from 'react';
import { useSend } from '../../state/store.ts';
import { uiSet } from '../../state/ui-slice.ts';

Chart.register(LineController, LineElement, PointElement, LinearScale, Filler, Tooltip, Legend);

/** One line of a plot over frames; a gap where there is no number. */
export interface RangeLine {
  readonly label: string;
  readonly values: ArrayLike<number>;
  /** The name of a colour of the style sheet. */
  readonly colour: string;
  readonly dash: number[];
}

interface Props {
  label: string;
  frames: readonly number[];
  lines: readonly RangeLine[];
}

/** Numbers against the frames of the range; a click goes to the frame. */
export function RangeLines({ label, frames, lines }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const send = useSend();
  useEffect(() => {
    if (!canvas.current) return;
    const css = getComputedStyle(document.documentElement);
    const ink = css.getPropertyValue('--ink-soft');
    const font = { family: 'IBM Plex Mono', size: 10 };
    const chart = new Chart(canvas.current, {
      type: 'line',
      data: {
        datasets: lines.map((l) => ({
          label: l.label,
          data: frames.map((x, i) => ({ x, y: l.values[i] })),
          borderColor: css.getPropertyValue(l.colour),
          borderDash: l.dash,
          borderWidth: 1.5,
          pointRadius: 0,
          pointHitRadius: 6,
        })),
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        interaction: { mode: 'index', intersect: false },
        onClick: (_, found) => found[0] && send(uiSet({ frame: frames[found[0].index] })),
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
    // eslint-disable-next-line react-hooks/exhaustive-deps -- lines are listed anew at each drawing; their numbers tell whether they changed
  }, [frames, send, ...lines.map((l) => l.values)]);
  return (
    <div className="relative min-h-0 flex-1">
      <canvas ref={canvas} role="img" aria-label={label} />
    </div>
  );
}

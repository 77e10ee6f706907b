import { useEffect, useState } from 'react';
import type { PortRef } from '@umberfish/core';
import { engine } from '../../engine/index.ts';
import { historyToCsv, type History } from '../../engine/range.ts';
import { selectProject, useStore } from '../../state/store.ts';
import { download } from '../../storage/files.ts';
import { Button } from '../../ui/button.tsx';
import { RangeLines } from './range-lines.tsx';

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
      <RangeLines
        label="History over the range"
        frames={history.frames}
        lines={[
          { label: 'maximum', values: history.maximum, colour: '--clay', dash: [5, 3] },
          { label: 'mean', values: history.mean, colour: '--ink', dash: [] },
          { label: 'minimum', values: history.minimum, colour: '--sea', dash: [2, 2] },
        ]}
      />
    </div>
  );
}

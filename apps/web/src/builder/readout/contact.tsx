import { counted, nodeTitle, type AtFrame, type ContactReport, type ResolvedNode } from '@umberfish/core';
import { useEffect, useState } from 'react';
import { engine } from '../../engine/index.ts';
import { selectProject, useSend, useStore } from '../../state/store.ts';
import { uiSet } from '../../state/ui-slice.ts';
import { download } from '../../storage/files.ts';
import { Button } from '../../ui/button.tsx';
import { RangeLines } from './range-lines.tsx';

const HEADS = ['contact', 'deepest before, mm', 'after, mm', 'touches, frames', 'slides, mm', 'most in a frame, mm'];

/** Depths are looked at in millimetres. */
const mm = (metres: number): string => (metres * 1000).toFixed(2).replace('-', '−');

/** What the contacts of a card do over the range: how deep, when they touch, how far they slide; made anew when the document changes. */
export function Contact({ node }: { node: ResolvedNode }) {
  const project = useStore(selectProject);
  const settled = useStore((s) => s.evaluation.settled);
  const playing = useStore((s) => s.ui.playing);
  const [report, setReport] = useState<ContactReport | null>(null);
  const [of, setOf] = useState<unknown>(null);
  const [row, setRow] = useState(0);
  const isFresh = of === project;
  const { id } = node.record;
  useEffect(() => {
    if (!project || !settled || playing || isFresh) return;
    let isGone = false;
    const timer = window.setTimeout(() => {
      void engine.contacts(id, project.range.first, project.range.last).then((found) => {
        if (isGone || !found) return;
        setReport(found);
        setOf(project);
      });
    }, 250);
    return () => {
      isGone = true;
      window.clearTimeout(timer);
    };
  }, [project, settled, playing, isFresh, id]);

  if (!node.wires.has(node.definition?.contacts?.(node.settings).ground ?? ''))
    return <p className="p-4 text-soft">No ground is connected: wire a mesh to "ground".</p>;
  if (!report) return <p className="p-4 text-soft">Evaluating the range…</p>;
  if (report.rows.length === 0)
    return <p className="p-4 text-soft">This card gives no contacts at any frame of the range: see Messages.</p>;
  const chosen = report.rows[Math.min(row, report.rows.length - 1)];
  const save = async (as: 'csv' | 'json') => {
    const { contactsToCsv, contactsToJson } = await import('@umberfish/formats');
    const stem = nodeTitle(node)
      .replaceAll(/[^\w-]+/g, '-')
      .toLowerCase();
    if (as === 'csv') download(`${stem}-contacts.csv`, contactsToCsv(report), 'text/csv');
    else download(`${stem}-contacts.json`, `${JSON.stringify(contactsToJson(report))}\n`, 'application/json');
  };
  return (
    <div data-contacts={isFresh ? report.rows.length : 'stale'} className="flex h-full min-h-0 flex-col">
      <p className="flex shrink-0 items-center gap-1 px-2 pt-1 text-[11px] text-soft">
        <span className="flex-1">
          Frames {report.frames[0]} to {report.frames[report.frames.length - 1]}
          {report.frames[1] - report.frames[0] > 1 && `, every ${report.frames[1] - report.frames[0]} frames`}
          {report.without.length > 0 && `, ${counted(report.without.length, 'frame')} without contacts`}
          {!isFresh && ', before the last edit'}
        </span>
        <Button className="!h-6 !px-1.5 text-xs" hint="Every contact at every frame, metres" onClick={() => void save('csv')}>
          CSV
        </Button>
        <Button
          className="!h-6 !px-1.5 text-xs"
          hint="The same, with what was greatest and when"
          onClick={() => void save('json')}
        >
          JSON
        </Button>
      </p>
      <div className="max-h-[60%] shrink-0 overflow-auto px-2">
        <table className="w-full text-xs">
          <thead className="text-left text-soft">
            <tr>
              {HEADS.map((h, i) => (
                <th key={h} className={`py-1 pl-2 font-normal ${i > 0 ? 'text-right' : ''}`}>
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {report.rows.map((r, i) => (
              <tr
                key={i}
                data-contact={r.name}
                aria-selected={r === chosen}
                className={`h-7 cursor-pointer border-t border-line ${r === chosen ? 'bg-sunk' : ''}`}
                onClick={() => setRow(i)}
              >
                <th scope="row" className="max-w-28 truncate pl-1 text-left font-normal">
                  {r.name}
                </th>
                <Worst at={r.before} />
                <Worst at={r.after} />
                <td className="number pl-2 text-right">{r.touches}</td>
                <td className="number pl-2 text-right">{mm(r.slid)}</td>
                <Worst at={r.slidMost} />
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div className="flex min-h-16 flex-1 flex-col px-2 pb-1">
        <RangeLines
          label={`${chosen.name} over the range`}
          frames={report.frames}
          lines={[
            { label: 'before', values: chosen.depthsBefore, colour: '--clay', dash: [5, 3] },
            { label: 'after, metres deep', values: chosen.depthsAfter, colour: '--ink', dash: [] },
            { label: 'slides', values: chosen.slides, colour: '--sea', dash: [2, 2] },
          ]}
        />
      </div>
    </div>
  );
}

/** A number in millimetres, and the frame it was at: a click goes there. */
function Worst({ at }: { at: AtFrame | null }) {
  const send = useSend();
  if (!at) return <td className="pl-2 text-right text-faint">none</td>;
  return (
    <td className="number pl-2 text-right whitespace-nowrap">
      {mm(at.value)}{' '}
      <button
        type="button"
        aria-label={`Go to frame ${at.frame}`}
        className="rounded px-0.5 text-umber underline decoration-dotted hover:text-ink"
        onClick={(e) => {
          e.stopPropagation();
          send(uiSet({ frame: at.frame }));
        }}
      >
        {at.frame}
      </button>
    </td>
  );
}

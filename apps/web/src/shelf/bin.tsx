import { Trash2 } from 'lucide-react';
import { useEffect, useState } from 'react';
import { counted } from '@umberfish/core';
import { useSend } from '../state/store.ts';
import { remarked } from '../state/ui-slice.ts';
import { bytesIn, daysLeft, DAYS_KEPT, emptyBin, listBin, restoreProject } from '../storage/bin.ts';
import { storageReason, type BinnedProject } from '../storage/database.ts';
import { Button } from '../ui/button.tsx';
import { formatBytes } from '../ui/format.ts';
import { Modal } from '../ui/modal.tsx';

interface Props {
  /** Changes when something was put into the bin. */
  changes: number;
  onChange(): void;
}

/** What was removed: how much there is, and a sheet on which it is put back or goes for good. */
export function Bin({ changes, onChange }: Props) {
  const [binned, setBinned] = useState<readonly BinnedProject[]>([]);
  const [bytes, setBytes] = useState(0);
  const [open, setOpen] = useState(false);
  /** What is about to go for good, when that was asked for. */
  const [going, setGoing] = useState<readonly BinnedProject[] | null>(null);
  const send = useSend();
  useEffect(() => {
    // Where nothing can be stored, the shelf says so.
    void listBin()
      .then(async (all) => {
        setBinned(all);
        setBytes(await bytesIn(all));
      })
      .catch(() => setBinned([]));
  }, [changes]);

  const attempt = (work: Promise<unknown>, done: string, failed: string) =>
    work
      .then(() => send(remarked({ text: done, kind: 'done' })))
      .catch((error: unknown) => send(remarked({ text: `${failed}: ${storageReason(error)}`, kind: 'wrong' })))
      .finally(() => {
        setGoing(null);
        onChange();
      });

  if (binned.length === 0) return null;
  return (
    <footer className="mx-auto flex max-w-5xl items-center gap-3 px-8 pb-16 text-soft" data-bin={binned.length}>
      <Button look="framed" onClick={() => setOpen(true)}>
        <Trash2 size={15} /> Bin
      </Button>
      <span className="text-xs">
        {counted(binned.length, 'project')}, {formatBytes(bytes)}. What is removed can be restored for {DAYS_KEPT} days.
      </span>
      <Modal
        wide
        open={open}
        title="Bin"
        about={`Removed projects, kept whole for ${DAYS_KEPT} days. They take ${formatBytes(bytes)} of this browser's storage.`}
        onClose={() => {
          setOpen(false);
          setGoing(null);
        }}
      >
        <ul className="max-h-80 divide-y divide-line overflow-y-auto border-y border-line" aria-label="Removed projects">
          {binned.map((b) => (
            <li key={b.key} className="flex items-center gap-3 py-2">
              <span className="block h-10 w-16 shrink-0 overflow-hidden rounded-sm bg-gradient-to-b from-[var(--stage-high)] to-[var(--stage-low)]">
                {b.project.thumbnail && <img src={b.project.thumbnail} alt="" className="size-full object-cover" />}
              </span>
              <span className="min-w-0 flex-1">
                <span className="block truncate font-serif text-[15px] font-semibold">{b.project.name}</span>
                <span className="block truncate text-xs text-soft">
                  Removed {new Date(b.removedAt).toLocaleDateString('en-GB')} · {counted(daysLeft(b), 'day')} left
                </span>
              </span>
              <Button onClick={() => setGoing([b])}>Remove for good…</Button>
              <Button
                look="framed"
                onClick={() =>
                  void attempt(
                    restoreProject(b.key),
                    `"${b.project.name}" is back on the shelf.`,
                    `"${b.project.name}" was not restored`,
                  )
                }
              >
                Restore
              </Button>
            </li>
          ))}
        </ul>
        <div className="mt-4 flex min-h-7 items-center justify-end gap-2">
          {going ? (
            <>
              <span className="mr-auto text-rust">
                {going.length === 1 ? `"${going[0].project.name}" goes` : `All ${counted(going.length, 'project')} go`} for good.
              </span>
              <Button onClick={() => setGoing(null)}>Keep {going.length === 1 ? 'it' : 'them'}</Button>
              <Button
                look="strong"
                onClick={() => void attempt(emptyBin(going.map((b) => b.key)), 'Gone for good.', 'The bin is as it was')}
              >
                Remove for good
              </Button>
            </>
          ) : (
            <Button onClick={() => setGoing(binned)}>Empty the bin…</Button>
          )}
        </div>
      </Modal>
    </footer>
  );
}

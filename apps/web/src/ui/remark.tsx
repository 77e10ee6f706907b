import { X } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { useSend, useStore } from '../state/store.ts';
import { remarkCleared } from '../state/ui-slice.ts';

/** An edit so soon after a remark belongs to it (ms). */
const TOGETHER = 800;

/** A passing remark at the foot of the page; what went wrong stays until it is closed, or something is edited. */
export function Remark() {
  const remark = useStore((s) => s.ui.remark);
  const project = useStore((s) => s.project.project);
  const send = useSend();
  const shownAt = useRef(0);
  useEffect(() => {
    shownAt.current = performance.now();
  }, [remark?.id]);
  // What went on since then went well.
  useEffect(() => {
    if (performance.now() - shownAt.current > TOGETHER) send(remarkCleared());
  }, [project, send]);
  useEffect(() => {
    if (remark?.kind !== 'done') return;
    const timer = window.setTimeout(() => send(remarkCleared()), 5000);
    return () => window.clearTimeout(timer);
  }, [remark, send]);
  if (!remark) return null;
  const wrong = remark.kind === 'wrong';
  return (
    <div
      role={wrong ? 'alert' : 'status'}
      data-remark={remark.kind}
      className={`fixed bottom-14 left-1/2 z-50 flex max-w-xl -translate-x-1/2 items-start gap-3 rounded-md border px-4 py-2.5 ${wrong ? 'border-rust bg-rust-wash text-rust' : 'border-line-strong bg-raised'}`}
    >
      <span className="select-text">{remark.text}</span>
      <button type="button" aria-label="Close" onClick={() => send(remarkCleared())} className="rounded p-0.5 hover:bg-sunk">
        <X size={14} />
      </button>
    </div>
  );
}

import { X } from 'lucide-react';
import { nodeTitle, resolveProject } from '@umberfish/core';
import type { TableHeader } from '../../engine/protocol.ts';
import { selectProject, store, useSend, useStore } from '../../state/store.ts';
import { uiSet, type Pin } from '../../state/ui-slice.ts';
import { Button } from '../../ui/button.tsx';
import { formatCount } from '../../ui/format.ts';
import { Menu } from '../../ui/menu.tsx';
import { catalogue } from '../../state/catalogue.ts';

/** Pins the output that is looked at. */
export function pinLooked(side: 'pinA' | 'pinB', extra: Partial<Pin> = {}): void {
  const { port } = store.getState().ui;
  if (port) store.dispatch(uiSet({ [side]: { ...port, frame: null, rest: false, ...extra } }));
}

/** What can be compared with what is looked at. */
export function CompareMenu() {
  const frame = useStore((s) => s.ui.frame);
  const items = [
    { label: 'Pin as A', keys: 'A', onSelect: () => pinLooked('pinA') },
    { label: 'Pin as B', keys: 'B', onSelect: () => pinLooked('pinB') },
    null,
    { label: `Pin as A at frame ${frame}`, onSelect: () => pinLooked('pinA', { frame }) },
    { label: 'Compare with its rest', onSelect: () => pinLooked('pinA', { rest: true }) },
  ];
  return (
    <Menu
      align="end"
      trigger={
        <button type="button" className="h-6 rounded px-1 whitespace-nowrap text-soft hover:bg-sunk hover:text-ink">
          Compare <span className="text-faint">▾</span>
        </button>
      }
      items={items}
    />
  );
}

/** What A and B are, and how their difference is shown. */
export function CompareBar({ table }: { table: TableHeader | null }) {
  const { pinA, pinB, port, onlyChanged, differenceNeedles } = useStore((s) => s.ui);
  const send = useSend();
  if (!pinA) return null;
  return (
    <div
      data-compare
      className="flex shrink-0 flex-wrap items-center gap-x-2 gap-y-0.5 border-b border-line bg-raised px-2 py-0.5 text-xs"
    >
      <Side
        name="A"
        pin={pinA}
        onChange={(pin) => send(uiSet({ pinA: pin, onlyChanged: pin ? onlyChanged : false }))}
        end="Stop comparing"
      />
      <Side
        name="B"
        pin={pinB ?? (port && { ...port, frame: null, rest: false })}
        loose={!pinB}
        onChange={(pin) => send(uiSet({ pinB: pin }))}
        end="Let B be what is looked at"
      />
      <span className="flex-1" />
      <Button
        className="!h-6 !px-1.5 text-xs"
        pressed={onlyChanged}
        hint="Leave out rows in which A and B are the same"
        onClick={() => send(uiSet({ onlyChanged: !onlyChanged }))}
      >
        Only changed
        {table?.changed !== undefined && (
          <span data-changed={table.changed} className="number text-faint">
            {formatCount(table.changed)}
          </span>
        )}
      </Button>
      <Button
        className="!h-6 !px-1.5 text-xs"
        pressed={differenceNeedles}
        hint="Draw a needle from every point of A to that of B"
        onClick={() => send(uiSet({ differenceNeedles: !differenceNeedles }))}
      >
        Needles
      </Button>
      {table?.note && <p className="basis-full pb-0.5 text-rust">{table.note}</p>}
    </div>
  );
}

interface SideProps {
  name: string;
  pin: Pin | null;
  /** B is whatever is looked at. */
  loose?: boolean;
  end: string;
  onChange(pin: Pin | null): void;
}

function Side({ name, pin, loose = false, end, onChange }: SideProps) {
  const project = useStore(selectProject);
  const frame = useStore((s) => s.ui.frame);
  const node = pin && project ? resolveProject(catalogue(), project).get(pin.node) : undefined;
  if (!pin) return <span className="text-faint">{name}: pick an output</span>;
  const when = pin.rest ? 'at rest' : pin.frame === null ? 'now' : `frame ${pin.frame}`;
  return (
    <span className="flex min-w-0 items-center">
      <Menu
        trigger={
          <button
            type="button"
            aria-label={`${name}: what and when`}
            className="flex min-w-0 items-center gap-1 rounded px-1 hover:bg-raised"
          >
            <strong className="font-semibold">{name}</strong>
            <span className="max-w-28 truncate">{node ? nodeTitle(node) : 'gone'}</span>
            <span className={pin.rest || pin.frame !== null ? 'text-pick' : 'text-faint'}>{when}</span>
          </button>
        }
        items={[
          { label: 'Now', onSelect: () => onChange({ ...pin, frame: null, rest: false }) },
          { label: `At frame ${frame}`, onSelect: () => onChange({ ...pin, frame, rest: false }) },
          { label: 'At its rest', onSelect: () => onChange({ ...pin, frame: null, rest: true }) },
        ]}
      />
      {!loose && (
        <button
          type="button"
          aria-label={end}
          title={end}
          className="p-0.5 text-faint hover:text-ink"
          onClick={() => onChange(null)}
        >
          <X size={12} />
        </button>
      )}
    </span>
  );
}

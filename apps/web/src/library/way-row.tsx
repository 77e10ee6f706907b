import { KIND_TAGS, type PortKind, type Way } from '@umberfish/core';
import type { ReactNode } from 'react';

/** A way of a module: its kind, its name, what it is for, and beside the name what turns it. */
export function WayRow({ way, children }: { way: Way; children?: ReactNode }) {
  return (
    <li data-way={way.name} className="grid grid-cols-[34px_1fr] gap-x-2 leading-snug">
      <span className="number pt-0.5 text-[10.5px] text-faint">
        {way.kind in KIND_TAGS ? KIND_TAGS[way.kind as PortKind] : 'set'}
      </span>
      <div className="min-w-0">
        <div className="flex items-center justify-between gap-2">
          <span>{way.name}</span>
          {children && <div className="flex w-36 shrink-0 justify-end">{children}</div>}
        </div>
        <span className="block text-xs text-soft">{way.help}</span>
      </div>
    </li>
  );
}

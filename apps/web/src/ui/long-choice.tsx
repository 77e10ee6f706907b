import { Command } from 'cmdk';
import { ChevronDown } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { grouped } from '@umberfish/core';
import { over } from './over.ts';

/** What a field that chooses one of several takes. */
export interface ChoiceProps {
  value: string;
  options: readonly { value: string; label: string }[];
  onChange(value: string): void;
  label: string;
  /** Shown when the value is none of the options. */
  empty?: string;
}

/** How a field looks that opens a list. */
export const TRIGGER =
  'flex h-7 w-full min-w-0 items-center justify-between gap-1 rounded border border-line-strong bg-raised px-2 text-left hover:bg-sunk';

/** So many options are shown at once; typing narrows them. */
const SHOWN = 80;

/** One of many: found by typing a part of its name. */
export function LongChoice({ value, options, onChange, label, empty }: ChoiceProps) {
  const [open, setOpen] = useState(false);
  const [search, setSearch] = useState('');
  const chosen = options.find((o) => o.value === value);
  const wanted = search.trim().toLowerCase();
  const holding = open ? options.filter((o) => o.label.toLowerCase().includes(wanted)) : [];
  const starts = (o: { label: string }) => o.label.toLowerCase().startsWith(wanted);
  const found = [...holding.filter(starts), ...holding.filter((o) => !starts(o))];
  return (
    <Popover.Root
      open={open}
      onOpenChange={(o) => {
        setOpen(o);
        setSearch('');
      }}
    >
      <Popover.Trigger role="combobox" aria-label={label} className={TRIGGER}>
        <span className="truncate">{chosen?.label ?? empty ?? 'Choose…'}</span>
        <ChevronDown size={14} className="shrink-0 text-faint" />
      </Popover.Trigger>
      <Popover.Portal container={over()}>
        <Popover.Content
          align="start"
          sideOffset={4}
          className="z-50 w-[max(var(--radix-popover-trigger-width),220px)] overflow-hidden rounded-md border border-line-strong bg-raised shadow-[0_2px_6px_rgb(51_36_26/0.12)]"
        >
          <Command label={label} shouldFilter={false}>
            <Command.Input
              autoFocus
              value={search}
              onValueChange={setSearch}
              placeholder="Type a part of the name"
              className="h-8 w-full border-b border-line bg-transparent px-2.5 outline-none"
            />
            <Command.List className="max-h-72 overflow-auto p-1">
              <Command.Empty className="px-2 py-1.5 text-soft">Nothing is called that.</Command.Empty>
              {found.slice(0, SHOWN).map((o) => (
                <Command.Item
                  key={o.value}
                  value={o.value}
                  onSelect={() => {
                    setOpen(false);
                    if (o.value !== value) onChange(o.value);
                  }}
                  className={`flex h-7 cursor-pointer items-center rounded px-2 data-[selected=true]:bg-sunk ${o.value === value ? 'font-semibold' : ''}`}
                >
                  <span className="truncate">{o.label}</span>
                </Command.Item>
              ))}
              {found.length > SHOWN && (
                <p className="px-2 py-1 text-xs text-faint">and {grouped(found.length - SHOWN)} more; type to narrow them</p>
              )}
            </Command.List>
          </Command>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

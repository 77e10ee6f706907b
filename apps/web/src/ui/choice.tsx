import { Select } from 'radix-ui';
import { ChevronDown } from 'lucide-react';
import { LongChoice, TRIGGER, type ChoiceProps } from './long-choice.tsx';
import { over } from './over.ts';

/** From so many options on, one is found by typing. */
const MANY = 40;

/** One of several. */
export function Choice(props: ChoiceProps) {
  return props.options.length < MANY ? <ShortChoice {...props} /> : <LongChoice {...props} />;
}

function ShortChoice({ value, options, onChange, label, empty }: ChoiceProps) {
  return (
    <Select.Root value={value} onValueChange={onChange}>
      <Select.Trigger aria-label={label} className={TRIGGER}>
        <span className="truncate">
          <Select.Value placeholder={empty ?? 'Choose…'} />
        </span>
        <ChevronDown size={14} className="shrink-0 text-faint" />
      </Select.Trigger>
      <Select.Portal container={over()}>
        <Select.Content
          position="popper"
          sideOffset={4}
          className="z-50 max-h-80 min-w-[var(--radix-select-trigger-width)] overflow-hidden rounded-md border border-line-strong bg-raised p-1 shadow-[0_2px_6px_rgb(51_36_26/0.12)]"
        >
          <Select.Viewport>
            {options.map((o) => (
              <Select.Item
                key={o.value}
                value={o.value}
                className="flex h-7 cursor-pointer items-center rounded px-2 outline-none data-highlighted:bg-sunk data-[state=checked]:font-semibold"
              >
                <Select.ItemText>{o.label}</Select.ItemText>
              </Select.Item>
            ))}
          </Select.Viewport>
        </Select.Content>
      </Select.Portal>
    </Select.Root>
  );
}

import { DropdownMenu } from 'radix-ui';
import type { ReactElement, ReactNode } from 'react';

export interface MenuItem {
  label: ReactNode;
  keys?: string;
  onSelect(): void;
  disabled?: boolean;
}

/** How menus look, whatever opens them. */
export const MENU = 'z-50 min-w-52 rounded-md border border-line-strong bg-raised p-1 shadow-[0_2px_6px_rgb(51_36_26/0.12)]';
export const MENU_ITEM =
  'flex h-7 cursor-pointer items-center justify-between gap-6 rounded px-2 outline-none data-disabled:cursor-default data-disabled:opacity-45 data-highlighted:bg-sunk';

export const MenuRow = ({ item }: { item: MenuItem }) => (
  <>
    <span>{item.label}</span>
    {item.keys && <span className="number text-xs text-faint">{item.keys}</span>}
  </>
);

/** A menu that opens from its trigger; `null` draws a line. */
export function Menu({
  trigger,
  items,
  align = 'start',
}: {
  trigger: ReactElement;
  items: readonly (MenuItem | null)[];
  align?: 'start' | 'end';
}) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>{trigger}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align={align} sideOffset={4} className={MENU}>
          {items.map((item, i) =>
            item === null ? (
              <DropdownMenu.Separator key={i} className="my-1 h-px bg-line" />
            ) : (
              <DropdownMenu.Item key={i} disabled={item.disabled} onSelect={item.onSelect} className={MENU_ITEM}>
                <MenuRow item={item} />
              </DropdownMenu.Item>
            ),
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

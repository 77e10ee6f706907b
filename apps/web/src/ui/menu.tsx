import { DropdownMenu, type ContextMenu } from 'radix-ui';
import { useContext, useRef, type ReactElement, type ReactNode } from 'react';
import { OnSheet, over } from './over.ts';

export interface MenuItem {
  label: ReactNode;
  keys?: string;
  onSelect(): void;
  disabled?: boolean;
  /** What it opens takes the focus; else that goes back to what opened the menu. */
  takesFocus?: boolean;
}

/** How menus look, whatever opens them. */
export const MENU = 'z-50 min-w-52 rounded-md border border-line-strong bg-raised p-1 shadow-[0_2px_6px_rgb(51_36_26/0.12)]';

/** The lines of a menu, made of the parts of the primitive that opens it; `null` draws a line. */
export function MenuRows({ items, of: { Item, Separator } }: { items: readonly (MenuItem | null)[]; of: MenuParts }) {
  return items.map((item, i) =>
    item === null ? (
      <Separator key={i} className="my-1 h-px bg-line" />
    ) : (
      <Item
        key={i}
        disabled={item.disabled}
        onSelect={item.onSelect}
        className="flex h-7 cursor-pointer items-center justify-between gap-6 rounded px-2 outline-none data-disabled:cursor-default data-disabled:opacity-45 data-highlighted:bg-sunk"
      >
        <span>{item.label}</span>
        {item.keys && <span className="number text-xs text-faint">{item.keys}</span>}
      </Item>
    ),
  );
}

type MenuParts = Pick<typeof DropdownMenu, 'Item' | 'Separator'> | Pick<typeof ContextMenu, 'Item' | 'Separator'>;

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
  const isOnSheet = useContext(OnSheet);
  const isTaken = useRef(false);
  const told = items.map((item) =>
    item?.takesFocus ? { ...item, onSelect: () => ((isTaken.current = true), item.onSelect()) } : item,
  );
  return (
    <DropdownMenu.Root modal={isOnSheet}>
      <DropdownMenu.Trigger asChild>{trigger}</DropdownMenu.Trigger>
      <DropdownMenu.Portal container={over()}>
        <DropdownMenu.Content
          align={align}
          sideOffset={4}
          className={MENU}
          onCloseAutoFocus={(e) => {
            if (isTaken.current) e.preventDefault();
            isTaken.current = false;
          }}
        >
          <MenuRows items={told} of={DropdownMenu} />
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

import { ContextMenu as Primitive } from 'radix-ui';
import { useState, type MouseEvent, type ReactElement } from 'react';
import { MENU, MenuRows, type MenuItem } from './menu.tsx';
import { over } from './over.ts';

export type MenuItems = readonly (MenuItem | null)[];

/**
 * A menu on a right click, or the menu key, on what is inside; `null` draws a line.
 * @param itemsAt what is offered for what was clicked; nothing opens where that is nothing
 */
export function ContextMenu({
  itemsAt,
  children,
}: {
  itemsAt(target: Element, event: MouseEvent): MenuItems;
  children: ReactElement;
}) {
  const [items, setItems] = useState<MenuItems>([]);
  return (
    <Primitive.Root modal={false}>
      <Primitive.Trigger
        asChild
        onContextMenuCapture={(e) => {
          const found = itemsAt(e.target as Element, e);
          setItems(found);
          if (found.length === 0) e.stopPropagation();
        }}
      >
        {children}
      </Primitive.Trigger>
      <Primitive.Portal container={over()}>
        <Primitive.Content className={MENU} data-context-menu collisionPadding={8}>
          <MenuRows items={items} of={Primitive} />
        </Primitive.Content>
      </Primitive.Portal>
    </Primitive.Root>
  );
}

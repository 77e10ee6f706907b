import { Tooltip } from 'radix-ui';
import type { ReactElement, ReactNode } from 'react';
import { over } from './over.ts';

/** Help on hover and focus. */
export function Hint({
  text,
  children,
  side = 'bottom',
}: {
  text: ReactNode;
  children: ReactElement;
  side?: 'top' | 'bottom' | 'left' | 'right';
}) {
  if (!text) return children;
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Tooltip.Portal container={over()}>
        <Tooltip.Content
          side={side}
          sideOffset={6}
          collisionPadding={8}
          className="z-50 max-w-72 rounded bg-ink px-2.5 py-1.5 text-xs leading-snug text-paper"
        >
          {text}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}

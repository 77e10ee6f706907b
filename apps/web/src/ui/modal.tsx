import { Dialog } from 'radix-ui';
import { X } from 'lucide-react';
import type { ReactNode } from 'react';
import { OnSheet } from './over.ts';

interface Props {
  open: boolean;
  title: string;
  about?: string;
  /** For lists beside what they list. */
  wide?: boolean;
  onClose(): void;
  children: ReactNode;
}

/** A sheet over the page, closed by Escape, the cross or a click beside it. */
export function Modal({ open, title, about, wide = false, onClose, children }: Props) {
  return (
    <Dialog.Root open={open} onOpenChange={(o) => !o && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/25" />
        <Dialog.Content
          className={`fixed top-1/2 left-1/2 z-50 ${wide ? 'w-[680px]' : 'w-[460px]'} max-w-[92vw] -translate-x-1/2 -translate-y-1/2 rounded-md border border-line-strong bg-raised p-5`}
        >
          <Dialog.Title className="font-serif text-lg font-semibold">{title}</Dialog.Title>
          <Dialog.Description className="mt-1 mb-3 text-soft">{about}</Dialog.Description>
          <OnSheet value={true}>{children}</OnSheet>
          <Dialog.Close className="absolute top-4 right-4 rounded p-1 text-soft hover:bg-sunk" aria-label="Close">
            <X size={16} />
          </Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

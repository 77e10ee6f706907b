import type { ReactNode } from 'react';

interface Props {
  label: string;
  disabled?: boolean;
  onClick(): void;
  children: ReactNode;
}

/** A small button that is only a picture, in rows of lists. */
export const IconButton = ({ label, disabled, onClick, children }: Props) => (
  <button
    type="button"
    aria-label={label}
    title={label}
    disabled={disabled}
    className="shrink-0 rounded p-1 text-faint hover:text-ink disabled:opacity-30"
    onClick={onClick}
  >
    {children}
  </button>
);

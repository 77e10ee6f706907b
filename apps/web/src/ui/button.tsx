import type { ButtonHTMLAttributes, ReactNode } from 'react';
import { Hint } from './hint.tsx';

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  /** Said on hover; a button without words needs it. */
  hint?: string;
  look?: 'plain' | 'framed' | 'strong';
  pressed?: boolean;
  children: ReactNode;
}

const LOOKS = {
  plain: 'text-soft hover:bg-sunk hover:text-ink',
  framed: 'border border-line-strong bg-raised text-ink hover:bg-sunk',
  strong: 'bg-ink text-paper hover:bg-umber',
};

/** A button of the drafting table: plain in bars, framed on its own, strong for the one next thing to do. */
export function Button({ hint, look = 'plain', pressed, children, className = '', ...rest }: Props) {
  const state = pressed ? 'bg-sunk text-ink' : LOOKS[look];
  const button = (
    <button
      type="button"
      aria-pressed={pressed}
      className={`inline-flex h-7 items-center justify-center gap-1.5 rounded px-2.5 whitespace-nowrap disabled:opacity-45 ${state} ${className}`}
      {...rest}
    >
      {children}
    </button>
  );
  return hint ? <Hint text={hint}>{button}</Hint> : button;
}

import { useEffect, useId, useState } from 'react';

interface Props {
  value: string;
  onChange(value: string): void;
  label: string;
  placeholder?: string;
  /** Offered while typing: what can be typed, and a word about it. */
  offers?: readonly { value: string; about: string }[];
  className?: string;
}

/** A line of text that is taken over on Enter or when it is left; Escape gives it up. */
export function TextField({ value, onChange, label, placeholder, offers, className = '' }: Props) {
  const list = useId();
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  return (
    <>
      <input
        list={offers ? list : undefined}
        aria-label={label}
        value={text}
        placeholder={placeholder}
        spellCheck={false}
        onChange={(e) => setText(e.target.value)}
        onBlur={() => text !== value && onChange(text)}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Enter') e.currentTarget.blur();
          if (e.key === 'Escape') {
            setText(value);
            window.setTimeout(() => (document.activeElement as HTMLElement | null)?.blur(), 0);
          }
        }}
        className={`h-7 w-full min-w-0 rounded border border-line-strong bg-raised px-2 outline-none focus:border-pick ${className}`}
      />
      {offers && (
        <datalist id={list}>
          {offers.map((o) => (
            <option key={o.value} value={o.value}>
              {o.about}
            </option>
          ))}
        </datalist>
      )}
    </>
  );
}

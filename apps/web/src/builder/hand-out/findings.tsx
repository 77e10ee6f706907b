import type { Finding } from '@umberfish/core';

/** What is wrong with a hand-out, worst first, each with its place. */
export function Findings({ found }: { found: readonly Finding[] | null }) {
  if (!found) return <p className="text-xs text-soft">Trying every dial…</p>;
  const errors = found.filter((f) => f.severity === 'error');
  const all = [...errors, ...found.filter((f) => f.severity !== 'error')];
  if (all.length === 0) return <p className="text-xs text-soft">Nothing is broken, and every dial moves something.</p>;
  return (
    <ul className="max-h-36 divide-y divide-line overflow-y-auto text-xs leading-snug select-text" aria-label="Before it leaves">
      {all.map((f, i) => (
        <li key={i} className={`py-1 ${f.severity === 'error' ? 'text-rust' : ''}`}>
          <span className="font-semibold">{f.where}</span> {f.message}
        </li>
      ))}
    </ul>
  );
}

import type { ModuleFile, ProofResult } from '@umberfish/core';
import { Check, CircleAlert, X } from 'lucide-react';
import type { ReactNode } from 'react';
import { ModulePicture } from './module-picture.tsx';

interface Props {
  results: readonly ProofResult[];
  /** The module they are of, for a picture of where one fails. */
  file: ModuleFile;
  /** What stands beside one, such as a field for why it may fail. */
  beside?(index: number): ReactNode;
}

/** Proofs with what was found, one line each. */
export function ProofList({ results, file, beside }: Props) {
  return (
    <ul
      className="flex flex-col gap-1.5"
      data-proofs={results.length}
      data-failed={results.filter((r) => !r.ok && r.known === '').length}
    >
      {results.map((r, i) => (
        <li key={i} data-proof={r.ok ? 'ok' : r.known !== '' ? 'known' : 'fails'} className="flex gap-2 leading-snug">
          {r.ok ? (
            <Check size={14} className="mt-0.5 shrink-0 text-moss" aria-label="holds" />
          ) : r.known !== '' ? (
            <CircleAlert size={14} className="mt-0.5 shrink-0 text-clay" aria-label="known to fail" />
          ) : (
            <X size={14} className="mt-0.5 shrink-0 text-rust" aria-label="fails" />
          )}
          <span className="min-w-0 flex-1">
            {r.name}
            <span className={`block text-xs ${r.ok ? 'text-soft' : 'text-rust'}`}>
              {r.found}
              {!r.ok && r.frame !== undefined ? `, frame ${r.frame}` : ''}
              {!r.ok && r.element !== undefined ? `, point ${r.element}` : ''}
              {r.known !== '' ? `. Known: ${r.known}` : ''}
            </span>
            {!r.ok && r.element !== undefined && (
              <ModulePicture
                file={file}
                dials={r.dials}
                frame={r.frame ?? 1}
                marked={r.element}
                className="mt-1 h-24 w-full rounded border border-line"
              />
            )}
            {beside?.(i)}
          </span>
        </li>
      ))}
    </ul>
  );
}

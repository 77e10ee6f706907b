import type { ContactReport } from '@umberfish/core';
import { writeCsv } from './csv.ts';

/** A report of contacts as CSV: one contact at one frame a row; metres. Empty where there is no number. */
export function contactsToCsv({ frames, rows }: ContactReport): string {
  const cell = (n: number): number | string => (Number.isFinite(n) ? short(n) : '');
  return writeCsv(
    ['contact', 'frame', 'depth before', 'depth after', 'touching', 'slid'],
    rows.flatMap((r) =>
      frames.map((frame, f) => [
        ...[r.name, frame, cell(r.depthsBefore[f]), cell(r.depthsAfter[f])],
        ...[r.touching[f], cell(r.slides[f])],
      ]),
    ),
  );
}

/** A report of contacts as plain data for JSON: what was greatest and when, and all frames; null where there is no number. */
export function contactsToJson({ frames, rows, without }: ContactReport): Record<string, unknown> {
  const numbers = (data: Readonly<Float32Array>) => Array.from(data, (n) => (Number.isFinite(n) ? short(n) : null));
  return {
    unit: 'm',
    frames,
    without,
    contacts: rows.map((r) => ({
      ...{ name: r.name, deepestBefore: r.before, deepestAfter: r.after },
      ...{ framesTouching: r.touches, slid: short(r.slid), slidMost: r.slidMost },
      depthBefore: numbers(r.depthsBefore),
      depthAfter: numbers(r.depthsAfter),
      touching: Array.from(r.touching, (t) => t === 1),
      slidInFrame: numbers(r.slides),
    })),
  };
}

const short = (n: number): number => Number(n.toPrecision(7));

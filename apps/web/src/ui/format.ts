import { grouped } from '@umberfish/core';

/** A nanometre, a billionth of a degree: less is what rounding leaves. */
const DUST = 1e-9;

/** A number for reading: as many digits as matter, three at least, never an endless tail. */
export function formatNumber(v: number, digits = 3): string {
  if (Number.isNaN(v)) return 'NaN';
  if (!Number.isFinite(v)) return v > 0 ? '∞' : '−∞';
  const size = Math.abs(v);
  // What computing leaves of nothing is nothing to a reader.
  if (size < DUST) return (0).toFixed(digits);
  const isFar = size >= 1e7 || (digits > 0 && size < 1e-5);
  if (isFar) return v.toExponential(2).replaceAll('-', '−');
  const needed = digits === 0 || size >= 0.1 ? 0 : (plainNumber(Number(v.toPrecision(3))).split('.')[1]?.length ?? 0);
  return v.toFixed(size >= 1000 ? Math.min(1, digits) : Math.max(digits, needed)).replace('-', '−');
}

/** A number in a tight place: rounded, so that next to nothing is 0.00. */
export function roundNumber(v: number, digits = 2): string {
  return Math.abs(v) < 1e5
    ? v
        .toFixed(digits)
        .replace(/^-(0\.0*)$/, '$1')
        .replace('-', '−')
    : formatNumber(v, digits);
}

/** A number where it stands in a field: three digits after the point, or three that matter where it is smaller. */
export const fieldNumber = (v: number): string => (Math.abs(v) < DUST ? '0' : withDigits(v, 3));

/** A number as one would type it: no trailing zeros, six digits after the point, or six that matter where it is smaller. */
export const plainNumber = (v: number): string => withDigits(v, 6);

function withDigits(v: number, digits: number): string {
  const size = Math.abs(v);
  const short = Number(size < 0.1 ? v.toPrecision(digits) : v.toFixed(digits));
  // What is written out in full is easier to read than a power of ten, as far as it goes.
  return size < 0.1 && size >= 1e-6 ? short.toFixed(digits + 6).replace(/\.?0+$/, '') : String(short + 0);
}

/** A count with thin spaces between thousands, at which no line breaks. */
export const formatCount = grouped;

/** Milliseconds of a cost. */
export function formatCost(ms: number): string {
  return ms < 0.05
    ? '0.0 ms'
    : ms < 100
      ? `${ms.toFixed(1)} ms`
      : ms < 10_000
        ? `${Math.round(ms)} ms`
        : `${(ms / 1000).toFixed(1)} s`;
}

/** An amount of storage, in steps of a thousand. */
export function formatBytes(bytes: number): string {
  if (bytes < 1e6) return `${formatNumber(Math.ceil(bytes / 1e3), 0)} kB`;
  return bytes < 1e9 ? `${formatNumber(bytes / 1e6, 1)} MB` : `${formatNumber(bytes / 1e9, 2)} GB`;
}

import type { PortSummary, Statistics } from '@umberfish/core';
import { formatCount, roundNumber } from '../../ui/format.ts';

const AXES = ['x', 'y', 'z'];

/** What runs through a wire, in short: how many, and from where to where their numbers go. */
export function wireWords(summary: PortSummary, statistics: Statistics | undefined): string {
  const { form, count, single, words } = summary;
  if (form === 'falloff') return words ?? 'a falloff';
  if (form === 'single') return single && single.length <= 3 ? single.map((v) => roundNumber(v, 3)).join(', ') : 'one value';
  const many = `${formatCount(count)} ${form === 'column' ? 'values' : form === 'copies' ? 'copies' : 'points'}`;
  if (!statistics || statistics.minimum.length === 0) return many;
  const { minimum, maximum, notFinite } = statistics;
  const range = minimum.map((low, i) => {
    const part = minimum.length > 1 ? `${AXES[i] ?? ''} ` : '';
    return `${part}${roundNumber(low)} … ${roundNumber(maximum[i])}`;
  });
  return [many, ...range, ...(notFinite > 0 ? [`${formatCount(notFinite)} not finite`] : [])].join(' · ');
}

import type { Catalogue } from '../graph/node/catalogue.ts';
import { counted } from '../words.ts';
import type { Way } from '../project/fields.ts';
import type { ModuleRecord } from '../project/schema.ts';
import { wallsOf } from './walls.ts';

/** Versions count in steps of this: what breaks uses makes a new thousand, 1.0 is 1000. */
const MAJOR = 1000;

/** A version in words: 2.1. */
export const versionWords = (version: number): string =>
  version === 0 ? 'none' : `${Math.floor(version / MAJOR)}.${version % MAJOR}`;

/** The number that the next version gets: the first is 1.0; what breaks uses goes on to the next whole one. */
export const nextVersion = (version: number, breaks: boolean): number =>
  version === 0 ? MAJOR : breaks || version % MAJOR === MAJOR - 1 ? (Math.floor(version / MAJOR) + 1) * MAJOR : version + 1;

/** What differs between the walls of two versions of a module. */
export interface WayChanges {
  readonly added: readonly Way[];
  readonly gone: readonly Way[];
  readonly renamed: readonly { readonly from: string; readonly to: string }[];
  /** Sentences on what uses lose: ways that are gone, of another kind, of another unit. */
  readonly breaks: readonly string[];
}

/** Compares the walls of a version with those of a later one. */
export function compareWalls(catalogue: Catalogue, before: ModuleRecord, after: ModuleRecord): WayChanges {
  const [a, b] = [wallsOf(catalogue, before.graph), wallsOf(catalogue, after.graph)];
  const added: Way[] = [];
  const gone: Way[] = [];
  const renamed: { from: string; to: string }[] = [];
  const breaks: string[] = [];
  for (const [side, old, now] of [
    ['in', a.ins, b.ins],
    ['out', a.outs, b.outs],
  ] as const) {
    const known = new Map(now.map((w) => [w.id, w]));
    for (const way of old) {
      const next = known.get(way.id);
      if (!next) {
        gone.push(way);
        breaks.push(`The way ${side} "${way.name}" is gone.`);
        continue;
      }
      if (next.name !== way.name) renamed.push({ from: way.name, to: next.name });
      if (next.kind !== way.kind) breaks.push(`"${next.name}" was ${way.kind}, now it is ${next.kind}.`);
      if (next.unit !== way.unit)
        breaks.push(`"${next.name}" was in ${way.unit || 'no unit'}, now in ${next.unit || 'no unit'}.`);
    }
    const before = new Set(old.map((w) => w.id));
    for (const way of now) {
      if (before.has(way.id)) continue;
      added.push(way);
      if (side === 'in' && way.default === null && !way.optional && way.kind !== 'setting')
        breaks.push(`"${way.name}" is new, and needs a wire.`);
    }
  }
  return { added, gone, renamed, breaks };
}

/** What differs, in a sentence or two. */
export function changeWords({ added, gone, renamed, breaks }: WayChanges): string {
  const parts = [
    ...(added.length > 0 ? [`${counted(added.length, 'way')} added: ${added.map((w) => w.name).join(', ')}.`] : []),
    ...(gone.length > 0 ? [`${counted(gone.length, 'way')} gone: ${gone.map((w) => w.name).join(', ')}.`] : []),
    ...renamed.map((r) => `"${r.from}" is called "${r.to}".`),
    ...breaks.filter((b) => !b.endsWith('is gone.')),
  ];
  return parts.length > 0 ? parts.join(' ') : 'Its ways are the same.';
}

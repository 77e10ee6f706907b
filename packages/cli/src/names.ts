import { several, suggest } from '@umberfish/core';
import { CommandError } from './command-error.ts';

/** Most names that are listed. */
const MOST_LISTED = 12;

/** That there is nothing of a name: with the one that was likely meant, or else those there are. */
export function unknownName(what: string, name: string, known: readonly string[], none: string): CommandError {
  const meant = suggest(name, known) ?? known.find((k) => name.length > 2 && k.toLowerCase().includes(name.toLowerCase()));
  if (meant !== undefined) return new CommandError(`There is no ${what} "${name}". Did you mean "${meant}"?`);
  if (known.length === 0) return new CommandError(`There is no ${what} "${name}"; ${none}.`);
  const listed = known.slice(0, MOST_LISTED).map((k) => `"${k}"`);
  const more = known.length - listed.length;
  return new CommandError(
    `There is no ${what} "${name}". There are ${listed.join(', ')}${more > 0 ? `, and ${more} more; "info" lists them` : ''}.`,
  );
}

/**
 * The one of some things that is called by a name or an id: by its id, else by its name as written, else in any case.
 * Undefined where there is none. @throws CommandError with the ids where several are called so
 */
export function oneCalled<T>(
  what: string,
  wanted: string,
  all: readonly T[],
  of: (thing: T) => { readonly id: string; readonly name: string },
): T | undefined {
  const named = all.map((thing) => ({ thing, ...of(thing) }));
  const tests: ((n: { id: string; name: string }) => boolean)[] = [
    (n) => n.id === wanted,
    (n) => n.name.trim() === wanted,
    (n) => n.name.toLowerCase() === wanted.toLowerCase(),
  ];
  for (const test of tests) {
    const found = named.filter(test);
    if (found.length === 1) return found[0].thing;
    if (found.length > 1) {
      const ids = found.slice(0, MOST_LISTED).map((f) => `"${f.id}"`);
      const more = found.length > MOST_LISTED ? `, and ${found.length - MOST_LISTED} more` : '';
      throw new CommandError(
        `${found.length} ${several(what)} are called "${wanted}". Say which by its id: ${ids.join(', ')}${more}.`,
      );
    }
  }
  return undefined;
}

import { suggest } from '@umberfish/core';
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

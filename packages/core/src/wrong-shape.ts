import type { z } from 'zod';

/** What is first wrong with data that do not fit their schema: the path, and what was expected there. */
export function wrongShape(error: z.ZodError, root = ''): string {
  const [issue] = error.issues;
  const path = issue.path.map((p) => (typeof p === 'number' ? `[${p}]` : `.${String(p)}`)).join('');
  const place = `${root}${path}`.replace(/^\./, '') || 'the whole';
  const words = issue.message.replace(/^Invalid input: /, '').replace(/received undefined$/, 'received nothing');
  return `${place}: ${words === 'Invalid input' ? 'it is not of a kind that is known here' : words}.`;
}

import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { nodeReference } from './node-reference.ts';

test('the node reference is the one the definitions make (npm run docs)', () => {
  expect(readFileSync(new URL('../docs/nodes.md', import.meta.url), 'utf8')).toBe(nodeReference());
});

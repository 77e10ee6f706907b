import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { makeLanternQuay } from './project.ts';
import { recordResults, type Recording } from './recording.ts';

test('every result of the demo is, to the bit, the one that was recorded', () => {
  const kept = JSON.parse(readFileSync(new URL('../recorded.json', import.meta.url), 'utf8')) as Recording;
  const { project, assets } = makeLanternQuay();
  const now = recordResults(project, assets);
  expect(Object.keys(now)).toEqual(Object.keys(kept));
  expect(Object.keys(now).filter((name) => now[name] !== kept[name])).toEqual([]);
});

import { test } from '@playwright/test';
import type { Setting } from '@umberfish/core';
import { App } from './app.ts';
import { addEach, OFFERED, WAYS } from './every-node.ts';

/** Settings that every node may have; the others have fields of their own. */
const PLAIN: readonly Setting['type'][] = ['choice', 'toggle', 'number', 'text', 'object', 'response'];
const special = OFFERED.filter((n) => n.settings.some((s) => !PLAIN.includes(s.type)));

// What it guards against: a node whose card, settings or place in the flow throws when it is added. Here the ways take turns,
// for nodes with fields of their own; `npm run soak` adds every node in every way.
test('nodes with settings of a kind of their own are added, the ways in turns, without an error', async ({ page }) => {
  const ways = Object.keys(WAYS);
  await addEach(
    new App(page),
    special.flatMap((node, i) => [0, 1].map((k) => [node, ways[(i * 2 + k) % ways.length]] as const)),
  );
});

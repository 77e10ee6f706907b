import { expect, test } from '@playwright/test';
import { NODES, type Setting } from '@umberfish/core';
import { App } from './app.ts';

/** Settings that every node may have; the others have fields of their own. */
const PLAIN: readonly Setting['type'][] = ['choice', 'toggle', 'number', 'text', 'object', 'response'];
const special = NODES.filter((n) => !n.way && n.settings.some((s) => !PLAIN.includes(s.type)));

// What it guards against: a node whose card, settings or place in the flow throws when it is added.
test('nodes with settings of a kind of their own are added on nothing and after a picked card, without an error', async ({
  page,
}) => {
  const app = new App(page);
  await app.newProject();
  for (const { title } of special)
    for (const where of ['on nothing', 'after a card']) {
      await page.keyboard.press('Control+k');
      await page.locator('[data-palette] input').fill(title);
      await page
        .getByRole('option', { name: new RegExp(`^${title}\\b`) })
        .first()
        .click();
      await expect(page.locator('[data-settings-of]').getByLabel('Title', { exact: true }), where).toHaveValue(title);
      expect(app.errors, `${title} ${where}`).toEqual([]);
    }
});

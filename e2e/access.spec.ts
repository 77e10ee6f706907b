import { AxeBuilder } from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { App } from './app.ts';

/** Whatever axe knows of is looked for, at every level; what it finds is told by rule and place. */
async function violations(page: Page, within?: string): Promise<string[]> {
  const axe = new AxeBuilder({ page });
  const { violations: found } = await (within === undefined ? axe : axe.include(within)).analyze();
  return found.flatMap((v) =>
    v.nodes.map((n) => `${v.id}: ${n.target.join(' ')} — ${n.failureSummary?.split('\n')[1]?.trim() ?? ''}`),
  );
}

const clean = async (page: Page, where: string) => expect(await violations(page), where).toEqual([]);

test('by day and night, no page has anything that axe knows to be wrong', async ({ page }) => {
  const app = new App(page);
  await app.openShelf();
  await clean(page, 'shelf');
  await app.openPart('swell', 'crane-aims');
  await app.card('values').locator('header').click();
  await app.settled();
  await clean(page, 'build, a node picked');
  await app.command('day or night');
  await app.pick('Crane arm');
  await page.getByRole('button', { name: 'Keys', exact: true }).click();
  await app.settled();
  await clean(page, 'an object picked, and keys');
  await page.getByRole('tab', { name: 'Plot' }).click();
  await clean(page, 'plot');
  await page.getByRole('link', { name: 'Animate', exact: true }).click();
  await page.waitForSelector('[data-animate][data-settled="true"]');
  for (const tab of ['Fish', 'Crane', 'Picked']) {
    await page.getByRole('tab', { name: tab, exact: true }).click();
    await clean(page, `animate by night, ${tab}`);
  }
  await page.goto('/modules');
  await page.waitForSelector('[data-library]:not([data-library="loading"])');
  await page.locator('[data-module-card="Swell"]').click();
  await clean(page, 'library by night');
  await page.goto('/');
  await page.waitForSelector('[data-shelf=ready]');
  await clean(page, 'shelf by night');
});

test('no dialog, menu or list has anything that axe knows to be wrong', async ({ page }) => {
  const app = new App(page);
  await app.openPart('swell', 'tears');
  const clean = async (where: string) => expect(await violations(page, `:is(#over, [role="dialog"])`), where).toEqual([]);
  const leave = () => page.keyboard.press('Escape');
  await page.keyboard.press('Control+k');
  await clean('palette');
  await page.locator('[data-palette] input').fill('noise');
  await clean('palette with a word');
  await leave();
  await page.getByRole('button', { name: /^Choose a graph/ }).click();
  await clean('graphs');
  await leave();
  await page.getByRole('button', { name: /^Arrange/ }).click();
  await clean('a menu');
  await leave();
  await app.card('values').locator('header').click({ button: 'right' });
  await clean('a menu of a card');
  await leave();
  await app.card('values').locator('header').click();
  await page.locator('[data-bench]').focus();
  await page.keyboard.press('m');
  await expect(page.getByRole('dialog')).toBeVisible();
  await clean('making a module');
  await leave();
  await app.command('export a result');
  await expect(page.getByRole('dialog')).toBeVisible();
  await clean('export');
  await leave();
  await app.pick('Pufferfish');
  await page.keyboard.press('F2');
  await expect(page.getByRole('dialog')).toBeVisible();
  await clean('rename');
  await leave();
  await app.openGraph('Where it tears');
  await app.cardOf('module:starter-twist@1000').locator('header').click();
  await page.getByRole('button', { name: 'Proofs…' }).click();
  await expect(page.getByRole('dialog')).toBeVisible();
  await clean('proofs');
  await leave();
  await page.getByRole('button', { name: 'Look inside' }).click();
  await app.wholeInside();
  await app.cardOf('way-in').locator('header').click();
  expect(await violations(page), 'inside of a module').toEqual([]);
  await page
    .locator('[data-picker="mesh"]')
    .setInputFiles({ name: 'tri.obj', mimeType: 'text/plain', buffer: Buffer.from('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n') });
  await expect(page.getByRole('dialog')).toBeVisible();
  await clean('import');
});

test('keys do what they say wherever the focus is; nothing but text is selected', async ({ page }) => {
  const app = new App(page);
  await app.openPart('swell', 'crane-aims');
  const frame = () => page.getByRole('textbox', { name: 'Frame', exact: true }).inputValue();
  // Space plays after a click on a button, too; while a letter is typed into text it is a letter.
  await page.getByRole('button', { name: 'Ghost' }).click();
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible();
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Play' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Ghost' })).toHaveAttribute('aria-pressed', 'false');
  // Arrows go from frame to frame where they mean nothing else.
  await app.frame(10);
  await app.stage.focus();
  await page.keyboard.press('ArrowRight');
  await expect.poll(frame).toBe('11');
  await page.getByRole('button', { name: 'Ghost' }).click();
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('ArrowLeft');
  await expect.poll(frame).toBe('9');
  // K keys what is picked, with the focus in the scene; the key is a mark on the ruler.
  await app.pick('Crane arm');
  await expect(page.locator('[data-key-marks]')).not.toHaveAttribute('data-key-marks', '1');
  await page.keyboard.press('k');
  await expect(page.locator('[data-key-marks]')).toHaveAttribute('data-key-marks', '1');
  // F frames from anywhere.
  const before = await app.stage.locator('canvas').screenshot();
  await page.getByRole('treeitem').first().click();
  await app.pick('Swell here');
  await page.keyboard.press('f');
  await app.settled();
  expect((await app.stage.locator('canvas').screenshot()).equals(before)).toBe(false);
  // By the keyboard alone a button still is pressed by Space.
  await page.getByRole('button', { name: 'Ghost' }).focus();
  await page.keyboard.press('Tab');
  await page.keyboard.press('Shift+Tab');
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Play' })).toBeVisible();
  // Nothing is selected by Ctrl A, nor by a drag over names.
  await app.stage.focus();
  await page.keyboard.press('Control+a');
  const row = (await page.getByRole('treeitem').first().boundingBox())!;
  await page.mouse.move(row.x + 10, row.y - 30);
  await page.mouse.down();
  await page.mouse.move(row.x + 150, row.y + 300, { steps: 4 });
  await page.mouse.up();
  expect(await page.evaluate(() => getSelection()?.toString())).toBe('');
  expect(app.errors).toEqual([]);
});

test('an old error does not stay through what succeeds after it', async ({ page }) => {
  const app = new App(page);
  await app.openPart('swell');
  await app.pick('Swell here');
  await app.command('hand-over: constrain');
  await expect(page.locator('[data-remark="wrong"]')).toBeVisible();
  await page.waitForTimeout(1100);
  await app.type('Move y', '1.3');
  await expect(page.locator('[data-remark]')).toHaveCount(0);
});

import { expect, test, type Locator } from '@playwright/test';
import { App } from './app.ts';

/** Keys of channels, set and changed as an animator does. */

let app: App;
test.beforeEach(async ({ page }) => {
  app = new App(page);
  await app.openPart('by-hand', 'props');
});
test.afterEach(() => expect(app.errors).toEqual([]));

const drag = async (what: Locator, x: number, y: number) => {
  const { page } = app;
  const box = (await what.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + x, box.y + box.height / 2 + y, { steps: 4 });
  await page.mouse.up();
};

test('keys: auto-key, the panel as rows and as curves, moving, shaping and deleting them', async ({ page }) => {
  await app.pick('Raft');
  await page.getByRole('button', { name: 'Auto-key' }).click();
  await app.frame(10);
  await app.type('Move y', '0.2');
  await app.frame(30);
  await app.type('Move y', '0.8');
  await expect(page.locator('[data-part="translate"] [aria-label="Key Move y"]')).toHaveAttribute('data-keys', 'here');
  await app.frame(20);
  expect(Number(await page.getByLabel('Move y', { exact: true }).inputValue())).toBeCloseTo(0.5, 2);
  await page.getByRole('button', { name: 'Auto-key' }).click();
  // A key press keys everything of what is picked; undone again.
  await app.stage.focus();
  await page.keyboard.press('k');
  await page.getByRole('button', { name: 'Keys', exact: true }).click();
  const panel = page.locator('[data-keys-panel]');
  // Rows that do not fit are scrolled to, and the panel can be made higher.
  await expect(panel).toHaveAttribute('data-rows', '9');
  const last = panel.locator('[data-key][data-row$="scale.z"]');
  await expect(last.first()).not.toBeInViewport();
  await panel.getByRole('button', { name: 'Raft size z' }).scrollIntoViewIfNeeded();
  await expect(last.first()).toBeInViewport();
  const height = async () => (await panel.boundingBox())!.height;
  const low = await height();
  await drag(page.getByRole('separator').last(), 0, -80);
  expect(await height()).toBeCloseTo(low + 80, -1);
  await page.keyboard.press('Control+z');
  await expect(panel).toHaveAttribute('data-rows', '1');
  // Drag the second key four frames later.
  const key = panel.locator('[data-key][data-frame="30"]');
  const first = (await panel.locator('[data-key][data-frame="10"]').boundingBox())!;
  await drag(key, (4 / 20) * ((await key.boundingBox())!.x - first.x), 0);
  await expect(panel.locator('[data-key][data-frame="34"]')).toHaveCount(1);
  await expect(panel.locator('[data-key]')).toHaveCount(2);
  // As curves: the first key holds its value.
  await panel.getByRole('button', { name: 'Curves' }).click();
  await panel.locator('[data-key][data-frame="10"]').click();
  await panel.getByRole('button', { name: 'Step' }).click();
  await app.settled();
  expect(Number(await page.getByLabel('Move y', { exact: true }).inputValue())).toBeCloseTo(0.2, 6);
  await app.type('Value of the key', '0.3');
  expect(Number(await page.getByLabel('Move y', { exact: true }).inputValue())).toBeCloseTo(0.3, 6);
  await page.getByRole('button', { name: 'Key after' }).click();
  await expect(page.getByRole('textbox', { name: 'Frame', exact: true })).toHaveValue('34');
  await app.stage.focus();
  await page.keyboard.press('h');
  await expect(page.getByRole('textbox', { name: 'Frame', exact: true })).toHaveValue('10');
  await page.keyboard.press('j');
  await expect(page.getByRole('textbox', { name: 'Frame', exact: true })).toHaveValue('34');
  await panel.locator('[data-key][data-frame="34"]').click();
  await page.keyboard.press('Delete');
  await expect(panel.locator('[data-key]')).toHaveCount(1);
  // Numbers of a card are keyed by the same press, and changed by typing.
  const dial = page.locator('[data-keys]', { has: page.getByLabel('dial', { exact: true }) });
  await app.card('How much of it').locator('header').click();
  await app.frame(10);
  await app.stage.focus();
  await page.keyboard.press('k');
  await expect(dial).toHaveAttribute('data-keys', 'here');
  await app.frame(30);
  await app.type('dial', '0');
  await expect(panel).toHaveAttribute('data-rows', '1');
  await expect(panel.locator('[data-key]')).toHaveCount(2);
  await app.frame(20);
  expect(Number(await page.getByLabel('dial', { exact: true }).inputValue())).toBeCloseTo(0.5, 2);
});

test('keys are copied, stretched by numbers, and repeated; a handle bends the curve', async ({ page }) => {
  const value = async () => Number(await page.getByLabel('Move y', { exact: true }).inputValue());
  await app.pick('Raft');
  await page.getByRole('button', { name: 'Auto-key' }).click();
  for (const [frame, y] of [
    [10, '0.2'],
    [20, '0.8'],
  ] as const) {
    await app.frame(frame);
    await app.type('Move y', y);
  }
  await page.getByRole('button', { name: 'Auto-key' }).click();
  await page.getByRole('button', { name: 'Keys', exact: true }).click();
  const panel = page.locator('[data-keys-panel]');
  await panel.focus();
  await page.keyboard.press('Control+a');
  await expect(panel).toHaveAttribute('data-chosen', '2');
  await page.keyboard.press('Control+c');
  await app.frame(40);
  await panel.focus();
  await page.keyboard.press('Control+v');
  await expect(panel.locator('[data-key][data-frame="50"]')).toHaveCount(1);
  // The two copies go three times as far apart, and half as high from where they are at frame 40.
  await panel.getByRole('button', { name: 'Stretch' }).click();
  await page.getByRole('menuitem', { name: 'by numbers…' }).click();
  await page.getByLabel('Stretch in time').fill('3');
  await page.getByLabel('Stretch in value').fill('0.5');
  await page.getByLabel('Stretch in value').press('Enter');
  await page.getByRole('button', { name: 'Stretch', exact: true }).click();
  await app.frame(70);
  expect(await value()).toBeCloseTo(0.5, 9);
  // And half as far again, by the side of the box round them.
  const key = panel.locator('[data-key][data-frame="70"]');
  const edge = (await key.boundingBox())!.x;
  const perFrame = (edge - (await panel.locator('[data-key][data-frame="40"]').boundingBox())!.x) / 30;
  await drag(panel.locator('[data-grip="last"]'), -15 * perFrame, 0);
  await expect(panel.locator('[data-key][data-frame="55"][data-on="true"]')).toHaveCount(1);
  await app.frame(55);
  expect(await value()).toBeCloseTo(0.5, 9);
  // In value, about the lowest: from 0.35 over 0.2 to 0.5 over it.
  await panel.getByRole('button', { name: 'Curves' }).click();
  await panel.focus();
  await page.keyboard.press('f');
  const height = (await panel.locator('[data-stretch-box]').boundingBox())!.height - 18;
  await drag(panel.locator('[data-grip="high"]'), 0, -height);
  await app.settled();
  expect(await value()).toBeCloseTo(0.8, 1);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await app.settled();
  await panel.getByRole('button', { name: 'Rows' }).click();
  await expect(key).toHaveCount(1);
  // After its keys the track begins again.
  await panel.getByRole('button', { name: /^after:/ }).click();
  await page.getByRole('menuitem', { name: 'begin again', exact: true }).click();
  await app.frame(80);
  expect(await value()).toBeCloseTo(0.8, 9);
  // A handle pulled up lifts the curve between its key and the next.
  await panel.getByRole('button', { name: 'Curves' }).click();
  await app.frame(30);
  const before = await value();
  await panel.locator('[data-key][data-frame="20"]').click();
  await drag(panel.locator('[data-side="out"]'), 0, -34);
  await app.settled();
  expect(await value()).toBeGreaterThan(before + 0.02);
});

test('a typing mistake in a keyed channel leaves every key and every frame as it was', async ({ page }) => {
  const app = new App(page);
  await app.openPart('swell');
  await app.object('Swell here').click();
  const field = page.getByLabel('Move x', { exact: true });
  const key = page.getByRole('button', { name: 'Key Move x', exact: true });
  await app.type('Move x', '0.1');
  await key.click();
  await app.type('Frame', '20');
  await app.type('Move x', '0.9');
  await expect(key).toHaveAttribute('data-keys', 'here');
  const before = await app.stored();
  for (const wrong of ['0.26.4', 'abc', '2 *', 'sin(', '1e', '', 'fram / 2', '0x', '--', '__proto__']) {
    await app.type('Move x', wrong);
    await expect(page.locator('[data-refused="Move x"]')).toBeVisible();
    await expect(field).toHaveValue(wrong);
    await expect(field).toHaveAttribute('aria-invalid', 'true');
  }
  expect(await app.stored()).toEqual(before);
  await field.press('Escape');
  await expect(field).toHaveValue('0.9');
  // What was typed and given up by Esc is not taken either.
  await field.fill('7');
  await field.press('Escape');
  await expect(field).toHaveValue('0.9');
  expect(await app.stored()).toEqual(before);
  // A sum is a number: it becomes the key. Undone, all is as it was.
  await app.type('Move x', '1 / 4');
  await expect(field).toHaveValue('0.25');
  await expect(key).toHaveAttribute('data-keys', 'here');
  await page.keyboard.press('Control+z');
  await expect(field).toHaveValue('0.9');
  expect(app.errors).toEqual([]);
});

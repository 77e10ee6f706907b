import { expect, test } from '@playwright/test';
import { withKey } from '@umberfish/core';
import { App } from './app.ts';

const KEYS = withKey(withKey(undefined, 1, 0), 24, 1);

// What it guards against: one arrow dragged, and the axes beside it lose their expression or get keys.
test('dragging one arrow writes one axis; what has to stay stays, and the chip says why', async ({ page }) => {
  const app = new App(page);
  const [project, assets] = app.partOf('swell');
  const name = 'Swell here';
  await app.openProject(
    {
      ...project,
      objects: project.objects.map((o) =>
        o.name === name ? { ...o, animated: { 'translate.x': { expression: '0.1 * frame' }, 'translate.z': { keys: KEYS } } } : o,
      ),
    },
    assets,
  );
  const now = async () =>
    (await app.stored()).objects.find((o) => o.name === name) as unknown as (typeof project.objects)[number];
  const drag = async () => {
    await app.pick(name);
    await app.stage.focus();
    await page.keyboard.press('f');
    await page.waitForTimeout(400);
    await app.settled();
    const box = (await app.stage.locator('canvas').boundingBox())!;
    await app.dragUp({ x: box.x + box.width / 2, y: box.y + box.height / 2 }, 40);
  };
  const before = await now();
  await page.getByRole('button', { name: 'Auto-key' }).click();
  await drag();
  const after = await now();
  expect(after.animated['translate.y']).toBeDefined();
  expect(after.animated['translate.x']).toEqual(before.animated['translate.x']);
  expect(after.animated['translate.z']).toEqual(before.animated['translate.z']);
  await expect(page.locator('[data-held-axes]')).toHaveCount(0);
  await page.getByRole('button', { name: 'More for Move' }).click();
  await page.getByRole('menuitem', { name: 'Lock' }).click();
  await drag();
  await expect(page.locator('[data-held-axes]')).toHaveText('· Move y stays: it is locked.');
  expect((await now()).animated).toEqual(after.animated);
  expect(app.errors).toEqual([]);
});

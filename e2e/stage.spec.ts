import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expect, test } from '@playwright/test';
import { App } from './app.ts';

const BUOY = readFileSync(fileURLToPath(new URL('../demo/meshes/buoy.glb', import.meta.url)));

test('a GLB dropped on the page is welded, named under the pointer, and seen from all sides', async ({ page }) => {
  const app = new App(page);
  await app.newProject();
  const dropped = await page.evaluateHandle(
    (bytes) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([Uint8Array.from(bytes)], 'buoy.glb'));
      return transfer;
    },
    [...BUOY],
  );
  await page.dispatchEvent('[data-build]', 'drop', { dataTransfer: dropped });
  await expect(page.locator('[data-remark]')).toContainText('1\u202f212 points. Read as metres with y up');
  await expect(app.object('Buoy')).toBeVisible();
  await app.drawn();
  await expect(app.stage).toContainText('Buoy · 1\u202f212 points');
  const box = (await app.stage.locator('canvas').boundingBox())!;
  // The pointer has to move for a name to show; the picture may still be on its way to the middle.
  await expect(async () => {
    await page.mouse.move(box.x + box.width / 2 + 3, box.y + box.height / 2 + 30);
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2 + 33);
    await expect(app.stage.getByText('Buoy', { exact: true })).toBeVisible({ timeout: 1000 });
  }).toPass();
  for (const view of ['From the right', 'From above', 'Parallel (orthographic)', 'Perspective']) {
    await page.getByRole('button', { name: 'View ▾' }).click();
    await page.getByRole('menuitem', { name: view }).click();
  }
  for (const [from, to] of [
    ['Shaded', 'Edges'],
    ['Edges', 'Points'],
  ]) {
    await page.getByRole('button', { name: `${from} ▾` }).click();
    await page.getByRole('menuitem', { name: to }).click();
    await expect(page.getByRole('button', { name: `${to} ▾` })).toBeVisible();
  }
  expect(app.errors).toEqual([]);
});

test('panels fold away by a double click on their edge, and come back', async ({ page }) => {
  const app = new App(page);
  await app.openPart('swell');
  const width = async () => Math.round((await page.locator('[data-bench]').boundingBox())!.width);
  const before = await width();
  const edges = page.locator('[role="separator"][title]');
  await expect(edges).toHaveCount(2);
  for (const i of [0, 1]) await edges.nth(i).dblclick({ position: { x: 0, y: 300 }, force: true });
  await expect.poll(width).toBeGreaterThan(1200);
  for (const i of [0, 1]) await edges.nth(i).dblclick({ position: { x: 0, y: 300 }, force: true });
  await expect.poll(width).toBe(before);
  expect(app.errors).toEqual([]);
});

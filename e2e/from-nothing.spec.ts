import { createRequire } from 'node:module';
import { expect, test } from '@playwright/test';
import { App } from './app.ts';

const bunny = createRequire(import.meta.url)('bunny') as { positions: number[][]; cells: number[][] };

/** A real mesh as OBJ, in decimetres with z up, so that the import has something to convert. */
const bunnyObj = [
  ...bunny.positions.map(([x, y, z]) => `v ${x} ${-z} ${y}`),
  ...bunny.cells.map((c) => `f ${c.map((i) => i + 1).join(' ')}`),
].join('\n');

test('from an imported mesh to the same deformer, built by hand', async ({ page }) => {
  test.setTimeout(240_000);
  const app = new App(page);
  await app.newProject();
  // 1. Bring in a mesh and a locator.
  await page
    .locator('[data-picker="mesh"]')
    .setInputFiles({ name: 'bunny.obj', mimeType: 'model/obj', buffer: Buffer.from(bunnyObj) });
  await app.choose('Units', 'Centimetres');
  await app.choose('Up axis', 'z');
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  await expect(page.locator('[data-remark]')).toContainText(`1\u202f${bunny.positions.length - 1000} points`);
  await expect(app.object('bunny')).toBeVisible();
  await app.drawn();
  await page.getByRole('button', { name: 'Add to the scene' }).click();
  await page.getByRole('menuitem', { name: 'Locator' }).click();
  await app.type('Move y', '0.1');
  await app.type('Move x', '0.02');

  // 2. Read positions and normals.
  await app.addNode('Scene Mesh');
  await app.addNode('Point Values');
  await app.addNode('Scene Locator');
  await app.addNode('Measure');
  const bench = page.locator('[data-bench]');
  await app.tidy();
  await app.wire(['Scene Mesh', 'mesh'], ['Point Values', 'mesh']);
  await app.wire(['Point Values', 'positions'], ['Measure', 'a']);
  await app.wire(['Scene Locator', 'position'], ['Measure', 'b']);
  await expect(page.locator('.react-flow__edge')).toHaveCount(3);

  // 3. A probe tells what flows; the stage previews it as colour.
  await app.look('Measure', 'result');
  await bench.focus();
  await page.keyboard.press('r');
  const probe = page.locator('[data-probe$=".result"]').first();
  await expect(probe.locator('[data-probe-count]')).toHaveText(`1\u202f${bunny.positions.length - 1000}`);
  const distances = bunny.positions.map(([x, y, z]) => Math.hypot(x * 0.01 - 0.02, y * 0.01 - 0.1, z * 0.01));
  const [low, high] = [Math.min(...distances), Math.max(...distances)].map((v) => v.toFixed(2));
  await expect(probe.locator('[data-probe-range]')).toHaveText(`${low} … ${high}`);
  await page.keyboard.press('p');
  await expect(page.locator('[data-legend]')).toBeVisible();
  await page.keyboard.press('p');
  await expect(page.locator('[data-legend]')).toHaveCount(0);

  // 4. ÷ radius, through a response, × height × normals, add, show.
  await app.addNode('Arithmetic');
  await app.choose('Operation', 'Divide');
  await app.type('b', '0.05');
  await page.getByLabel('Title').fill('Ratio');
  await page.getByLabel('Title').press('Enter');
  await expect(app.card('Ratio')).toBeVisible();
  await app.addNode('Response');
  await app.addNode('Arithmetic');
  await app.choose('Operation', 'Multiply');
  await app.choose('Operands', '3');
  await app.type('c', '0.02');
  await page.getByLabel('Title').fill('Offset');
  await page.getByLabel('Title').press('Enter');
  // With nothing picked, a card comes without a wire.
  await page.locator('.react-flow__pane').click({ position: { x: 5, y: 5 } });
  await app.addNode('Move Points');
  await app.addNode('Show Mesh');
  await app.choose('Result of', 'bunny');
  await app.tidy();
  // With everything on the bench, frame it all.
  await page.locator('.react-flow__pane').click({ position: { x: 5, y: 5 } });
  await app.menu('Arrange ▾', /Frame picked nodes/);
  await page.waitForTimeout(400);
  await app.wire(['Measure', 'result'], ['Ratio', 'a']);
  await app.wire(['Ratio', 'result'], ['Response', 'value']);
  await app.wire(['Point Values', 'normals'], ['Offset', 'a']);
  await app.wire(['Response', 'result'], ['Offset', 'b']);
  await app.wire(['Scene Mesh', 'mesh'], ['Move Points', 'mesh']);
  await app.wire(['Offset', 'result'], ['Move Points', 'offset']);
  await app.wire(['Move Points', 'mesh'], ['Show Mesh', 'mesh']);
  await expect(page.locator('.react-flow__edge')).toHaveCount(10);
  await expect(app.card('Offset').locator('[data-note]')).toHaveText('1 → xyz');
  await expect(app.card('Show Mesh')).toHaveAttribute('data-failed', 'false');
  await app.look('Show Mesh', 'shown');
  await app.settled();
  // 5. The furthest any point moved is what the response gives at the nearest distance.
  await app.look('Offset', 'result');
  await page.getByRole('tab', { name: 'Plot' }).click();
  const highest = Number((await page.locator('[data-plot] p').innerText()).split('…')[1].trim().split(' ')[0]);
  expect(highest).toBeGreaterThan(0.005);
  expect(highest).toBeLessThanOrEqual(0.0201);
  expect(app.errors).toEqual([]);
});

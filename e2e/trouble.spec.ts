import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expect, test } from '@playwright/test';
import { App } from './app.ts';

const DEMO = readFileSync(fileURLToPath(new URL('../demo/lantern-quay.json', import.meta.url)), 'utf8');

test('nothing freezes while a heavy graph runs, and it can be stopped', async ({ page }) => {
  const app = new App(page);
  await app.openPart('swell', 'water-graph');
  await page.getByRole('button', { name: 'Choose a graph' }).click();
  await page.getByRole('listitem').getByRole('button', { name: 'Harbour water' }).first().click();
  await app.card('waves').click();
  await app.type('octaves', '12');
  await app.card('grid').click();
  await app.type('cells along x', '2500');
  await app.type('cells along z', '2500');
  await expect(page.locator('[data-working]')).toBeVisible();
  // The page answers at once while six million points are worked on.
  const slowest = await page.evaluate(async () => {
    let worst = 0;
    for (let i = 0; i < 20; i++) {
      const before = performance.now();
      await new Promise((done) => setTimeout(done, 10));
      worst = Math.max(worst, performance.now() - before);
    }
    return worst;
  });
  expect(slowest).toBeLessThan(1000);
  await expect(page.locator('[data-working]')).toContainText(/Working… \d+ of \d+ nodes/);
  await page.getByRole('button', { name: 'Stop' }).click();
  await expect(page.locator('[data-trouble]')).toContainText('Stopped');
  await app.type('cells along x', '50');
  await app.type('cells along z', '50');
  await expect(page.locator('[data-trouble]')).toHaveCount(0);
  await app.settled();
  await app.look('grid', 'mesh');
  await expect(page.locator('[data-row-count]')).toHaveText(/2.601/);
});

test('a worker that breaks is told and started anew, with the document as it was', async ({ page }) => {
  const app = new App(page);
  await app.openPart('swell');
  await app.object('Swell here').click();
  await app.type('Move x', '0.33');
  await app.settled();
  await page.workers()[0].evaluate(() => {
    setTimeout(() => {
      throw new Error('out of memory');
    });
  });
  await expect(page.locator('[data-trouble]')).toContainText('nothing is lost');
  await page.getByRole('button', { name: 'Evaluate' }).click();
  await expect(page.locator('[data-trouble]')).toHaveCount(0);
  await app.settled();
  await app.object('Swell here').click();
  await expect(page.getByLabel('Move x', { exact: true })).toHaveValue('0.33');
  await app.look('show', 'shown');
  await expect(page.locator('[data-row="0"]')).toBeVisible();
});

test('files that are broken are refused in a sentence; unknown nodes are kept and told', async ({ page }) => {
  const app = new App(page);
  await app.openShelf();
  const open = (name: string, text: string) =>
    page.locator('[data-picker="shelf"]').setInputFiles({ name, mimeType: 'application/json', buffer: Buffer.from(text) });
  await open('cut.json', DEMO.slice(0, 3000));
  await expect(page.locator('[data-remark="wrong"]')).toContainText('Was it cut short?');
  await open('newer.json', DEMO.replace(/"version": \d+/, '"version": 77'));
  await expect(page.locator('[data-remark="wrong"]')).toContainText('saved by a newer Umberfish');
  await open('future.json', DEMO.replace('"type": "response"', '"type": "soft-focus"'));
  await app.drawn();
  await expect(app.card('shape')).toContainText('does not know the node type "soft-focus"');
  await expect(page.locator('.react-flow__edge')).toHaveCount(10);
  // The fish is there, undeformed.
  await app.look('show', 'shown');
  await expect(page.locator('[data-row-count]')).toHaveText(/11.936/);
  // A broken mesh changes nothing.
  const objects = await page.getByRole('treeitem').count();
  await page
    .locator('[data-picker="mesh"]')
    .setInputFiles({ name: 'bad.obj', mimeType: 'model/obj', buffer: Buffer.from('v 0 0 0\nf 1 2 3\n') });
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  await expect(page.locator('[data-remark="wrong"]')).toContainText('bad.obj: Line 2: the face names point "2"');
  await page.locator('[data-picker="mesh"]').setInputFiles({
    name: 'bad.glb',
    mimeType: 'model/gltf-binary',
    buffer: Buffer.from('glTF but not really'),
  });
  await expect(page.locator('[data-remark="wrong"]')).toContainText('bad.glb: it is a GLB of version');
  await expect(page.getByRole('treeitem')).toHaveCount(objects);
  await page.goto('/p/nowhere/build');
  await expect(page.getByText('There is no such project in this browser.')).toBeVisible();
});

test('the first load is lean and asks nobody outside', async ({ page }) => {
  const outside: string[] = [];
  const scripts = new Map<string, number>();
  page.on('request', (r) => {
    if (!r.url().startsWith('http://localhost:') && !r.url().startsWith('blob:') && !r.url().startsWith('data:'))
      outside.push(r.url());
  });
  page.on('response', async (r) => {
    if (r.url().endsWith('.js')) scripts.set(r.url(), (await r.body()).length);
  });
  const app = new App(page);
  await app.openDemo();
  expect(outside).toEqual([]);
  expect([...scripts.keys()].some((s) => s.includes('stage'))).toBe(true);
  // Plain bytes of everything before the stage's chunk; gzip makes it less than a third.
  const { gzipSync } = await import('node:zlib');
  let gzipped = 0;
  for (const url of scripts.keys()) {
    if (/stage-|use-standing-|three\.module/.test(url)) continue;
    gzipped += gzipSync(Buffer.from(await (await page.request.get(url)).body())).length;
  }
  // 860 kB with the nodes of chains, once for the page and once for its worker.
  expect(gzipped).toBeLessThan(900_000);
  expect(app.errors).toEqual([]);
});

test('opening and closing a project leaves nothing behind', async ({ page }) => {
  const app = new App(page);
  await app.openPart('swell');
  await app.saved();
  const tools = await page.context().newCDPSession(page);
  await tools.send('Performance.enable');
  const left = async () => {
    // What is to be let go is let go in the next turns.
    await page.waitForTimeout(300);
    for (let i = 0; i < 3; i++) await tools.send('HeapProfiler.collectGarbage');
    const { metrics } = await tools.send('Performance.getMetrics');
    return ['Nodes', 'JSEventListeners'].map((name) => metrics.find((m) => m.name === name)?.value ?? NaN);
  };
  const rounds: number[][] = [];
  for (let round = 0; round < 4; round++) {
    await page.getByRole('link', { name: 'Umberfish' }).click();
    // Only by questions that take hold of nothing on the page.
    await expect(page.locator('[data-shelf=ready]')).toBeVisible();
    rounds.push(await left());
    await page.getByRole('button', { name: 'Open Quay corner' }).click();
    await expect(page.locator('[data-stage]')).toHaveAttribute('data-drawn', /[1-9]/);
    await expect(page.locator('[data-save="saved"]')).toBeVisible();
  }
  expect(rounds[3][0]).toBeLessThanOrEqual(rounds[1][0] + 5);
  expect(rounds[3][1]).toBeLessThanOrEqual(rounds[1][1] + 1);
});

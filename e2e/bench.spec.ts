import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { makeProject, writeProjectFile, type NodeRecord, type WireRecord } from '@umberfish/core';
import { App } from './app.ts';

test('wires that do not fit are refused with a reason; a wire let go offers what fits', async ({ page }) => {
  const app = new App(page);
  await app.openPart('swell');
  await app.wire(['values', 'positions'], ['shape', 'value']);
  await expect(page.locator('[data-remark="wrong"]')).toContainText('Split Vector');
  await page.getByRole('button', { name: 'Close' }).click();
  await app.wire(['offset', 'result'], ['distance', 'a']);
  await expect(page.locator('[data-remark="wrong"]')).toContainText('close a loop');
  await page.getByRole('button', { name: 'Close' }).click();
  await expect(page.locator('.react-flow__edge')).toHaveCount(10);
  const out = (await app.card('fish').locator('.react-flow__handle.source[data-port="mesh"]').boundingBox())!;
  const bench = (await page.locator('[data-bench] .react-flow').boundingBox())!;
  await page.mouse.move(out.x + out.width / 2, out.y + out.height / 2);
  await page.mouse.down();
  await page.mouse.move(bench.x + 200, bench.y + 40, { steps: 5 });
  await page.mouse.up();
  await expect(page.locator('[data-palette] input')).toHaveAttribute('placeholder', 'What takes a mesh?');
  await expect(page.getByRole('option', { name: /^Noise/ })).toHaveCount(0);
  await page.keyboard.type('transform');
  await page.keyboard.press('Enter');
  await expect(app.card('Transform')).toBeVisible();
  await expect(page.locator('.react-flow__edge')).toHaveCount(11);
  // One step of undo takes node and wire together.
  await page.keyboard.press('Control+z');
  await expect(page.locator('.react-flow__edge')).toHaveCount(10);
  await expect(app.card('Transform')).toHaveCount(0);
  expect(app.errors).toEqual([]);
});

test('copy and paste, delete, skip, rename, tidy, all undone and redone', async ({ page }) => {
  const app = new App(page);
  await app.openPart('swell');
  const cards = page.locator('[data-card]');
  const bench = page.locator('[data-bench]');
  await app.card('ratio').locator('header').click();
  await app
    .card('shape')
    .locator('header')
    .click({ modifiers: ['Control'] });
  await bench.focus();
  await page.keyboard.press('Control+c');
  await page.keyboard.press('Control+v');
  await expect(cards).toHaveCount(11);
  // The wire between the two came along.
  await expect(page.locator('.react-flow__edge')).toHaveCount(11);
  await bench.focus();
  await page.keyboard.press('Delete');
  await expect(cards).toHaveCount(9);
  for (const n of [11, 9]) {
    await page.keyboard.press('Control+z');
    await expect(cards).toHaveCount(n);
  }
  await app.card('move').locator('header').click();
  await bench.focus();
  await page.keyboard.press('s');
  await expect(app.card('move').getByLabel('Skipped')).toBeVisible();
  await page.keyboard.press('s');
  await expect(app.card('move').getByLabel('Skipped')).toHaveCount(0);
  await page.getByLabel('Title').fill('Push out');
  await page.getByLabel('Title').press('Enter');
  await expect(app.card('move').getByRole('heading')).toHaveText('Push out');
  const before = await app.card('shape').boundingBox();
  await bench.focus();
  await page.keyboard.press('l');
  await expect.poll(async () => (await app.card('shape').boundingBox())?.x).not.toBe(before?.x);
  const nodes = (await app.stored()).graphs[0].nodes;
  expect(nodes.length).toBe(9);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(app.card('move').getByRole('heading')).toHaveText('Move Points');
  expect(app.errors).toEqual([]);
});

/** A ladder of 300 sums: each takes the one before it. */
function ladder(): string {
  const nodes = Array.from({ length: 300 }, (_, i): NodeRecord => ({
    id: `n${i}`,
    type: 'arithmetic',
    version: 1,
    title: `Sum ${i}`,
    position: [(i % 20) * 200, Math.floor(i / 20) * 150],
    inputs: { b: 1 },
    settings: {},
    skip: false,
    probes: [],
  }));
  const wires = nodes.slice(1).map((n, i): WireRecord => ({
    id: `w${i}`,
    from: { node: `n${i}`, port: 'result' },
    to: { node: n.id, port: 'a' },
    pins: [],
  }));
  return writeProjectFile(
    {
      ...makeProject('ladder', 'Ladder'),
      graphs: [{ id: 'g', name: 'Ladder', nodes, wires, sections: [], preview: null }],
    },
    new Map(),
  );
}

test('with 300 nodes panning renders no card, and an edit only those it touches', async ({ page }) => {
  const app = new App(page);
  await app.openShelf();
  await page
    .locator('[data-picker="shelf"]')
    .setInputFiles({ name: 'ladder.json', mimeType: 'application/json', buffer: Buffer.from(ladder()) });
  await expect(page.locator('[data-card]')).toHaveCount(300);
  await page.waitForTimeout(1500);
  await app.wholeGraph();
  await expect(page.locator('[data-far="true"]')).toBeVisible();
  const renders = () =>
    page.evaluate(() =>
      Object.fromEntries(
        [...document.querySelectorAll<HTMLElement>('[data-card]')].map((c) => [c.dataset.card, Number(c.dataset.renders)]),
      ),
    );
  const before = await renders();
  const pane = (await page.locator('.react-flow__pane').boundingBox())!;
  await page.mouse.move(pane.x + 20, pane.y + pane.height - 20);
  await page.mouse.down();
  await page.mouse.move(pane.x + 220, pane.y + pane.height - 160, { steps: 10 });
  await page.mouse.up();
  await page.mouse.wheel(0, 240);
  await page.waitForTimeout(400);
  expect(await renders()).toEqual(before);
  // Picking and editing a node nobody asks for touches its card (and the one that was picked before).
  await app.card('n250').locator('header').click();
  await app.settled();
  const picked = await renders();
  await app.type('b', '5');
  await app.settled();
  const after = await renders();
  const touched = Object.keys(after).filter((id) => after[id] !== picked[id]);
  expect(touched).toContain('n250');
  expect(touched.length).toBeLessThanOrEqual(2);
  expect(app.errors).toEqual([]);
});

test('a table of four million corners scrolls to its last row', async ({ page }) => {
  const app = new App(page);
  await app.newProject();
  await app.addNode('Make Grid');
  await app.type('cells along x', '1000');
  await app.type('cells along z', '1000');
  await app.settled();
  await app.choose('Elements', 'Corners');
  await expect(page.locator('[data-row-count]')).toHaveText(/4.000.000/);
  const grid = page.locator('[role=grid] [role=rowgroup]');
  await grid.focus();
  await grid.press('End');
  const last = page.locator('[data-row="3999999"]');
  await expect(last).toBeVisible();
  const row = (await last.boundingBox())!;
  const box = (await grid.boundingBox())!;
  expect(row.y + row.height).toBeLessThanOrEqual(box.y + box.height + 1);
  // By the scroll bar, too.
  await grid.evaluate((e) => (e.scrollTop = 0));
  await expect(page.locator('[data-row="0"]')).toBeVisible();
  await grid.evaluate((e) => (e.scrollTop = e.scrollHeight));
  await expect(last).toBeVisible();
  await page.getByLabel('Go to index').fill('2345678');
  await page.getByLabel('Go to index').press('Enter');
  await expect(page.locator('[data-row="2345678"]')).toHaveAttribute('aria-selected', 'true');
  expect(app.errors).toEqual([]);
});

test('arrow keys walk along the wires, and stage and values follow together', async ({ page }) => {
  const app = new App(page);
  await app.openPart('swell');
  await app.card('move').locator('header').click();
  await page.locator('[data-bench]').focus();
  await page.keyboard.press('p');
  await page.keyboard.press('ArrowLeft');
  await expect(app.card('fish').getByLabel('Previewed in the stage')).toBeVisible();
  await expect(page.locator('[data-readout]')).toContainText('Scene Mesh · mesh');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await expect(app.card('distance').getByLabel('Previewed in the stage')).toBeVisible();
  await expect(page.locator('[data-legend]')).toContainText('distance');
  await page.keyboard.press('p');
  await expect(page.locator('[data-legend]')).toHaveCount(0);
  expect(app.errors).toEqual([]);
});

test('attributes are named by what is there; a name that is nearly right is offered', async ({ page }) => {
  const app = new App(page);
  await app.openPart('barnacles');
  await page.getByRole('button', { name: 'Choose a graph' }).click();
  await page.getByRole('listitem').getByRole('button', { name: 'Barnacles' }).first().click();
  await app.card('where-stuck').locator('header').click();
  await app.settled();
  const name = page.getByLabel('Name', { exact: true });
  await expect(name).toHaveValue('restPosition');
  expect(await page.locator('datalist option').evaluateAll((o) => o.map((x) => (x as HTMLOptionElement).value))).toContain(
    'restNormal',
  );
  await app.type('Name', 'restposition');
  await expect(app.card('where-stuck').locator('[data-problem]')).toContainText('Did you mean "restPosition"?');
  await expect(app.card('bumps-stuck').locator('[data-problem="waits"]')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(app.card('where-stuck').locator('[data-problem]')).toHaveCount(0);
  // The table of the twisted mesh has the remembered rest beside the positions.
  await app.look('twist-stuck', 'mesh');
  await expect(page.getByRole('button', { name: 'Sort by restPosition x' })).toBeVisible();
  expect(app.errors).toEqual([]);
});

test('a number spread to three axes can be sent to one of them', async ({ page }) => {
  const app = new App(page);
  await app.openPart('swell');
  await app.card('offset').locator('[data-note]').click();
  await page.getByRole('menuitem', { name: 'Feed only y' }).click();
  await expect(app.card('Build Vector')).toBeVisible();
  await expect(app.card('offset').locator('[data-note]')).toHaveCount(0);
  // Only the second column of the result is left.
  await app.look('offset', 'result');
  await app.settled();
  await page.getByRole('button', { name: /^Sort by result y/ }).click();
  await page.locator('[role=grid] [role=rowgroup]').press('End');
  await expect
    .poll(async () => {
      const rows = await page.locator('[data-row]').allInnerTexts();
      const last = rows[rows.length - 1].split(/\s+/).map((t) => Number(t.replaceAll('−', '-')));
      return [last[4] === 0, last[5] > 0.1, last[6] === 0];
    })
    .toEqual([true, true, true]);
  await page.keyboard.press('Control+z');
  await expect(app.card('Build Vector')).toHaveCount(0);
  await expect(app.card('offset').locator('[data-note]')).toHaveText('1 → xyz');
  expect(app.errors).toEqual([]);
});

test('evaluation can be paused, asked for once, and resumed; what is old is marked', async ({ page }) => {
  const app = new App(page);
  await app.openPart('swell');
  await app.look('show', 'shown');
  await app.settled();
  const row = await app.row(0);
  await page.keyboard.press('Control+k');
  await page.locator('[data-palette] input').fill('pause or resume evaluation');
  await page.keyboard.press('Enter');
  await expect(page.locator('[data-paused="fresh"]')).toBeVisible();
  await app.object('Swell here').click();
  await app.type('Move y', '1.2');
  await expect(page.locator('[data-paused="stale"]')).toBeVisible();
  expect(await app.row(0)).toEqual(row);
  await page.getByRole('button', { name: 'Once' }).click();
  await expect(page.locator('[data-paused="fresh"]')).toBeVisible();
  await expect.poll(() => app.row(0)).not.toEqual(row);
  await app.type('Move y', '1.72');
  await expect(page.locator('[data-paused="stale"]')).toBeVisible();
  await page.getByRole('button', { name: 'Resume' }).click();
  await expect(page.locator('[data-paused]')).toHaveCount(0);
  await expect.poll(() => app.row(0)).toEqual(row);
  expect(app.errors).toEqual([]);
});

test('the dearest nodes are listed and shown as bars; a table is saved as CSV as it is sorted', async ({ page }) => {
  const app = new App(page);
  await app.openPart('swell');
  await expect(app.card('values').locator('[data-heat]')).toBeVisible();
  await page.locator('[data-cost]').click();
  const items = page.getByRole('menuitem');
  await expect(items).toHaveCount(5);
  const costs = (await items.allInnerTexts()).map((t) => Number(/([\d.]+) ms/.exec(t)?.[1]));
  expect(costs).toEqual([...costs].sort((a, b) => b - a));
  await items.first().click();
  await expect(page.locator('.react-flow__node.selected')).toHaveCount(1);
  await app.look('distance', 'result');
  await page.getByRole('button', { name: 'Sort by distance' }).click();
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'CSV' }).click()]);
  const lines = readFileSync((await file.path())!, 'utf8')
    .trim()
    .split('\n');
  expect(lines[0]).toBe('point,position.x,position.y,position.z,distance');
  expect(lines.length).toBe(11937);
  const distances = lines.slice(1).map((l) => Number(l.split(',')[4]));
  expect(distances.every((d, i) => i === 0 || d >= distances[i - 1])).toBe(true);
  expect(app.errors).toEqual([]);
});

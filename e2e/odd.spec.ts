import { expect, test, type Page } from '@playwright/test';
import { makeObject, makeProject, type GraphRecord, type Project } from '@umberfish/core';
import { App } from './app.ts';

const LONG = 'A lantern whose name somebody went on typing '.repeat(5).slice(0, 199);

const record = (id: string, type: string, x: number, y: number, settings: object = {}) => ({
  id,
  type,
  version: 1,
  title: '',
  position: [x, y] as const,
  inputs: {},
  settings: settings as never,
  skip: false,
  probes: [],
});

/** Many numbers into one Formula, and names of two hundred letters. */
function crowded(): Project {
  const count = 16;
  const names = Array.from({ length: count }, (_, i) => ({ name: `n${i}`, type: 'number' as const }));
  const graph: GraphRecord = {
    id: 'g',
    name: LONG,
    nodes: [
      ...names.map((_, i) => record(`number-${i}`, 'number', 0, i * 40)),
      record('sum', 'formula', 300, 0, {
        inputs: { names },
        outputs: { names: [{ name: 'sum', type: 'number' }] },
        formula: 'sum = n0 + n15',
      }),
    ],
    wires: names.map((n, i) => ({
      id: `w${i}`,
      from: { node: `number-${i}`, port: 'number' },
      to: { node: 'sum', port: n.name },
      pins: [],
    })),
    sections: [],
    preview: null,
  };
  return { ...makeProject('crowded', LONG), objects: [makeObject('long', LONG, 'locator')], graphs: [graph] };
}

/** Parts of the page whose content is wider than they are, though they do not scroll. */
const tooWide = (page: Page) =>
  page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('main, header, footer, section, [role="toolbar"]')]
      .filter((e) => e.scrollWidth > e.clientWidth + 1 && !['auto', 'scroll', 'hidden'].includes(getComputedStyle(e).overflowX))
      .map(
        (e) => `${e.tagName} ${e.getAttribute('aria-label') ?? e.className.slice(0, 40)}: ${e.scrollWidth} in ${e.clientWidth}`,
      ),
  );

test('names of two hundred letters and a window of 900 × 600: nothing runs out of its panel', async ({ page }) => {
  const app = new App(page);
  await app.openProject(crowded());
  for (const [width, height] of [
    [900, 600],
    [1280, 800],
    [1920, 1080],
  ]) {
    await page.setViewportSize({ width, height });
    await app.settled();
    expect(await tooWide(page), `${width}`).toEqual([]);
    const box = (await page.locator('[data-time-strip]').boundingBox())!;
    expect(box.y + box.height).toBeLessThanOrEqual(height + 1);
    expect(box.x + box.width).toBeLessThanOrEqual(width + 1);
  }
  await page.getByRole('treeitem').click();
  await app.settled();
  expect(await tooWide(page), 'settings of the long name').toEqual([]);
  expect(app.errors).toEqual([]);
});

test('many wires into one card are tidied; what is picked may go by an undo', async ({ page }) => {
  const app = new App(page);
  await app.openProject(crowded());
  await app.tidy();
  await expect(page.locator('.react-flow__edge')).toHaveCount(16);
  const cards = await page
    .locator('[data-card]')
    .evaluateAll((all) => all.map((c) => c.getBoundingClientRect().toJSON() as DOMRect));
  cards.forEach((a, i) =>
    cards.slice(i + 1).forEach((b) => {
      const apart = a.right <= b.left + 1 || b.right <= a.left + 1 || a.bottom <= b.top + 1 || b.bottom <= a.top + 1;
      expect(apart).toBe(true);
    }),
  );
  // An object, a card and a graph that are picked or open go by an undo: the page goes on.
  await app.menu('Add to the scene', 'Box');
  await expect(page.getByRole('treeitem')).toHaveCount(2);
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('treeitem')).toHaveCount(1);
  await expect(page.getByRole('heading', { name: 'Project' })).toBeVisible();
  await app.addNode('Noise');
  await page.locator('[data-bench]').focus();
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-card][data-type="noise"]')).toHaveCount(0);
  await page.getByRole('button', { name: /^Choose a graph/ }).click();
  await page.getByRole('button', { name: 'New graph' }).click();
  await expect(page.getByRole('button', { name: 'Choose a graph: Graph 2' })).toBeVisible();
  await page.locator('[data-bench]').focus();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: /^Choose a graph: A lantern/ })).toBeVisible();
  expect(app.errors).toEqual([]);
});

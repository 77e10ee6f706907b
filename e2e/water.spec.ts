import { expect, test } from '@playwright/test';
import { App } from './app.ts';

test('the harbour water plays, and a frame is the same picture however it is reached', async ({ page }) => {
  const app = new App(page);
  await app.openPart('water-graph');
  await page.getByRole('button', { name: 'Choose a graph' }).click();
  await page.getByRole('listitem').getByRole('button', { name: 'Harbour water' }).first().click();
  await app.look('waves', 'result');
  const frame = async (n: number) => {
    await app.type('Frame', String(n));
    await app.settled();
    await expect.poll(async () => (await app.stageData()).frame).toBe(String(n));
    return app.row(3);
  };
  const at60 = await frame(60);
  const at20 = await frame(20);
  expect(at20).not.toEqual(at60);
  // By scrubbing back and forth.
  const ruler = (await page.locator('[data-ruler]').boundingBox())!;
  await page.mouse.move(ruler.x + 20, ruler.y + 10);
  await page.mouse.down();
  await page.mouse.move(ruler.x + ruler.width * 0.9, ruler.y + 10, { steps: 6 });
  await page.mouse.move(ruler.x + (ruler.width * 59) / 119, ruler.y + 10, { steps: 6 });
  await page.mouse.up();
  await expect(page.getByLabel('Frame', { exact: true })).toHaveValue('60');
  await app.settled();
  await expect.poll(() => app.row(3)).toEqual(at60);
  // By playing.
  const before = Number((await app.stageData()).frame);
  await page.getByRole('button', { name: 'Play' }).click();
  await expect.poll(async () => Number((await app.stageData()).frame)).not.toBe(before);
  await page.getByRole('button', { name: 'Pause' }).click();
  expect(await frame(20)).toEqual(at20);
  expect(app.errors).toEqual([]);
});

test('a typing mistake changes nothing: the field keeps it and says where it is', async ({ page }) => {
  const app = new App(page);
  await app.openPart('water-graph');
  await app.card('breath').click();
  const field = page.getByLabel('value', { exact: true });
  const old = '0.8 + 0.4 * sin(seconds / 3)';
  await expect(field).toHaveValue(old);
  const before = await app.stored();
  await app.type('value', '0.8 + 0.4 * sin(second / 3)');
  await expect(page.locator('[data-refused="value"]')).toContainText('at character 17. Did you mean "seconds"?');
  await expect(field).toHaveValue('0.8 + 0.4 * sin(second / 3)');
  await expect(app.card('breath').locator('[data-problem]')).toHaveCount(0);
  expect(await app.stored()).toEqual(before);
  // Esc brings the old one back; mended, it is taken.
  await field.press('Escape');
  await expect(field).toHaveValue(old);
  await expect(page.locator('[data-refused]')).toHaveCount(0);
  await app.andDrawn(() => app.type('value', '0.5 + 0.4 * sin(seconds / 3)'));
  await expect(field).toHaveValue('0.5 + 0.4 * sin(seconds / 3)');
  expect(app.errors).toEqual([]);
});

test('an expression with an error in a file says where and what was expected, and the rest goes on', async ({ page }) => {
  const app = new App(page);
  const [project, assets] = app.partOf('water-graph');
  const graphs = project.graphs.map((g) => ({
    ...g,
    nodes: g.nodes.map((n) =>
      n.id === 'breath' ? { ...n, inputs: { ...n.inputs, value: { expression: '0.8 + 0.4 * sin(second / 3)' } } } : n,
    ),
  }));
  await app.openProject({ ...project, graphs }, assets);
  await expect(app.card('breath').locator('[data-problem="expression"]')).toContainText('Did you mean "seconds"?');
  await expect(app.card('waves').locator('[data-problem="waits"]')).toContainText('Breath');
  // The water lies flat but is there, and the fish is untouched.
  await expect(app.card('move-water')).toHaveAttribute('data-failed', 'true');
  await page.getByRole('tab', { name: /Messages/ }).click();
  await expect(page.locator('[data-messages]')).toContainText('at character 17');
  await app.card('breath').click();
  await app.andDrawn(() => app.type('value', '0.8 + 0.4 * sin(seconds / 3)'));
  await expect(app.card('breath').locator('[data-problem]')).toHaveCount(0);
  expect(app.errors).toEqual([]);
});

import { expect, test } from '@playwright/test';
import { App } from './app.ts';

test.describe('the pufferfish swells where the locator is', () => {
  test('dragging the locator in the stage moves the swelling, one step of undo, no new buffers', async ({ page }) => {
    const app = new App(page);
    await app.openPart('swell');
    await app.object('Swell here').click();
    await app.look('show', 'shown');
    await app.object('Swell here').click();
    await expect(page.getByLabel('Move y', { exact: true })).toHaveValue('1.72');
    const before = await app.stageData();
    const rowBefore = await app.row(0);
    await app.frameObject('Swell here');
    const box = (await page.locator('[data-stage] canvas').boundingBox())!;
    // Every picture that is drawn must be newer than the one before.
    await page.evaluate(() => {
      const stage = document.querySelector('[data-stage]') as HTMLElement;
      const seen: number[] = ((window as { seen?: number[] }).seen = []);
      const taken: number[] = ((window as { taken?: number[] }).taken = []);
      new MutationObserver(() => {
        const drawn = Number(stage.dataset.drawn);
        if (drawn === seen[seen.length - 1]) return;
        seen.push(drawn);
        taken.push(Number(stage.dataset.taken));
      }).observe(stage, { attributeFilter: ['data-drawn'] });
    });
    // The upright arrow of the handle stands over the locator, which is in the middle now.
    const arrow = { x: box.x + box.width / 2, y: box.y + box.height / 2 - 34 };
    await page.mouse.move(arrow.x, arrow.y);
    await page.mouse.down();
    for (let i = 1; i <= 12; i++) {
      const drawn = (await app.stageData()).drawn;
      await page.mouse.move(arrow.x, arrow.y + i * 11);
      if (i > 2) await expect.poll(async () => (await app.stageData()).drawn).not.toBe(drawn);
    }
    await page.mouse.up();
    await expect.poll(async () => Number(await page.getByLabel('Move y', { exact: true }).inputValue())).toBeLessThan(1.4);
    await app.settled();
    await expect.poll(() => app.row(0)).not.toEqual(rowBefore);
    const seen = await page.evaluate(() => (window as { seen?: number[] }).seen ?? []);
    expect(seen.length).toBeGreaterThan(1);
    expect(seen).toEqual([...seen].sort((a, b) => a - b));
    // From the fourth picture on, results lie where those of earlier pictures lay.
    const taken = await page.evaluate(() => (window as { taken?: number[] }).taken ?? []);
    expect(taken.length).toBeGreaterThan(8);
    expect(new Set(taken.slice(4)).size).toBe(1);
    const after = await app.stageData();
    expect(Number(after.drawn)).toBeGreaterThan(Number(before.drawn));
    expect(after.geometries).toBe(before.geometries);
    expect(after.topologies).toBe(before.topologies);
    // The picture on the stage is that of the last position: the same numbers come from a fresh start.
    const rowAfter = await app.row(0);
    await app.stored();
    await page.reload();
    await app.drawn();
    await app.look('show', 'shown');
    await expect.poll(() => app.row(0)).toEqual(rowAfter);
    // One drag was one step (history does not outlive the page, so drag again by number).
    await app.object('Swell here').click();
    const field = page.getByLabel('Move x', { exact: true });
    const at = (await field.boundingBox())!;
    await page.mouse.move(at.x + 20, at.y + 8);
    await page.mouse.down();
    await page.mouse.move(at.x + 60, at.y + 8, { steps: 8 });
    await page.mouse.up();
    await expect(field).not.toHaveValue('0.02');
    await page.keyboard.press('Control+z');
    await expect(field).toHaveValue('0.02');
    await page.keyboard.press('Control+Shift+z');
    await expect(field).not.toHaveValue('0.02');
    expect(app.errors).toEqual([]);
  });

  test('a number and a response point change the picture at once', async ({ page }) => {
    const app = new App(page);
    await app.openPart('swell');
    await app.look('offset', 'result');
    await expect(page.locator('[data-row="0"]')).toBeVisible();
    const first = await page.locator('[data-probe="distance.result"] [data-probe-range]').innerText();
    expect(first).toMatch(/0\.\d\d … 1\.\d\d/);
    await page.getByRole('tab', { name: 'Plot' }).click();
    await expect(page.locator('[data-plot]')).toContainText('vectors, by length');
    const highest = async () => Number((await page.locator('[data-plot] p').innerText()).split('…')[1].trim().split(' ')[0]);
    await expect.poll(highest).toBeCloseTo(0.194, 2);
    await app.type('c', '0.4');
    await expect.poll(highest).toBeCloseTo(0.4, 1);
    // The response: pull its first point down to about a half.
    await app.card('shape').click();
    const point = page.locator('[data-response-point="0"]');
    const at = (await point.boundingBox())!;
    const editor = (await page.locator('[data-response-editor]').boundingBox())!;
    await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2);
    await page.mouse.down();
    await page.mouse.move(at.x + at.width / 2, editor.y + editor.height / 2, { steps: 6 });
    await page.mouse.up();
    await app.look('offset', 'result');
    await expect.poll(highest).toBeLessThan(0.3);
    await page.keyboard.press('Control+z');
    await expect.poll(highest).toBeGreaterThan(0.35);
    expect(app.errors).toEqual([]);
  });

  test('a point picked in the stage is the row picked in the table, and the other way round', async ({ page }) => {
    const app = new App(page);
    await app.openPart('swell');
    await app.look('show', 'shown');
    // The table takes its room from the stage.
    await expect(page.locator('[data-row]').first()).toBeVisible();
    await app.settled();
    const box = (await page.locator('[data-stage] canvas').boundingBox())!;
    await page.mouse.click(box.x + box.width * 0.5, box.y + box.height * 0.52);
    const picked = page.locator('[data-row][aria-selected="true"]');
    await expect(picked).toBeVisible();
    const element = Number(await picked.getAttribute('data-row'));
    expect(element).toBeGreaterThan(8);
    await page.getByLabel('Go to index').fill('11935');
    await page.getByLabel('Go to index').press('Enter');
    await expect(page.locator('[data-row="11935"]')).toHaveAttribute('aria-selected', 'true');
    // Sorting: ascending by x, the rows shown must rise.
    await page.getByRole('button', { name: 'Sort by position x' }).click();
    await page.locator('[role=grid] [role=rowgroup]').press('Home');
    await expect
      .poll(async () => {
        const texts = await page.locator('[data-row]').allInnerTexts();
        const x = texts.map((t) => Number(t.split(/\s+/)[1].replace('−', '-')));
        return x.length > 3 && x.every((v, i) => i === 0 || v >= x[i - 1]);
      })
      .toBe(true);
    expect(app.errors).toEqual([]);
  });
});

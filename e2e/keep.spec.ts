import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { readGltf, readObj } from '@umberfish/formats';
import { App } from './app.ts';

test('everything is there after the tab was closed, and in another profile from a file', async ({ page, browser }) => {
  const app = new App(page);
  await app.openPart('swell');
  await app.object('Swell here').click();
  await app.type('Move x', '0.4321');
  const stored = await app.stored();
  expect(stored.objects.find((o) => o.name === 'Swell here')?.channels.translate[0]).toBe(0.4321);
  await app.look('show', 'shown');
  await app.settled();
  const row = await app.row(2);
  await page.keyboard.press('Escape');
  const [file] = await Promise.all([page.waitForEvent('download'), page.keyboard.press('Control+s')]);
  const path = (await file.path())!;
  expect(file.suggestedFilename()).toBe('quay-corner.json');

  await page.close();
  const again = new App(await page.context().newPage());
  await again.openShelf();
  await again.page.getByRole('button', { name: 'Open Quay corner' }).click();
  await again.drawn();
  await again.output('show', 'shown').click();
  await expect.poll(() => again.row(2)).toEqual(row);

  const other = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const there = new App(await other.newPage());
  await there.openShelf();
  await there.page
    .locator('[data-picker="shelf"]')
    .setInputFiles({ name: 'moved.json', mimeType: 'application/json', buffer: readFileSync(path) });
  await there.drawn();
  await there.output('show', 'shown').click();
  await expect.poll(() => there.row(2)).toEqual(row);
  expect(there.errors).toEqual([]);
  await other.close();
});

test('two tabs on one project do not overwrite one another silently', async ({ page }) => {
  const first = new App(page);
  await first.openPart('swell');
  await first.saved();
  const second = new App(await page.context().newPage());
  await second.visit(page.url());
  await second.drawn();
  await second.object('Swell here').click();
  await second.type('Move x', '0.7');
  await second.stored();
  await expect(first.page.locator('[data-save="elsewhere"]')).toBeVisible();
  await first.object('Swell here').click();
  await first.type('Move x', '0.1');
  await first.page.waitForTimeout(800);
  expect((await second.stored()).objects.find((o) => o.name === 'Swell here')?.channels.translate[0]).toBe(0.7);
  await first.page.getByRole('button', { name: 'Keep mine' }).click();
  expect((await first.stored()).objects.find((o) => o.name === 'Swell here')?.channels.translate[0]).toBe(0.1);
  await expect(second.page.locator('[data-save="elsewhere"]')).toBeVisible();
  await second.page.getByRole('button', { name: 'Take theirs' }).click();
  await second.object('Swell here').click();
  await expect(second.page.getByLabel('Move x', { exact: true })).toHaveValue('0.1');
  // What came over is worked out and drawn, and so is what is changed after it.
  await second.settled();
  await second.andDrawn(() => second.type('Move x', '0.4'));
  expect(second.errors).toEqual([]);
});

test('a project that another tab removes says so, and is kept on request', async ({ page }) => {
  const first = new App(page);
  await first.openPart('swell');
  await first.saved();
  const shelf = new App(await page.context().newPage());
  await shelf.openShelf();
  await shelf.page.getByRole('button', { name: 'More for Quay corner' }).click();
  await shelf.page.getByRole('menuitem', { name: 'Remove…' }).click();
  await shelf.page.getByRole('button', { name: 'Remove it' }).click();
  await expect(first.page.getByText('Removed in another tab')).toBeVisible();
  await expect(first.page.getByRole('button', { name: 'Take theirs' })).toHaveCount(0);
  await first.page.getByRole('button', { name: 'Keep it here' }).click();
  await first.saved();
  expect((await first.stored()).objects.length).toBeGreaterThan(0);
  expect(first.errors).toEqual([]);

  // What was removed is in the bin; where its id is taken, it comes back beside what has it.
  const onShelf = shelf.page;
  await onShelf.getByRole('button', { name: 'Bin' }).click();
  const removed = onShelf.getByRole('list', { name: 'Removed projects' }).getByRole('listitem');
  await expect(removed).toHaveText(/Quay corner.*30 days left/);
  await removed.getByRole('button', { name: 'Restore' }).click();
  await expect(onShelf.locator('[data-bin]')).toHaveCount(0);
  await onShelf.getByRole('button', { name: 'Open Quay corner (restored)' }).click();
  await shelf.drawn();
  await shelf.settled();
  await expect(shelf.object('Swell here')).toBeVisible();
  // Emptied, it is gone with the meshes that no other project uses.
  await shelf.openShelf();
  for (const name of ['Quay corner (restored)', 'Quay corner']) {
    await onShelf.getByRole('button', { name: `More for ${name}`, exact: true }).click();
    await onShelf.getByRole('menuitem', { name: 'Remove…' }).click();
    await onShelf.getByRole('button', { name: 'Remove it' }).click();
    await expect(onShelf.getByRole('button', { name: `Open ${name}`, exact: true })).toHaveCount(0);
  }
  await expect(onShelf.locator('[data-bin="2"]')).toBeVisible();
  expect(await meshesStored(onShelf)).toBeGreaterThan(0);
  await onShelf.getByRole('button', { name: 'Bin' }).click();
  await onShelf.getByRole('button', { name: 'Empty the bin…' }).click();
  await onShelf.getByRole('button', { name: 'Remove for good', exact: true }).click();
  await expect(onShelf.locator('[data-bin]')).toHaveCount(0);
  expect(await meshesStored(onShelf)).toBe(0);
  expect(shelf.errors).toEqual([]);
});

test('without room for the bin a project can be removed for good all the same', async ({ page }) => {
  const app = new App(page);
  await page.addInitScript(() => {
    const put = IDBObjectStore.prototype.put;
    IDBObjectStore.prototype.put = function (...args: Parameters<typeof put>) {
      if (this.name === 'bin') throw new DOMException('The quota has been exceeded.', 'QuotaExceededError');
      return put.apply(this, args);
    };
  });
  await app.newProject();
  await app.saved();
  await app.openShelf();
  await page.getByRole('button', { name: 'More for Project 1' }).click();
  await page.getByRole('menuitem', { name: 'Remove…' }).click();
  await page.getByRole('button', { name: 'Remove it', exact: true }).click();
  // It is still there until that was said twice.
  await expect(page.getByRole('dialog')).toContainText('no room left to keep it in the bin');
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByRole('button', { name: 'Open Project 1' })).toBeVisible();
  await page.getByRole('button', { name: 'More for Project 1' }).click();
  await page.getByRole('menuitem', { name: 'Remove…' }).click();
  await page.getByRole('button', { name: 'Remove it', exact: true }).click();
  await page.getByRole('button', { name: 'Remove it for good' }).click();
  await expect(page.getByRole('button', { name: 'Open Project 1' })).toHaveCount(0);
  expect(app.errors).toEqual([]);
});

/** How many meshes the browser's store holds. */
const meshesStored = (page: Page): Promise<number> =>
  page.evaluate(
    () =>
      new Promise<number>((done, fail) => {
        const opening = indexedDB.open('umberfish');
        opening.onerror = () => fail(opening.error as Error);
        opening.onsuccess = () => {
          const count = opening.result.transaction('meshes').objectStore('meshes').count();
          count.onsuccess = () => {
            opening.result.close();
            done(count.result);
          };
        };
      }),
  );

test('a project opens where it was left', async ({ page }) => {
  const app = new App(page);
  const [project, assets] = app.partOf('lead', 'swell');
  const [second, first] = project.graphs;
  // The first graph is empty: what is in the project is shown all the same.
  const empty = { ...project.graphs[0], id: 'empty', name: 'Empty', nodes: [], wires: [], sections: [] };
  await app.openProject({ ...project, graphs: [empty, first, second] }, assets);
  await expect(page.getByText('Nothing on the bench yet')).toHaveCount(0);
  await expect(page.locator('[data-card]')).toHaveCount(first.nodes.length);

  await app.openGraph(second.name);
  await app.look('show', 'shown');
  await app.frame(17);
  const view = () => page.locator('.react-flow__viewport').getAttribute('style');
  const before = await view();
  await page.locator('.react-flow__pane').hover({ position: { x: 20, y: 20 } });
  await page.mouse.wheel(0, 240);
  await expect.poll(view).not.toBe(before);
  await app.stage.locator('canvas').hover();
  await page.mouse.wheel(0, -300);
  await app.settled();
  const marked = async () => {
    await page.locator('[data-row="2"]').click();
    return app.markedPoint();
  };
  const left = { bench: await view(), mark: await marked() };

  await page.reload();
  await app.drawn();
  await app.settled();
  await expect(page.locator('.react-flow__node.selected')).toHaveAttribute('data-id', 'show');
  await expect(page.getByRole('textbox', { name: 'Frame', exact: true })).toHaveValue('17');
  await expect.poll(view).toBe(left.bench);
  expect(await marked()).toEqual(left.mark);
  expect(app.errors).toEqual([]);
});

test('a save that fails is said, and the file save still works', async ({ page }) => {
  const app = new App(page);
  await page.addInitScript(() => {
    const put = IDBObjectStore.prototype.put;
    IDBObjectStore.prototype.put = function (...args: Parameters<typeof put>) {
      if ((window as { full?: boolean }).full) throw new DOMException('The quota has been exceeded.', 'QuotaExceededError');
      return put.apply(this, args);
    };
  });
  await app.openPart('swell');
  await page.evaluate(() => ((window as { full?: boolean }).full = true));
  await app.object('Swell here').click();
  await app.type('Move x', '0.25');
  await expect(page.locator('[data-save="failed"]')).toContainText('no room');
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Save to a file' }).click()]);
  expect(readFileSync((await file.path())!, 'utf8')).toContain('0.25');
});

test('the shown result is exported as OBJ and GLB with every point in its place', async ({ page }) => {
  const app = new App(page);
  await app.openPart('swell');
  await app.look('show', 'shown');
  const row = await app.row(5);
  const exportAs = async (format: RegExp) => {
    await page.getByRole('button', { name: 'Project menu' }).click();
    await page.getByRole('menuitem', { name: 'Export a result…' }).click();
    await page.getByRole('combobox', { name: 'Format' }).click();
    await page.getByRole('option', { name: format }).click();
    const [file] = await Promise.all([
      // The material library of an OBJ is a download of its own.
      page.waitForEvent('download', (d) => /\.(obj|glb)$/.test(d.suggestedFilename())),
      page.getByRole('button', { name: 'Export', exact: true }).click(),
    ]);
    return readFileSync((await file.path())!);
  };
  const obj = readObj((await exportAs(/OBJ/)).toString()).meshes[0].mesh;
  expect(obj.topology.pointCount).toBe(11936);
  expect(obj.topology.faceCount).toBe(12000);
  expect(Array.from(obj.positions.slice(15, 18), (v) => Number(v.toFixed(4)))).toEqual(row);
  const glb = (await readGltf(new Uint8Array(await exportAs(/GLB/)))).meshes[0].mesh;
  expect(glb.topology.pointCount).toBe(11936);
  expect(Array.from(glb.positions)).toEqual(Array.from(obj.positions));
  expect(glb.materials.map((m) => m.name)).toEqual(obj.materials.map((m) => m.name));
});

test('without any store (a private window) one can still work, and is told', async ({ page }) => {
  await page.addInitScript(() => Object.defineProperty(window, 'indexedDB', { value: undefined }));
  const app = new App(page);
  await app.openShelf();
  await expect(page.getByText('does not let this page store data')).toBeVisible();
  await page.getByRole('button', { name: 'Open Lantern Quay' }).click();
  await app.drawn();
  await expect(page.locator('[data-save="failed"]')).toContainText('does not let this page store data');
  await app.object('Swell here').click();
  await app.type('Move x', '0.5');
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Save to a file' }).click()]);
  expect(readFileSync((await file.path())!, 'utf8')).toContain('0.5');
});

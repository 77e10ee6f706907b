import { expect, test } from '@playwright/test';
import { App } from './app.ts';
import { fill, importCrate, mayFill, seeded, toShelf, xOf } from './trials.ts';

// Tabs that close, disks that are full, tabs that race, workers that end: nothing that was called saved is lost, and
// nothing is lost without a question.

const moveX = async (app: App) => xOf(await app.stored());

test('what is called saved is stored, whenever the tab is killed', async ({ page }) => {
  const random = seeded(7);
  let app = new App(page);
  await app.openPart('swell');
  const url = page.url();
  const context = page.context();
  let lied = 0;
  let before = await moveX(app);
  for (let trial = 0; trial < 3; trial++) {
    const value = Number((0.1 + trial * 0.1).toFixed(2));
    await app.object('Swell here').click();
    await app.type('Move x', String(value));
    // The label and the clock are read in the page, and the page is gone right after.
    const label = await app.page.evaluate(
      (wait) =>
        new Promise<string | undefined>((done) =>
          setTimeout(() => done(document.querySelector<HTMLElement>('[data-save]')?.dataset.save), wait),
        ),
      random() * 700,
    );
    await app.page.close();
    app = new App(await context.newPage());
    await app.visit(url);
    await app.page.waitForSelector('[data-build]');
    const stored = await moveX(app);
    if (label === 'saved' && stored !== value) lied++;
    expect([before, value]).toContain(stored);
    before = stored;
  }
  expect(lied).toBe(0);
});

test('leaving waits for the save, by the link and by the back button', async ({ page }) => {
  const random = seeded(11);
  const app = new App(page);
  await app.openPart('swell');
  const id = app.openId;
  for (let trial = 0; trial < 2; trial++) {
    await app.object('Swell here').click();
    await app.type('Move x', String(trial + 1));
    await page.waitForTimeout(random() * 500);
    if (trial % 2 === 0) await toShelf(page);
    else await page.goBack();
    await page.waitForSelector('[data-shelf=ready]');
    expect(xOf(await app.storedNow(id))).toBe(trial + 1);
    await page.getByRole('button', { name: 'Open Quay corner' }).click();
    await app.drawn();
  }
  expect(app.errors).toEqual([]);
});

test('after a save that failed nothing is left without a question; it is tried again by itself', async ({ page }) => {
  await mayFill(page);
  const app = new App(page);
  await app.openPart('swell');
  await fill(page, true);
  await app.object('Swell here').click();
  await app.type('Move x', '0.25');
  await expect(page.locator('[data-save="failed"]')).toContainText('no room left for this site');
  await toShelf(page);
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('Leave "Quay corner"?');
  await expect(dialog).toContainText('no room left');
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    dialog.getByRole('button', { name: 'Save to a file' }).click(),
  ]);
  expect(file.suggestedFilename()).toBe('quay-corner.json');
  await dialog.getByRole('button', { name: 'Stay here' }).click();
  await expect(page.locator('[data-build]')).toBeVisible();
  // Closing the tab asks too.
  const asked = page.waitForEvent('dialog');
  await page.close({ runBeforeUnload: true });
  const question = await asked;
  expect(question.type()).toBe('beforeunload');
  await question.dismiss();
  // Room again: nobody has to do anything.
  await fill(page, false);
  await expect(page.locator('[data-save="saved"]')).toBeVisible();
  expect(await moveX(app)).toBe(0.25);
  await fill(page, true);
  await app.type('Move x', '0.5');
  await expect(page.locator('[data-save="failed"]')).toBeVisible();
  await page.goBack();
  await dialog.getByRole('button', { name: 'Leave without saving' }).click();
  await page.waitForSelector('[data-shelf=ready]');
  // Without room a new project can be begun all the same, and says so in the same words.
  await page.getByRole('button', { name: 'New project' }).click();
  await expect(page.locator('[data-save="failed"]')).toContainText('no room left for this site');
  await fill(page, false);
  await expect(page.locator('[data-save="saved"]')).toBeVisible();
  await page.reload();
  await expect(page.locator('[data-build]')).toBeVisible();
  expect(app.errors).toEqual([]);
});

test('keeping mine keeps its meshes, and says when it cannot', async ({ page }) => {
  await mayFill(page);
  const first = new App(page);
  await first.openPart('swell');
  await first.saved();
  const second = new App(await page.context().newPage());
  await second.visit(page.url());
  await second.page.waitForSelector('[data-build]');
  await second.object('Swell here').click();
  await second.type('Move x', '0.7');
  await second.saved();
  await expect(page.locator('[data-save="elsewhere"]')).toBeVisible();
  await importCrate(page);
  await fill(page, true);
  await page.getByRole('button', { name: 'Keep mine' }).click();
  await expect(page.locator('[data-save="elsewhere"]')).toContainText('no room left');
  await fill(page, false);
  // What is not saved is asked about here too.
  await toShelf(page);
  await expect(page.getByRole('dialog')).toContainText('changed in another tab');
  await page.getByRole('button', { name: 'Stay here' }).click();
  await page.getByRole('button', { name: 'Keep mine' }).click();
  await first.saved();
  await page.reload();
  await page.waitForSelector('[data-build]');
  await first.drawn();
  await expect(first.object('crate')).toBeVisible();
  await expect(page.locator('[data-remark="wrong"]')).toHaveCount(0);
  await first.object('crate').click();
  await expect(page.locator('aside, section, div').filter({ hasText: '4 points' }).first()).toBeVisible();
});

test('an edited demo, and a project that came meanwhile, are never stored over', async ({ page }) => {
  // A shelf that has not heard of either.
  const stale = await page.context().newPage();
  const shelf = new App(stale);
  await shelf.openShelf();
  const app = new App(page);
  await app.openDemo();
  await app.object('Swell here').click();
  await app.type('Move x', '0.77');
  expect(await moveX(app)).toBe(0.77);
  await stale.getByRole('button', { name: 'Open Lantern Quay' }).click();
  await stale.waitForSelector('[data-build="lantern-quay"]');
  expect(await moveX(shelf)).toBe(0.77);
  // A click before the list is there.
  await stale.goto('/', { waitUntil: 'commit' });
  await stale.getByRole('button', { name: 'Open Lantern Quay' }).click();
  await stale.waitForSelector('[data-build="lantern-quay"]');
  expect(await moveX(shelf)).toBe(0.77);
  // Put back only when it was meant.
  await stale.goto('/');
  await stale.waitForSelector('[data-shelf=ready]');
  await stale.getByRole('button', { name: 'More for Lantern Quay' }).click();
  await stale.getByRole('menuitem', { name: 'Put back as shipped' }).click();
  await stale.getByRole('button', { name: 'Keep it' }).click();
  await expect(stale.getByText('Demo · changed')).toBeVisible();
  await stale.getByRole('button', { name: 'More for Lantern Quay' }).click();
  await stale.getByRole('menuitem', { name: 'Put back as shipped' }).click();
  await stale.getByRole('button', { name: 'Put it back' }).click();
  await expect(stale.getByText('Demo · a pufferfish')).toBeVisible();
});

test('a file whose id is taken, or cannot stand in an address, gets its own', async ({ page }) => {
  const app = new App(page);
  await app.newProject();
  const [file] = await Promise.all([page.waitForEvent('download'), page.keyboard.press('Control+s')]);
  const { readFileSync } = await import('node:fs');
  const text = readFileSync((await file.path())!, 'utf8');
  const id = page.url().split('/')[4];
  const stale = await page.context().newPage();
  for (const other of [id, '..', 'a/b', 'a?b#c', '__proto__', '', 'ü'.repeat(300)]) {
    await stale.goto('/');
    await stale.locator('[data-picker="shelf"]').setInputFiles({
      name: 'p.json',
      mimeType: 'application/json',
      buffer: Buffer.from(text.replace(JSON.stringify(id), JSON.stringify(other))),
    });
    await Promise.race([stale.waitForSelector('[data-build]'), stale.waitForSelector('[data-remark="wrong"]')]);
    if (other === '' || other.length > 200) continue;
    expect(await stale.locator('[data-build]').getAttribute('data-build')).not.toBe(id);
    await stale.reload();
    await stale.waitForSelector('[data-build]');
  }
});

test('a worker that ends is noticed at once, and everything that was asked of it ends', async ({ page }) => {
  const app = new App(page);
  await app.openPart('swell', 'water-graph');
  await app.settled();
  const kill = () => page.workers()[0].evaluate(() => self.close());
  // Idle.
  await kill();
  await expect(page.locator('[data-trouble]')).toContainText('nothing is lost', { timeout: 3000 });
  await page.getByRole('button', { name: 'Evaluate' }).click();
  await app.settled();
  // While a file is written: what writes it is held up on its way here.
  await page.context().route('**/assets/*.js', async (route) => {
    await new Promise((done) => setTimeout(done, 4000));
    await route.continue().catch(() => {});
  });
  await page.getByRole('button', { name: 'Project menu' }).click();
  await page.getByRole('menuitem', { name: 'Export a result…' }).click();
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  await kill();
  await expect(page.locator('[data-remark="wrong"]')).toContainText('ended before this was done', { timeout: 5000 });
  await page.context().unroute('**/assets/*.js');
  await page.locator('[data-remark] button').click();
  await page.getByRole('button', { name: 'Evaluate' }).click();
  await app.settled();
  // While the range is kept.
  await page.getByRole('button', { name: /Keep range/ }).click();
  await kill();
  await expect(page.locator('[data-trouble]')).toContainText('nothing is lost', { timeout: 3000 });
  await expect(page.getByRole('button', { name: /Keep range/ })).toBeEnabled();
  await page.getByRole('button', { name: 'Evaluate' }).click();
  await expect(page.locator('[data-trouble]')).toHaveCount(0);
  await app.settled();
  // The watch is still on: an edit is drawn, and a file is written.
  await app.object('Swell here').click();
  await app.andDrawn(() => app.type('Move x', '0.2'));
  await page.getByRole('button', { name: 'Project menu' }).click();
  await page.getByRole('menuitem', { name: 'Export a result…' }).click();
  await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Export', exact: true }).click()]);
});

test('several files come in as one step; a mesh that differs only in its materials or groups is another mesh', async ({
  page,
}) => {
  const app = new App(page);
  await app.newProject();
  const picker = page.locator('[data-picker="mesh"]');
  const obj = (name: string, material: string, group: string) => ({
    name,
    mimeType: 'text/plain',
    buffer: Buffer.from(`mtllib all.mtl\nv 0 0 0\nv 1 0 0\nv 1 1 0\ng ${group}\nusemtl ${material}\nf 1 2 3\n`),
  });
  const library = {
    name: 'all.mtl',
    mimeType: 'text/plain',
    buffer: Buffer.from('newmtl red\nKd 1 0 0\nnewmtl blue\nKd 0 0 1\n'),
  };
  const bring = async (files: (typeof library)[], told: string) => {
    await picker.setInputFiles(files);
    await page.getByRole('button', { name: 'Import', exact: true }).click();
    await expect(page.locator('[data-remark]').first()).toContainText(told);
  };
  await bring([obj('sail.obj', 'red', 'front'), obj('flag.obj', 'red', 'front'), library], 'Imported sail.obj, flag.obj');
  await expect(app.object('sail')).toBeVisible();
  await expect(app.object('flag')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('treeitem')).toHaveCount(0);
  await page.keyboard.press('Control+Shift+z');
  await expect(page.getByRole('treeitem')).toHaveCount(2);
  // One that cannot be read is named; the other is there.
  await bring(
    [{ ...obj('torn.obj', 'red', 'front'), buffer: Buffer.from('f 1 2 3') }, obj('pennant.obj', 'blue', 'back'), library],
    'torn.obj: Line 1',
  );
  await expect(app.object('pennant')).toBeVisible();
  await app.saved();
  await page.reload();
  await app.drawn();
  const stored = await page.evaluate(async () => {
    const request = indexedDB.open('umberfish');
    const db = await new Promise<IDBDatabase>((done) => (request.onsuccess = () => done(request.result)));
    const all = db.transaction('meshes').objectStore('meshes').getAll();
    const found = await new Promise<{ data: { materials: { name: string }[]; groups: string[] } }[]>(
      (done) => (all.onsuccess = () => done(all.result as never)),
    );
    db.close();
    return found.map((m) => `${m.data.materials.map((x) => x.name).join()} ${m.data.groups.join()}`).sort();
  });
  expect(stored).toEqual(['blue back', 'red front']);
  await expect(page.getByRole('treeitem')).toHaveCount(3);
  expect(app.errors).toEqual([]);
});

test('a step that takes long can be let go on, and that is remembered for its graph', async ({ page }) => {
  const app = new App(page);
  await page.clock.install();
  await app.openPart('swell');
  await app.object('Swell here').click();
  /** One step of the worker that takes some seconds, of which the page's clock makes more. */
  const longStep = async (text: string) => {
    await app.settled();
    const worker = page
      .workers()
      .filter((w) => /\/worker-/.test(w.url()))
      .at(-1)!;
    const busy = worker.evaluate(() => {
      const end = Date.now() + 4000;
      while (Date.now() < end);
    });
    // The worker may be given up before it is done.
    busy.catch(() => {});
    await app.type('Move x', text);
    await page.clock.fastForward(2000);
    await page.clock.fastForward(16_000);
  };
  await longStep('0.1');
  await expect(page.locator('[data-trouble]')).toContainText('more than 15 seconds');
  await page.getByRole('button', { name: 'Go on' }).click();
  await longStep('0.2');
  await expect(page.locator('[data-working]')).toBeVisible();
  await app.settled();
  await expect(page.locator('[data-trouble]')).toHaveCount(0);
  await page.reload();
  await app.drawn();
  await longStep('0.3');
  await app.settled();
  await expect(page.locator('[data-trouble]')).toHaveCount(0);
  expect(app.errors).toEqual([]);
});

test('an import that takes long says so, and can be cancelled; the next one is read', async ({ page }) => {
  const app = new App(page);
  await app.newProject();
  const tile = { name: 'tile.obj', mimeType: 'text/plain', buffer: Buffer.from('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n') };
  const importIt = async () => {
    await page.locator('[data-picker="mesh"]').setInputFiles(tile);
    await page.getByRole('button', { name: 'Import', exact: true }).click();
  };
  // A worker that never gets its script reads for ever.
  await page.route('**/import-worker*', () => {});
  await importIt();
  await expect(page.locator('[data-reading]')).toContainText('Reading tile.obj…');
  await page.locator('[data-reading]').getByRole('button', { name: 'Cancel' }).click();
  await expect(page.getByText('Reading tile.obj was cancelled. Nothing was imported.')).toBeVisible();
  await expect(page.locator('[data-reading]')).toHaveCount(0);
  await page.unroute('**/import-worker*');
  await importIt();
  await expect(page.locator('[data-object]')).toHaveCount(1);
  await expect(page.getByText(/^Imported tile.obj/)).toBeVisible();
  expect(app.errors).toEqual([]);
});

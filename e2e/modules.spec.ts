import { expect, test, type Locator, type Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { makeObject, makeProject, REST_CHANNELS } from '@umberfish/core';
import { App } from './app.ts';

const BUOY = fileURLToPath(new URL('../demo/meshes/buoy.obj', import.meta.url));

test('cards become a module, are opened, exposed, copied and unpacked, and the fish stays as it was', async ({ page }) => {
  const app = new App(page);
  await app.openPart('swell');
  await page.locator('[data-bench]').focus();
  await page.keyboard.press('m');
  await expect(page.locator('[data-remark]')).toContainText('Pick the cards');
  await app.card('move').locator('header').click();
  await app.look('move', 'mesh');
  await app.settled();
  const before = await app.row(3);
  // 1. Pick what shall become one, all between the fish and what shows it.
  await app.card('values').locator('header').click();
  for (const id of ['distance', 'ratio', 'shape', 'offset', 'move'])
    await app
      .card(id)
      .locator('header')
      .click({ modifiers: ['Shift'] });
  await page.keyboard.press('m');
  await page.getByLabel('Name of the module').fill('Swell');
  await page.locator('[data-offer="By radius"] input[type=checkbox]').check();
  await page.getByLabel('Name of By radius', { exact: true }).fill('radius');
  await app.andDrawn(() => page.getByRole('button', { name: 'Make it' }).click());
  const use = page.locator('[data-card][data-type^="module:"]');
  await expect(use).toHaveCount(1);
  await use.locator('[data-output]').last().click();
  await app.settled();
  expect(await app.row(3)).toEqual(before);
  // 2. Inside, with its own numbers and the way back.
  await page.keyboard.press('Enter');
  await expect(page.locator('[data-inside]')).toBeVisible();
  await app.wholeInside();
  await expect(app.cardOf('way-in').locator('[data-output]')).toHaveCount(3);
  await app.cardOf('way-in').locator('[data-output]').first().click();
  await app.settled();
  await expect(page.locator('[data-row="3"]')).toBeVisible();
  // 3. An input dropped on Way In is a dial; so is one at the other end a way out.
  const height = app.cardOf('arithmetic', 'Along normals').locator('.react-flow__handle.target[data-port="c"]');
  await dragTo(page, height, app.cardOf('way-in').locator('header'));
  await expect(app.cardOf('way-in').locator('[data-output]')).toHaveCount(4);
  await app.cardOf('way-in').locator('header').click();
  await page.getByLabel('Name of way 4').fill('height');
  await page.keyboard.press('Enter');
  await dragTo(
    page,
    app.cardOf('measure').locator('.react-flow__handle.source[data-port="result"]'),
    app.cardOf('way-out').locator('header'),
  );
  await expect(app.cardOf('way-out').locator('.react-flow__handle.target')).toHaveCount(2);
  // A way that a use has a wire to is not taken out in silence.
  await app.cardOf('way-in').locator('header').click();
  await page.getByRole('button', { name: 'Remove way mesh' }).click();
  await expect(page.locator('[data-losing="1"]')).toContainText('Swell in Swell');
  await page.getByRole('button', { name: 'Keep it' }).click();
  // So does a button beside a field, for settings too.
  await app.cardOf('measure').locator('header').click();
  await page.getByRole('button', { name: 'Make Measure a dial' }).click();
  await expect(page.getByRole('button', { name: 'Make Measure a dial' })).toHaveCount(0);
  // 4. Out again: the use has the dial, with the number of the card it was on; nothing moved.
  await page.locator('[data-bench]').focus();
  await page.keyboard.press('u');
  await expect(page.locator('[data-inside]')).toHaveCount(0);
  await expect(page.getByLabel('height', { exact: true })).toHaveValue(/0.2/);
  // The bench may still be on its way back.
  await expect(async () => {
    await use.locator('[data-output]').first().click();
    await expect(page.locator('[data-row="3"]')).toBeVisible({ timeout: 3000 });
  }).toPass();
  expect(await app.row(3)).toEqual(before);
  // 5. A second use by copy; own copy parts it; unpacked, cards are there again.
  await use.locator('header').click();
  await page.locator('[data-bench]').focus();
  await page.keyboard.press('Control+c');
  await page.keyboard.press('Control+v');
  await expect(use).toHaveCount(2);
  await expect(page.locator('[data-module]')).toContainText('2 uses');
  await page.getByRole('button', { name: 'Own copy' }).click();
  await expect(page.locator('[data-module]')).toContainText('Used here only');
  await page.getByRole('button', { name: 'Unpack' }).click();
  await expect(use).toHaveCount(1);
  await expect(app.cardOf('move-points')).toHaveCount(1);
  await page.keyboard.press('Control+z');
  await expect(use).toHaveCount(2);
  // 6. Inside of one that is undone away, one is outside again.
  await use.last().dblclick({ position: { x: 40, y: 10 } });
  await expect(page.locator('[data-inside]')).toBeVisible();
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
  await expect(page.locator('[data-inside]')).toHaveCount(0);
  await expect(use).toHaveCount(1);
  expect(app.errors).toEqual([]);
});

async function dragTo(page: Page, from: Locator, to: Locator): Promise<void> {
  const [a, b] = [(await from.boundingBox())!, (await to.boundingBox())!];
  await page.mouse.move(a.x + a.width / 2, a.y + a.height / 2);
  await page.mouse.down();
  await page.mouse.move(b.x + b.width / 2, b.y + b.height / 2, { steps: 6 });
  await page.mouse.up();
}

test('a module of the library is put on a dropped mesh in five actions, published with a change, and updated elsewhere', async ({
  page,
}) => {
  const app = new App(page);
  await app.newProject();
  let actions = 0;
  const act = async (work: () => Promise<unknown>) => {
    actions++;
    await work();
  };
  // 1. The mesh arrives; units are taken as they are offered.
  await act(() => page.locator('input[type=file][accept*=".obj"]').first().setInputFiles(BUOY));
  await act(() => page.getByRole('button', { name: 'Import', exact: true }).click());
  await app.settled();
  await act(() => app.pick('buoy'));
  await act(() => page.keyboard.press('Control+k'));
  await page.keyboard.type('swell');
  await act(() =>
    app.andDrawn(() =>
      page
        .getByRole('option', { name: /^Swell Swells a mesh/ })
        .first()
        .click(),
    ),
  );
  expect(actions).toBeLessThanOrEqual(5);
  await expect(page.locator('[data-card][data-type^="module:starter-swell"]')).toHaveCount(1);
  await expect(page.getByRole('treeitem').filter({ hasText: 'Swell place' })).toBeVisible();
  await app.settled();
  // 2. Its dials are at hand; one is turned.
  await app.andDrawn(() => app.type('height', '0.4'));
  // 3. Changed inside, it is published as a version of its own, with a note.
  await page.getByRole('button', { name: 'Look inside' }).click();
  await app.wholeInside();
  await app.cardOf('way-in').locator('header').click();
  await app.typeText('Name of way 4', 'swelling');
  await page.locator('[data-bench]').focus();
  await page.keyboard.press('u');
  await expect(page.getByLabel('swelling', { exact: true })).toHaveValue(/0.4/);
  await page.getByRole('button', { name: 'Publish…' }).click();
  await expect(page.locator('[data-publish]')).toHaveAttribute('data-publish', '1.1');
  await expect(page.locator('[data-publish]')).toContainText('"height" is called "swelling"');
  await expect(page.locator('[data-proven="done"]')).toBeVisible();
  await expect(page.locator('[data-publish] [data-proof="ok"]')).toHaveCount(9);
  await page.getByLabel('Note').fill('Clearer words.');
  await page.getByRole('button', { name: 'Publish 1.1' }).click();
  await expect(page.locator('[data-remark]')).toContainText('1.1 is in the library');
  await app.saved();
  // 4. Another project, with the version before, hears of it; updated, its numbers stay.
  await page.goto('/modules');
  await page.waitForSelector('[data-library]:not([data-library="loading"])');
  await page.locator('[data-module-card="Swell"]').click();
  await expect(page.locator('[data-about="Swell"]')).toContainText('Clearer words.');
  await page.getByRole('button', { name: '1.0 comes with Umberfish' }).click();
  await page.getByRole('button', { name: 'Try it' }).click();
  await app.drawn();
  await app.cardOf('module:starter-swell@1000').locator('header').click();
  await app.andDrawn(() => app.type('height', '0.33'));
  await expect(page.locator('[data-newer]')).toHaveAttribute('data-newer', '1.1');
  await page.getByRole('button', { name: 'What changes on the stage?' }).click();
  await expect(page.locator('[data-moves="0"]')).toContainText('Nothing moves');
  await page.getByRole('button', { name: 'Update it' }).click();
  await expect(page.locator('[data-newer]')).toHaveCount(0);
  await expect(page.getByLabel('swelling', { exact: true })).toHaveValue(/0.33/);
  expect(app.errors).toEqual([]);
});

test('a proof that fails holds a module back, until it is said why it may', async ({ page }) => {
  const app = new App(page);
  await app.openShelf();
  await page.getByRole('button', { name: 'Modules' }).click();
  await page.locator('[data-module-card="Squash And Stretch"]').click();
  await page.getByRole('region', { name: 'Proofs' }).getByRole('button', { name: 'Try them' }).click();
  await expect(page.locator('[data-proofs="8"][data-failed="0"]')).toBeVisible();
  await page.getByRole('button', { name: 'Try it' }).click();
  await app.drawn();
  await app.cardOf('module:starter-squash@1000').locator('header').click();
  await page.getByRole('button', { name: 'Proofs…' }).click();
  await page.getByRole('button', { name: /Add a proof/ }).click();
  await page.getByRole('menuitem', { name: 'Stretch between 0.5 and 2' }).click();
  await page.getByRole('button', { name: /Add a proof/ }).click();
  await page.getByRole('menuitem', { name: 'As it is now' }).click();
  await expect(page.locator('[data-listed="10"]')).toBeVisible();
  await page.getByRole('button', { name: 'Try them' }).click();
  await expect(page.locator('[data-proofs="10"][data-failed="0"]')).toBeVisible();
  await page.getByRole('button', { name: 'Close' }).first().click();
  // Twice as tall by default, it is no longer as recorded, and says so.
  await page.getByRole('button', { name: 'Look inside' }).click();
  await app.wholeInside();
  await app.cardOf('way-in').locator('header').click();
  await page.getByRole('button', { name: 'More of stretch' }).click();
  await app.type('Default', '1.5');
  await page.locator('[data-bench]').focus();
  await page.keyboard.press('u');
  await page.getByRole('button', { name: 'Publish…' }).click();
  await expect(page.locator('[data-proven="fails"]')).toBeVisible();
  await expect(page.locator('[data-proof="fails"]')).toHaveCount(1);
  // Where it fails is shown.
  await expect(page.locator('[data-proof="fails"] [data-picture="made"]')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Publish 1.1' })).toBeDisabled();
  await page.getByPlaceholder('It may fail, because…').fill('It is taller now.');
  await page.getByPlaceholder('It may fail, because…').press('Enter');
  await expect(page.locator('[data-proof="known"]')).toHaveCount(1);
  await page.getByRole('button', { name: 'Publish 1.1' }).click();
  await expect(page.locator('[data-remark]')).toContainText('1.1 is in the library');
  expect(app.errors).toEqual([]);
});

test('two tabs that would publish one number: the second follows with the next', async ({ page }) => {
  const tabs = [new App(page), new App(await page.context().newPage())];
  for (const [i, app] of tabs.entries()) {
    await app.visit('/modules');
    await app.page.locator('[data-module-card="Squash And Stretch"]').click();
    await app.page.getByRole('button', { name: 'Try it' }).click();
    await app.drawn();
    await app.cardOf('module:starter-squash@1000').locator('header').click();
    if (i === 0) {
      await app.page.getByRole('button', { name: 'Look inside' }).click();
      await app.wholeInside();
      await app.cardOf('way-in').locator('header').click();
      await app.page.getByRole('button', { name: 'More of stretch' }).click();
      await app.type('Default', '1.4');
      await app.page.locator('[data-bench]').focus();
      await app.page.keyboard.press('u');
    }
    await app.page.getByRole('button', { name: 'Publish…' }).click();
    await expect(app.page.locator('[data-publish]')).toHaveAttribute('data-publish', '1.1');
  }
  await expect(page.locator('[data-proven="done"]')).toBeVisible();
  const [first, second] = tabs.map((t) => t.page);
  await first.getByRole('button', { name: 'Publish 1.1' }).click();
  await expect(first.locator('[data-remark]')).toContainText('1.1 is in the library');
  await expect(second.locator('[data-publish]')).toHaveAttribute('data-publish', '1.2');
  for (const app of tabs) expect(app.errors).toEqual([]);
});

test('a constraint module is put on a prop and its holders: it stays, and goes along afterwards', async ({ page }) => {
  const app = new App(page);
  const channels = (x: number, y: number, turn = 0) =>
    ({ ...REST_CHANNELS, translate: [x, y, 1], rotate: [0, turn, 20] }) as const;
  await app.openProject({
    ...makeProject('quay', 'Quay'),
    objects: [
      makeObject('lantern', 'Lantern', 'prop', { channels: channels(1, 2, 30) }),
      makeObject('hook', 'Hook', 'locator', { channels: channels(1, 4, 70) }),
      makeObject('mast', 'Mast', 'locator', { channels: channels(-2, 3) }),
    ],
  });
  const stood = await app.standsAt('Lantern');
  // One driver too few is told before anything is made.
  await app.pick('Lantern', 'Hook');
  await page.keyboard.press('Control+k');
  await page.keyboard.type('pass to');
  await expect(page.getByRole('option', { name: /^Pass To Another/ }).first()).toContainText('then its second holder');
  await page.keyboard.press('Escape');
  await app.pick('Lantern', 'Hook', 'Mast');
  await page.keyboard.press('Control+k');
  await page.keyboard.type('pass to');
  await page
    .getByRole('option', { name: /^Pass To Another/ })
    .first()
    .click();
  await expect(page.locator('[data-remark]')).toContainText('carries "Lantern" now, which stays where it is');
  await app.settled();
  const near = (a: readonly number[], b: readonly number[]) => a.forEach((v, i) => expect(v).toBeCloseTo(b[i], 4));
  near(await app.standsAt('Lantern'), stood);
  // The dial alone moves nothing; the holder that has it does.
  await app.cardOf('module:starter-two@1000').locator('header').click();
  await app.andDrawn(() => app.type('hand over', '1'));
  near(await app.standsAt('Lantern'), stood);
  await app.pick('Mast');
  await app.andDrawn(() => app.type('Move x', '0'));
  const [x, y, z] = await app.standsAt('Lantern');
  near([x, y, z], [stood[0] + 2, stood[1], stood[2]]);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-card]')).toHaveCount(0);
  expect(app.errors).toEqual([]);
});

test('the library lists, finds and tries modules', async ({ page }) => {
  const app = new App(page);
  await app.openShelf();
  await page.getByRole('button', { name: 'Modules' }).click();
  await page.waitForSelector('[data-library]:not([data-library="loading"])');
  await page.getByLabel('Search modules').fill('rings water');
  await expect(page.locator('[data-module-card]')).toHaveCount(1);
  await expect(page.locator('[data-about]')).toHaveAttribute('data-about', 'Ripples');
  // Its example is on the card and on a stage, where dials are turned.
  await expect(page.locator('[data-module-card="Ripples"] [data-picture="made"]')).toBeVisible();
  const example = page.locator('[data-example="seen"]');
  await expect(example).toHaveAttribute('data-seen', '{"frame":16}');
  const flat = await pictureIn(page);
  await app.type('height', '0.4');
  await expect(example).toHaveAttribute('data-seen', '{"frame":16,"way-height":0.4}');
  expect(await pictureIn(page)).not.toBe(flat);
  await page.getByRole('button', { name: 'As it comes' }).click();
  await expect(example).toHaveAttribute('data-seen', '{"frame":16}');
  expect(await pictureIn(page)).toBe(flat);
  await page.getByRole('button', { name: 'Play' }).click();
  await expect(example).not.toHaveAttribute('data-seen', '{"frame":16}');
  await page.getByRole('button', { name: 'Pause' }).click();
  await page.getByRole('button', { name: 'Try it' }).click();
  await app.drawn();
  await app.settled();
  expect(app.errors).toEqual([]);
});

test('a module file is saved, opened, and dropped on a project; twice makes no double, a broken one is told', async ({
  page,
}) => {
  const app = new App(page);
  await page.goto('/modules');
  await page.waitForSelector('[data-library]:not([data-library="loading"])');
  await page.locator('[data-module-card="Dent"]').click();
  const [saved] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save as a file' }).click(),
  ]);
  const text = readFileSync(await saved.path(), 'utf8');
  const picker = page.locator('[data-picker="modules"]');
  const open = (name: string, content: string) =>
    picker.setInputFiles({ name, mimeType: 'application/json', buffer: Buffer.from(content) });
  await open('dent.module.json', text);
  await expect(page.locator('[data-remark]')).toContainText('"Dent" was in the library already');
  const other = text.replaceAll('starter-dent', 'knock').replaceAll('"Dent"', '"Knock"');
  await open('knock.module.json', other);
  await expect(page.locator('[data-remark]')).toContainText('"Knock" is in the library now');
  await expect(page.locator('[data-module-card="Knock"] [data-picture="made"]')).toBeVisible();
  await open('half.module.json', other.slice(0, 900));
  await expect(page.locator('[data-remark]')).toContainText('half.module.json: ');
  // Removed, it is gone from here; dropped on a project, it is there and in the library again.
  await page.locator('[data-module-card="Knock"]').click();
  await page.getByRole('button', { name: 'Remove', exact: true }).click();
  await expect(page.locator('[data-module-card="Knock"]')).toHaveCount(0);
  await app.newProject();
  for (const words of ['"Knock" is here now', '"Knock" was here already']) {
    const files = await page.evaluateHandle((content) => {
      const all = new DataTransfer();
      all.items.add(new File([content], 'knock.module.json', { type: 'application/json' }));
      return all;
    }, other);
    await page.locator('[data-bench]').dispatchEvent('drop', { dataTransfer: files });
    await expect(page.locator('[data-remark]')).toContainText(words);
  }
  expect(app.errors).toEqual([]);
});

/** What the stage of the example shows. */
const pictureIn = (page: Page): Promise<string> =>
  page.locator('[data-example] canvas').evaluate((c) => (c as HTMLCanvasElement).toDataURL());

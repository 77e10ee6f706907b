import { expect, test, type BrowserContext } from '@playwright/test';
import { App } from './app.ts';
import { addEach, OFFERED, WAYS } from './every-node.ts';
import { fill, importCrate, mayFill, seeded, toShelf, xOf } from './trials.ts';

const MINUTES = Number(process.env.SOAK_MINUTES ?? 60);
const SEED = Number(process.env.SOAK_SEED ?? 1);

/** A trial on an open project: what it ends with, and whether something was lost. */
type Trial = (app: App, random: () => number, context: BrowserContext) => Promise<'held' | 'lost'>;

const label = (app: App) => app.page.locator('[data-save]').getAttribute('data-save');
const shownX = async (app: App) => {
  await app.object('Swell here').click();
  return Number(await app.page.getByLabel('Move x', { exact: true }).inputValue());
};
const edit = async (app: App, value: number) => {
  await app.object('Swell here').click();
  await app.type('Move x', String(value));
};
const valueFrom = (random: () => number) => Math.floor(random() * 1000) / 1000 + 0.001;
const kill = (app: App) => app.page.workers()[0].evaluate(() => self.close());

const TRIALS: Readonly<Record<string, Trial>> = {
  async 'killed tab'(app, random, context) {
    const before = xOf(await app.stored());
    const value = valueFrom(random);
    await edit(app, value);
    await app.page.waitForTimeout(random() * 900);
    const said = await label(app);
    const url = app.page.url();
    await app.page.close();
    const after = new App(await context.newPage(), true);
    await after.page.goto(url);
    await expect(after.page.locator('[data-build]')).toBeVisible();
    const stored = xOf(await after.stored());
    await after.page.close();
    return stored === value || (said !== 'saved' && stored === before) ? 'held' : 'lost';
  },
  async 'left at once'(app, random) {
    const value = valueFrom(random);
    const id = app.openId;
    await edit(app, value);
    await app.page.waitForTimeout(random() * 500);
    await toShelf(app.page);
    await expect(app.page.locator('[data-shelf=ready]')).toBeVisible();
    return xOf(await app.storedNow(id)) === value ? 'held' : 'lost';
  },
  async 'full disk'(app, random) {
    const value = valueFrom(random);
    await fill(app.page, true);
    await edit(app, value);
    await expect(app.page.locator('[data-save="failed"]')).toBeVisible();
    await toShelf(app.page);
    await app.page.getByRole('button', { name: 'Stay here' }).click();
    await fill(app.page, false);
    return xOf(await app.stored()) === value ? 'held' : 'lost';
  },
  async 'two tabs'(app, random, context) {
    await app.saved();
    const other = new App(await context.newPage(), true);
    await other.page.goto(app.page.url());
    await expect(other.page.locator('[data-build]')).toBeVisible();
    const value = valueFrom(random);
    await edit(other, value);
    await other.saved();
    await expect(app.page.locator('[data-save="elsewhere"]')).toBeVisible();
    const isMine = random() < 0.5;
    if (isMine) {
      await importCrate(app.page);
      await app.page.getByRole('button', { name: 'Keep mine' }).click();
    } else await app.page.getByRole('button', { name: 'Take theirs' }).click();
    await app.saved();
    await app.page.reload();
    await app.drawn();
    const crates = await app.object('crate').count();
    await other.page.close();
    return (isMine ? crates > 0 : (await shownX(app)) === value) ? 'held' : 'lost';
  },
  async 'worker ends'(app, random) {
    const value = valueFrom(random);
    await edit(app, value);
    await app.page.waitForTimeout(random() * 300);
    await kill(app);
    await expect(app.page.locator('[data-trouble]')).toContainText('nothing is lost');
    await app.page.getByRole('button', { name: 'Evaluate' }).click();
    await expect(app.page.locator('[data-trouble]')).toHaveCount(0);
    await app.settled();
    return (await shownX(app)) === value ? 'held' : 'lost';
  },
  async 'undo and redo'(app, random) {
    await app.object('Swell here').click();
    const values: number[] = [await shownX(app)];
    for (let i = 0; i < 4; i++) {
      values.push(valueFrom(random));
      await app.type('Move x', String(values[values.length - 1]));
    }
    const back = 1 + Math.floor(random() * 4);
    for (let i = 0; i < back; i++) await app.page.keyboard.press('Control+z');
    const undone = await shownX(app);
    for (let i = 0; i < back; i++) await app.page.keyboard.press('Control+Shift+z');
    const redone = await shownX(app);
    return undone === values[4 - back] && redone === values[4] ? 'held' : 'lost';
  },
};

test('every node of the catalogue, added in every way there is', async ({ page }) => {
  for (const way of Object.keys(WAYS))
    await addEach(
      new App(page),
      OFFERED.map((node) => [node, way] as const),
    );
});

test(`${MINUTES} minutes of trials`, async ({ browser }) => {
  const random = seeded(SEED);
  const names = Object.keys(TRIALS);
  const table = Object.fromEntries(names.map((name) => [name, { trials: 0, lost: 0, stuck: 0, errors: 0 }]));
  const end = Date.now() + MINUTES * 60_000;
  while (Date.now() < end) {
    const name = names[Math.floor(random() * names.length)];
    const context = await browser.newContext();
    const page = await context.newPage();
    page.setDefaultTimeout(30_000);
    await mayFill(page);
    const app = new App(page, true);
    const row = table[name];
    row.trials++;
    try {
      await app.openPart('swell');
      if ((await TRIALS[name](app, random, context)) === 'lost') row.lost++;
    } catch (error) {
      // What was waited for did not come: it froze, or had no way on.
      row.stuck++;
      console.log(`${name}: ${(error as Error).message.split('\n')[0]}`);
    }
    row.errors += app.errors.length;
    await context.close();
  }
  console.table(table);
  expect(Object.values(table).reduce((sum, r) => sum + r.lost + r.stuck + r.errors, 0)).toBe(0);
});

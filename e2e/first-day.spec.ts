import { fileURLToPath } from 'node:url';
import { expect, test, type Page } from '@playwright/test';
import { App } from './app.ts';

/*
 * What a person does on a first day, counted: a click, a drag, a shortcut, or words typed and taken with Enter are an action
 * each.
 */

const BUOY = fileURLToPath(new URL('../demo/meshes/buoy.obj', import.meta.url));

class Counted {
  actions = 0;
  constructor(
    readonly page: Page,
    readonly app: App,
  ) {}

  async act(work: () => Promise<unknown>): Promise<void> {
    this.actions++;
    await work();
  }

  /** The palette: a shortcut, then words and Enter. */
  async choose(words: string): Promise<void> {
    await this.act(() => this.page.keyboard.press('Control+k'));
    await this.act(async () => {
      await this.page.locator('[data-palette] input').fill(words);
      await this.page.keyboard.press('Enter');
    });
    await this.app.settled();
  }

  async add(what: string): Promise<void> {
    await this.act(() => this.page.getByRole('button', { name: 'Add to the scene' }).click());
    await this.act(() => this.page.getByRole('menuitem', { name: what, exact: true }).click());
    await this.app.settled();
  }

  async type(label: string, text: string): Promise<void> {
    await this.act(() => this.app.type(label, text));
    await this.app.settled();
  }
}

test('from a dropped mesh to a swelling that follows a locator: eight actions at most', async ({ page }) => {
  const app = new App(page);
  await app.newProject();
  const user = new Counted(page, app);
  await user.act(() => page.locator('input[type=file][accept*=".obj"]').first().setInputFiles(BUOY));
  await user.act(() => page.getByRole('button', { name: 'Import', exact: true }).click());
  await app.settled();
  // What was imported is picked: the palette puts things on it.
  await user.choose('bulge');
  await expect(page.locator('[data-card]')).toHaveCount(3);
  // Its centre follows a locator; made so, that is dragged or typed.
  await user.act(() => page.getByRole('button', { name: 'Let centre follow a new locator' }).click());
  await expect(app.cardOf('scene-locator')).toContainText('Bulge centre');
  await expect(page.locator('.react-flow__edge')).toHaveCount(3);
  await app.settled();
  // Moved, it takes the swelling along.
  await app.look('Bulge', 'mesh');
  await app.settled();
  const first = await app.row(0);
  await user.act(() => app.pick('Bulge centre'));
  // Down to the point that the table begins with.
  await user.type('Move y', '-0.42');
  await app.look('Bulge', 'mesh');
  await expect.poll(() => app.row(0)).not.toEqual(first);
  console.log(`A swelling that follows a locator: ${user.actions} actions.`);
  expect(user.actions).toBeLessThanOrEqual(8);
  expect(app.errors).toEqual([]);
});

test('a ball carried by one box and handed to another: twenty actions at most', async ({ page }) => {
  const app = new App(page);
  await app.openShelf();
  const user = new Counted(page, app);
  await user.act(() => page.getByRole('button', { name: 'New project' }).click());
  await page.waitForSelector('[data-build]');
  await user.add('Box');
  await user.type('Move x', '-1.5');
  await user.add('Box');
  await user.type('Move x', '1.5');
  await user.add('Sphere');
  await user.type('Move y', '1.5');
  const stood = await app.standsAt('Sphere');
  for (const [i, name] of ['Sphere', 'Box', 'Box 2'].entries())
    await user.act(() =>
      page
        .getByRole('treeitem')
        .filter({ has: page.getByText(name, { exact: true }) })
        .click(i > 0 ? { modifiers: ['Shift'] } : {}),
    );
  // The constraint is found by its name, and is made for what is picked.
  await user.choose('hand-over');
  await expect(page.locator('[data-remark]')).toContainText('"Sphere" stays where it is');
  (await app.standsAt('Sphere')).forEach((x, i) => expect(x).toBeCloseTo(stood[i], 5));
  await user.act(() => app.frame(24));
  await user.act(() => app.pick('Sphere'));
  await user.choose('hand over to the next');
  expect(user.actions).toBeLessThanOrEqual(20);
  console.log(`A ball handed from box to box: ${user.actions} actions.`);
  // It goes with the first box before, and with the second from there on.
  (await app.standsAt('Sphere')).forEach((x, i) => expect(x).toBeCloseTo(stood[i], 4));
  const shifted = async (box: string, frame: number) => {
    await app.frame(frame);
    const before = await app.standsAt('Sphere');
    await app.pick(box);
    await app.type('Move z', '1');
    await app.settled();
    const after = await app.standsAt('Sphere');
    await page.keyboard.press('Control+z');
    await app.settled();
    return after[2] - before[2];
  };
  expect(await shifted('Box', 12)).toBeCloseTo(1, 4);
  expect(await shifted('Box 2', 12)).toBeCloseTo(0, 4);
  expect(await shifted('Box', 30)).toBeCloseTo(0, 4);
  expect(await shifted('Box 2', 30)).toBeCloseTo(1, 4);
  expect(app.errors).toEqual([]);
});

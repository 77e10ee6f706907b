import { expect, test, type Locator, type Page } from '@playwright/test';
import { makeBox, makeObject, makeProject, meshId, REST_CHANNELS, type Mesh, type Project } from '@umberfish/core';
import { App } from './app.ts';

/** A quay of crates, with a mast that is moved away and turned. */
function quay(): [Project, ReadonlyMap<string, Mesh>] {
  const mesh = makeBox([1, 1, 1], [2, 2, 2]);
  const id = meshId(mesh);
  const crate = (n: number) =>
    makeObject(`crate-${n}`, `Crate ${n}`, 'mesh', { mesh: id, channels: { ...REST_CHANNELS, translate: [n * 2 - 6, 0.5, 0] } });
  const channels = { ...REST_CHANNELS, translate: [1, 2, 3], rotate: [0, 40, 10] } as const;
  const project: Project = {
    ...makeProject('quay', 'Quay'),
    assets: [{ id, name: 'Crate', points: mesh.topology.pointCount, faces: mesh.topology.faceCount, origin: '' }],
    objects: [
      makeObject('mast', 'Mast', 'group', { channels }),
      makeObject('rope', 'Rope end', 'locator', { parent: 'mast' }),
      ...[1, 2, 3, 4, 5].map(crate),
      makeObject('gull', 'Gull', 'group'),
    ],
  };
  return [project, new Map([[id, mesh]])];
}

const row = (page: Page, name: string) => page.getByRole('treeitem').filter({ has: page.getByText(name, { exact: true }) });
const rows = (page: Page) =>
  page.getByRole('treeitem').evaluateAll((all) => all.map((r) => r.querySelector('[title]')?.textContent));

/** Drags a row over another: near its top, its middle or its bottom. */
async function dragRow(from: Locator, to: Locator, part: number): Promise<void> {
  const page = from.page();
  await from.scrollIntoViewIfNeeded();
  const a = (await from.boundingBox())!;
  const b = (await to.boundingBox())!;
  await page.mouse.move(a.x + 90, a.y + a.height / 2);
  await page.mouse.down();
  await page.mouse.move(a.x + 94, a.y + a.height / 2 + 4);
  await page.mouse.move(b.x + 90, b.y + b.height * part, { steps: 4 });
  await page.mouse.move(b.x + 91, b.y + b.height * part);
  await expect(to).toHaveAttribute('data-drop', /./);
  await page.mouse.up();
}

test('rows are dragged under another and between others; everything stays where it stood, and one undo takes it back', async ({
  page,
}) => {
  const app = new App(page, true);
  await app.openProject(...quay());
  const order = ['Mast', 'Rope end', 'Crate 1', 'Crate 2', 'Crate 3', 'Crate 4', 'Crate 5', 'Gull'];
  expect(await rows(page)).toEqual(order);
  const stood = await app.standsAt('Crate 2');
  // 1. Two that are picked go under the mast together.
  await app.pick('Crate 2', 'Crate 4');
  await dragRow(row(page, 'Crate 4'), row(page, 'Mast'), 0.5);
  await app.settled();
  await expect(row(page, 'Crate 2')).toHaveAttribute('aria-level', '2');
  expect(await rows(page)).toEqual(['Mast', 'Rope end', 'Crate 2', 'Crate 4', 'Crate 1', 'Crate 3', 'Crate 5', 'Gull']);
  (await app.standsAt('Crate 2')).forEach((x, i) => expect(x).toBeCloseTo(stood[i], 4));
  // 2. One goes between two rows, and hangs under what they hang under.
  await dragRow(row(page, 'Gull'), row(page, 'Crate 2'), 0.05);
  await app.settled();
  expect(await rows(page)).toEqual(['Mast', 'Rope end', 'Gull', 'Crate 2', 'Crate 4', 'Crate 1', 'Crate 3', 'Crate 5']);
  await expect(row(page, 'Gull')).toHaveAttribute('aria-level', '2');
  // 3. Nothing hangs under what hangs under it.
  const [mast, rope] = [(await row(page, 'Mast').boundingBox())!, (await row(page, 'Rope end').boundingBox())!];
  await page.mouse.move(mast.x + 90, mast.y + 12);
  await page.mouse.down();
  await page.mouse.move(mast.x + 94, mast.y + 16);
  await page.mouse.move(rope.x + 90, rope.y + 13, { steps: 4 });
  await expect(row(page, 'Rope end')).not.toHaveAttribute('data-drop', /./);
  await page.mouse.up();
  // 4. Undone step by step.
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect.poll(() => rows(page)).toEqual(order);
  expect(app.errors).toEqual([]);
});

test('a search keeps what finds hang under; a lock keeps the stage from picking, also what hangs under it', async ({ page }) => {
  const app = new App(page, true);
  await app.openProject(...quay());
  const search = page.getByLabel('Search the scene');
  await search.fill('rope');
  await expect.poll(() => rows(page)).toEqual(['Mast', 'Rope end']);
  await search.fill('whale');
  await expect(page.getByText('No object is called that.')).toBeVisible();
  await search.press('Escape');
  await expect(page.getByRole('treeitem')).toHaveCount(8);
  // Picked by a click on the stage, unless it is locked: then the click goes through.
  const canvas = page.locator('[data-stage] canvas');
  await app.frameObject('Crate 3');
  await row(page, 'Gull').click();
  const box = (await canvas.boundingBox())!;
  const middle = { position: { x: box.width / 2, y: box.height / 2 } };
  await canvas.click(middle);
  await expect(row(page, 'Crate 3')).toHaveAttribute('aria-selected', 'true');
  await row(page, 'Crate 3').hover();
  await page.getByRole('button', { name: 'Lock Crate 3' }).click();
  await row(page, 'Gull').click();
  await canvas.click(middle);
  await expect(row(page, 'Crate 3')).toHaveAttribute('aria-selected', 'false');
  // From the menu it is unlocked again; Ctrl A picks all that is listed.
  await row(page, 'Crate 3').click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Unlock' }).click();
  await expect(page.getByRole('button', { name: 'Unlock Crate 3' })).toHaveCount(0);
  await page.getByRole('tree').focus();
  await page.keyboard.press('Control+a');
  await expect(page.locator('[role=treeitem][aria-selected=true]')).toHaveCount(8);
  expect(app.errors).toEqual([]);
});

test('graphs are searched by what they move, put into folders, ordered, made again, removed; keys go through them', async ({
  page,
}) => {
  const app = new App(page, true);
  await app.openPart('swell', 'lead', 'crane-aims');
  const list = page.locator('[data-graph-list]');
  const open = () => page.getByRole('button', { name: /^Choose a graph/ }).click();
  const shown = () => page.locator('[data-graph]').evaluateAll((all) => all.map((r) => (r as HTMLElement).dataset.graph));
  await open();
  await expect(list).toContainText('Pufferfish');
  await list.getByLabel('Search the graphs').fill('crane arm');
  await expect.poll(shown).toEqual(['Crane aims']);
  // Opening it shows the crane, not the fish: the view is another one.
  const before = await app.stage.locator('canvas').screenshot();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Choose a graph: Crane aims' })).toBeVisible();
  await app.settled();
  expect((await app.stage.locator('canvas').screenshot()).equals(before)).toBe(false);
  await page.locator('[data-bench]').focus();
  await page.keyboard.press('PageDown');
  await expect(page.getByRole('button', { name: 'Choose a graph: Swell' })).toBeVisible();
  await page.keyboard.press('PageUp');
  await expect(page.getByRole('button', { name: 'Choose a graph: Crane aims' })).toBeVisible();
  // Its folder is another, and it goes before another graph.
  await open();
  await page.getByRole('button', { name: 'More of Crane aims' }).click();
  await page.getByRole('menuitem', { name: 'Put into a folder…' }).click();
  await page.getByLabel('Folder', { exact: true }).fill('Fish');
  await page.keyboard.press('Enter');
  await expect.poll(shown).toEqual(['Swell', 'Crane aims', 'Lead weight']);
  const messages = page.getByRole('tab', { name: 'Messages' });
  const told = await messages.innerText();
  await page.getByRole('button', { name: 'More of Swell' }).click();
  await page.getByRole('menuitem', { name: 'Duplicate' }).click();
  await expect(page.locator('[data-remark]')).toContainText('"Swell 2" is here. Skipped in it');
  await app.settled();
  await expect(messages).toHaveText(told);
  await expect.poll(shown).toEqual(['Swell', 'Swell 2', 'Crane aims', 'Lead weight']);
  await page.getByRole('button', { name: 'More of Swell 2' }).click();
  await page.getByRole('menuitem', { name: 'Remove' }).click();
  await expect.poll(shown).toEqual(['Swell', 'Crane aims', 'Lead weight']);
  await page.getByRole('button', { name: 'More of Swell', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Rename…' }).click();
  await page.getByLabel('Name of the graph').fill('Puff');
  await page.keyboard.press('Enter');
  await expect.poll(shown).toEqual(['Puff', 'Crane aims', 'Lead weight']);
  expect(app.errors).toEqual([]);
});

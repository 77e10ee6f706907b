import { expect, test } from '@playwright/test';
import { makeBox, makeObject, makeProject, meshId, type ObjectRecord } from '@umberfish/core';
import { App } from './app.ts';

// Scenes that are large or deep: they open, are drawn, and answer.

/** Locators, groups in chains of fifty, and crates, to so many objects. */
function largeScene(count: number) {
  const mesh = makeBox([0.5, 0.5, 0.5], [1, 1, 1]);
  const asset = { id: meshId(mesh), name: 'crate', points: 8, faces: 6, origin: 'crate.obj' };
  const objects: ObjectRecord[] = [];
  for (let i = 0; i < count; i++) {
    const type = i % 10 < 7 ? 'locator' : i % 10 < 9 ? 'group' : 'mesh';
    const parent = type === 'group' && i % 100 > 10 ? objects[i - (i % 10 === 7 ? 9 : 1)].id : null;
    const made = makeObject(`o${i}`, `Thing ${i}`, type, { parent, mesh: type === 'mesh' ? asset.id : null });
    objects.push({ ...made, channels: { ...made.channels, translate: [(i % 150) * 0.7, 0, Math.floor(i / 150) * 0.7] } });
  }
  const project = { ...makeProject('large', 'Quay of many things'), objects, assets: [asset] };
  return { project, assets: new Map([[asset.id, mesh]]) };
}

test('a scene of 20,000 objects opens, scrolls and is edited', async ({ page }) => {
  const app = new App(page);
  const { project, assets } = largeScene(20_000);
  await app.openProject(project, assets);
  const tree = page.getByRole('tree', { name: 'Objects' });
  await expect(tree.getByRole('treeitem').first()).toHaveAttribute('aria-setsize', '20000');
  expect(await tree.getByRole('treeitem').count()).toBeLessThan(400);
  await tree.evaluate((list) => (list.scrollTop = list.scrollHeight));
  await app.object('Thing 19999').click();
  await app.andDrawn(() => app.type('Move x', '2'));
  await page.keyboard.press('Escape');
  // By the keys one stays in sight.
  await tree.focus();
  await page.keyboard.press('ArrowUp');
  await expect(tree.locator('[aria-selected=true]')).toBeInViewport();
  // What it hangs under is found by typing.
  await page.getByRole('combobox', { name: 'Parent', exact: true }).click();
  await page.getByPlaceholder('Type a part of the name').fill('Thing 1234');
  await expect(page.getByRole('option')).toHaveCount(11);
  await page.getByRole('option', { name: 'Thing 1234', exact: true }).click();
  await expect(page.getByRole('combobox', { name: 'Parent', exact: true })).toHaveText('Thing 1234');
  await app.saved();
  expect(app.errors).toEqual([]);
});

test('glTF nested 20,000 deep, and with 5,000 objects side by side, come in', async ({ page }) => {
  const app = new App(page);
  await app.newProject();
  const gltf = (nodes: object[], roots: number[]) =>
    Buffer.from(JSON.stringify({ asset: { version: '2.0' }, scene: 0, scenes: [{ nodes: roots }], nodes }));
  const bring = (name: string, buffer: Buffer) =>
    page.locator('[data-picker="mesh"]').setInputFiles({ name, mimeType: 'model/gltf+json', buffer });
  const flat = Array.from({ length: 5000 }, (_, i) => ({ name: 'Bollard', translation: [i * 0.5, 0, 0] }));
  await bring(
    'row.gltf',
    gltf(
      flat,
      flat.map((_, i) => i),
    ),
  );
  await expect(page.locator('[data-remark="done"]')).toContainText('Imported row.gltf');
  await expect(page.getByRole('treeitem').first()).toHaveAttribute('aria-setsize', '5000');
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('treeitem')).toHaveCount(0);
  const deep = Array.from({ length: 20_000 }, (_, i) => ({
    name: 'Link',
    translation: [0, -0.1, 0],
    ...(i < 19_999 ? { children: [i + 1] } : {}),
  }));
  await bring('chain.gltf', gltf(deep, [0]));
  await expect(page.locator('[data-remark]')).toContainText('deep');
  await expect(page.getByRole('treeitem').first()).toHaveAttribute('aria-setsize', '500');
  await app.settled();
  expect(app.errors).toEqual([]);
});

test('a range of a thousand million frames is cut, with a word; long ranges are looked at in steps', async ({ page }) => {
  const app = new App(page);
  const project = makeProject('long', 'Long watch');
  const lamp = makeObject('lamp', 'Lamp', 'locator');
  await app.openProject({ ...project, objects: [lamp], range: { first: 1, last: 1_000_000_000 } });
  await expect(page.locator('[data-remark="wrong"]')).toContainText('was cut there');
  await expect(page.getByText('/ 1000000', { exact: true })).toBeVisible();
  expect(await page.locator('[data-ruler] span').count()).toBeLessThan(250);
  await page.locator('[data-ruler]').focus();
  await page.keyboard.press('End');
  await app.settled();
  await page.locator('body').click({ position: { x: 5, y: 5 } });
  // Typed, a last frame stops at the limit too.
  await app.type('Last frame', '5000000000');
  await expect(page.getByLabel('Last frame', { exact: true })).toHaveValue('1000000');
  await app.type('Last frame', '48');
  await expect(page.getByText('/ 48', { exact: true })).toBeVisible();
  expect(app.errors).toEqual([]);
});

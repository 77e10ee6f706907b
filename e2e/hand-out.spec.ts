import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { addPage, makeObject, readProjectFile, type Project } from '@umberfish/core';
import { Animator, DIAL, MOVE, object, quay, remark, TURN } from './animator.ts';

// A small window draws quicker in software.
test.use({ viewport: { width: 1080, height: 680 } });

test('handed out as a file: it opens on Animate, the rig stays; the keys come back, and what no longer fits is told', async ({
  page,
}) => {
  const app = new Animator(page);
  const [project, assets] = quay();
  await app.openProject(project, assets);
  // The hand-out is made on Build, of what is picked.
  await app.pick('Swell here', 'Lantern');
  await app.menu('Project menu', 'Hand out to animators…');
  const sheet = page.getByRole('dialog');
  await sheet.getByRole('button', { name: 'A page with what is picked' }).click();
  await sheet.getByLabel('Name of Swell here for animators').fill('Bump');
  await sheet.getByLabel('Name of Swell here for animators').press('Enter');
  await sheet.locator('[data-part="Swell here"]').getByLabel('Size').uncheck();
  await sheet.getByRole('combobox', { name: 'Add to the page' }).click();
  await page.getByPlaceholder('Type a part of the name').fill('left');
  await page.keyboard.press('Enter');
  await expect(sheet.locator('[data-part]')).toHaveCount(3);
  await sheet.getByRole('button', { name: 'Move left fin up' }).click();
  await page.keyboard.press('Escape');
  const made = (await app.document()).handOut!;
  expect(made.pages[0].parts.map((p) => (p.kind === 'object' ? p.object : p.node))).toEqual(['here', 'fin-l', 'lantern']);
  expect(made.pages[0].parts[0]).toMatchObject({ name: 'Bump', channels: [...MOVE, ...TURN] });
  const download = page.waitForEvent('download');
  await app.menu('Project menu', 'Save a file for animation');
  const path = await (await download).path();
  expect(readProjectFile(readFileSync(path, 'utf8')).project.forAnimation).toBe(true);
  // The rig goes on: the fin goes.
  await app.pick('left fin');
  await page.keyboard.press('Delete');
  await app.settled();
  await app.saved();
  const rig = page.url();
  // The animator's copy.
  await app.openShelf();
  await page
    .locator('[data-picker="shelf"]')
    .setInputFiles({ name: 'small-quay.json', mimeType: 'application/json', buffer: readFileSync(path) });
  await app.still();
  await expect(page).toHaveURL(/\/animate$/);
  await expect(page.getByRole('link', { name: 'Build', exact: true })).toHaveCount(0);
  await page.goto(page.url().replace('/animate', '/build'));
  await app.still();
  await expect(page).toHaveURL(/\/animate$/);
  await app.tab('Body');
  await app.autoKey();
  await app.goTo(12);
  await app.set('Bump move x', '0.4');
  await app.set('left fin turn z', '30');
  const keyed = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Project menu' }).click();
  await page.getByRole('menuitem', { name: 'Save to a file' }).click();
  const back = await (await keyed).path();
  // And back into the rig.
  await page.goto(rig);
  await app.settled();
  await page
    .locator('[data-picker="keys"]')
    .setInputFiles({ name: 'back.json', mimeType: 'application/json', buffer: readFileSync(back) });
  await expect(remark(page)).toContainText('"left fin" is no longer in the rig; its keys stay behind.');
  const joined = await app.document();
  expect(joined.objects.find((o) => o.id === 'here')?.animated['translate.x']).toMatchObject({
    keys: { keys: [{ frame: 12, value: 0.4 }] },
  });
  expect(joined.forAnimation).toBe(false);
  expect(app.errors).toEqual([]);
});

test('what is handed out and gone is told; five hundred dials, an empty page, a pose of another rig', async ({ page }) => {
  const app = new Animator(page);
  const [project, assets] = quay();
  const custom = Array.from({ length: 200 }, (_, i) => ({ ...DIAL, id: `d${i}`, name: `dial ${i}` }));
  const many = ['a', 'b', 'c'].map((id) =>
    makeObject(id, `Crowd ${id}`, 'prop', { custom: id === 'c' ? custom.slice(0, 100) : custom }),
  );
  const base: Project = {
    ...project,
    objects: [...project.objects, ...many],
    poses: [{ id: 'p', name: 'Squid', picture: null, values: { objects: { squid: { 'translate.x': 1 } }, dials: {} } }],
  };
  const given = [
    addPage('Gone', [object('nobody', MOVE, 'Old fin'), object('here', [...MOVE, 'nothing'])]),
    addPage(
      'Crowd',
      many.map((o) =>
        object(
          o.id,
          o.custom.map((c) => c.id),
        ),
      ),
    ),
    addPage('Empty'),
  ].reduce((p, edit) => edit(p), base);
  await app.open(given, assets);
  await app.tab('Gone');
  await expect(page.getByText('Page "Gone" hands out "Old fin", which is no longer there.')).toBeVisible();
  await expect(page.getByText('Page "Gone" hands out channels of "Swell here" that are no longer there.')).toBeVisible();
  await app.tab('Empty');
  await expect(page.getByText('Nothing of it is handed out.')).toBeVisible();
  await app.tab('Crowd');
  await expect(page.locator('[data-dial]')).toHaveCount(500);
  await page.getByRole('region', { name: 'Crowd b' }).getByLabel('dial 99', { exact: true }).fill('0.5');
  await page.keyboard.press('Enter');
  await app.still();
  await page.getByRole('button', { name: 'Put on Squid' }).click();
  await expect(remark(page)).toContainText('"Squid" fits nothing here. 1 of its numbers belong to what is not in this project.');
  expect(app.errors).toEqual([]);
});

test('a new user poses and keys the pufferfish, hands the lantern over and plays it: 25 actions at most', async ({ page }) => {
  const app = new Animator(page);
  let actions = 0;
  const act = async (work: () => Promise<unknown>) => {
    actions++;
    await work();
    if (actions > 1) await app.still();
  };
  await app.openShelf();
  await act(() => page.getByRole('button', { name: 'Open Lantern Quay' }).click());
  await app.settled();
  await act(() => page.getByRole('link', { name: 'Animate', exact: true }).click());
  await act(() => page.getByRole('button', { name: 'Auto-key' }).click());
  const { x, y, width, height } = await app.canvas;
  await act(() => page.mouse.click(x + width * 0.48, y + height * 0.5));
  await expect(page.locator('[data-stage-line]')).toContainText('Pufferfish');
  await act(() => page.getByRole('button', { name: 'Put on Asleep' }).click());
  await act(() => app.goTo(40));
  await act(() => page.getByRole('button', { name: 'Put on Startled' }).click());
  await act(() => app.goTo(80));
  await act(() => app.type('Height', '0.1'));
  await act(() => app.tab('Crane'));
  await act(() => app.goTo(30));
  await act(() => page.locator('[data-held-by="hand-lantern"]').getByRole('button', { name: 'Mast top' }).click());
  await act(() => page.getByRole('button', { name: 'Play', exact: true }).click());
  await expect(page.getByRole('button', { name: 'Pause', exact: true })).toBeVisible();
  await page.waitForFunction(() => Number(document.querySelector<HTMLElement>('[data-stage]')?.dataset.frame) !== 30);
  await page.keyboard.press('Space');
  console.log(`Poses, keys and a hand-over by ${actions} actions.`);
  expect(actions).toBeLessThanOrEqual(25);
  const { graphs, objects } = await app.document();
  const swelling = graphs.flatMap((g) => g.nodes).find((n) => n.id === 'offset')?.inputs.c as unknown as {
    keys: { keys: { frame: number }[] };
  };
  expect(swelling.keys.keys.map((k) => k.frame)).toEqual([1, 40, 80]);
  const lantern = objects.find((o) => o.id === 'hand-lantern')?.animated['hand-over'] as unknown as typeof swelling;
  expect(lantern.keys.keys.some((k) => k.frame === 30)).toBe(true);
  expect(app.errors).toEqual([]);
});

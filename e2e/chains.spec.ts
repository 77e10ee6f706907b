import { expect, test } from '@playwright/test';
import { bakeObjects } from '@umberfish/bake';
import { CATALOGUE, Evaluator, makeBox, meshId, makeObject, makeProject, REST_CHANNELS, type Project } from '@umberfish/core';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { App } from './app.ts';

/** A post to draw joints into. */
function post(): [Project, ReadonlyMap<string, ReturnType<typeof makeBox>>] {
  const mesh = makeBox([0.5, 3, 0.5], [2, 6, 2]);
  const id = meshId(mesh);
  return [
    {
      ...makeProject('post', 'Post'),
      assets: [{ id, name: 'Post', points: mesh.topology.pointCount, faces: mesh.topology.faceCount, origin: '' }],
      objects: [makeObject('post', 'Post', 'mesh', { mesh: id })],
    },
    new Map([[id, mesh]]),
  ];
}

test('joints are drawn inside of a body, put between, named and turned; each is a step, and a wrong pick is told', async ({
  page,
}) => {
  const app = new App(page);
  await app.openProject(...post());
  await app.stage.focus();
  await page.keyboard.press('f');
  await app.settled();
  await app.menu('Add to the scene', 'Chain of joints');
  await expect(page.locator('[data-joint-bar="0"]')).toContainText('Click where the next joint goes.');
  const box = await app.stage.boundingBox();
  if (!box) throw new Error('The stage is not there.');
  for (const share of [0.35, 0.5, 0.65]) {
    await page.mouse.click(box.x + box.width / 2, box.y + box.height * share);
    await app.settled();
  }
  for (const name of ['Joint 1', 'Joint 2', 'Joint 3']) await expect(app.object(name)).toBeVisible();
  await app.stage.focus();
  await page.keyboard.press('Escape');
  // In the middle of the post, not on its side.
  const stored = await app.stored();
  const joints = stored.objects.filter((o) => o.name.startsWith('Joint'));
  expect(joints.length).toBe(3);
  const depth = joints[0].channels.translate;
  expect(Math.hypot(depth[0], depth[2])).toBeLessThan(0.25);
  await app.object('Joint 3').click();
  await page.getByRole('button', { name: 'Insert' }).click();
  await expect(app.object('Joint 3 half')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(app.object('Joint 3 half')).toHaveCount(0);
  await app.object('Joint 2').click();
  await page.getByRole('button', { name: 'Mirror…' }).click();
  await page.getByRole('menuitem', { name: /Across x/ }).click();
  await expect(page.getByText('No joint here has a side in its name')).toBeVisible();
  await page.getByRole('button', { name: 'Orient…' }).click();
  await page.getByRole('menuitem', { name: 'x along the bone, y up' }).click();
  await app.settled();
  expect(app.errors).toEqual([]);
});

test('the heron: joints are listed by name; a foot that is moved stays out of the shingle; what cannot be is told', async ({
  page,
}) => {
  const app = new App(page);
  await app.openPart('heron-wades', 'heron-skin-graph');
  await app.openGraph('Heron wades');
  await app.look('hw-in', 'chain');
  await expect(page.getByRole('rowheader', { name: 'Pelvis' })).toBeVisible();
  await app.look('hw-left-down', 'after');
  const depths = page.locator('[role="gridcell"]');
  await expect(depths.first()).toBeVisible();
  for (const text of await depths.allTextContents())
    expect(Number(text.replace('−', '-').replaceAll(' ', ''))).toBeLessThan(0.001);
  await expect(page.getByRole('rowheader', { name: 'Left heel' })).toBeVisible();
  // Over the range: each contact with its worst frame, where a click goes.
  await page.getByRole('tab', { name: 'Contact' }).click();
  await page.waitForSelector('[data-contacts="3"]');
  const heel = page.locator('[data-contact="Left heel"]');
  const deepest = Number(/[\d.]+/.exec(await heel.locator('td').first().innerText())?.[0]);
  expect(deepest).toBeGreaterThan(20);
  const worst = heel.getByRole('button').first();
  const frame = Number(await worst.innerText());
  await worst.click();
  await app.settled();
  await expect(page.getByLabel('Frame', { exact: true })).toHaveValue(String(frame));
  const saved = page.waitForEvent('download');
  await page.getByRole('button', { name: 'CSV' }).click();
  const lines = readFileSync(await (await saved).path(), 'utf8')
    .trim()
    .split('\n');
  expect(lines).toHaveLength(3 * 120 + 1);
  expect(Number(lines[frame].split(',')[2]) * 1000).toBeCloseTo(deepest, 1);
  await app.object('Left foot goal').click();
  await app.settled();
  await app.card('hw-left-leg').click();
  await app.typeText('Tip', 'Left fin');
  await expect(app.card('hw-left-leg')).toContainText('no joint "Left fin"');
  await page.keyboard.press('Control+z');
  await expect(app.card('hw-left-leg')).not.toContainText('no joint "Left fin"');
  expect(app.errors).toEqual([]);
});

test('a module of the library poses the joint that is picked: its end goes to the locator that is made, and the next comes on top', async ({
  page,
}) => {
  const app = new App(page);
  const at = (x: number, y: number, z: number) => ({ ...REST_CHANNELS, translate: [x, y, z] as const });
  const joint = (id: string, parent: string, x: number, y: number, z: number) =>
    makeObject(id, id, 'joint', { parent, channels: at(x, y, z), rest: at(x, y, z) });
  await app.openProject({
    ...makeProject('leg', 'Leg'),
    objects: [
      makeObject('boatman', 'Boatman', 'chain', { channels: at(0, 1.2, 0) }),
      ...[joint('Hip', 'boatman', 0, 0, 0), joint('Knee', 'Hip', 0, -0.5, 0.1), joint('Ankle', 'Knee', 0, -0.5, -0.1)],
    ],
  });
  const stood = await app.standsAt('Ankle');
  const put = async (name: string, more: string) => {
    await app.pick('Ankle');
    await page.keyboard.press('Control+k');
    await page.keyboard.type(name);
    const entry = page.getByRole('option', { name: new RegExp(`^${name}`) }).first();
    await expect(entry).toContainText(more);
    return entry;
  };
  // What it misses is told before anything is made.
  await put('Foot On The Ground', 'its ground');
  await page.keyboard.press('Escape');
  await (await put('Limb To A Target', 'Bends an arm')).click();
  await expect(page.locator('[data-remark]')).toContainText('Limb To A Target is on Ankle');
  await app.settled();
  expect(await page.locator('[data-card]').count()).toBe(4);
  await expect(page.getByRole('combobox', { name: 'tip', exact: true })).toHaveValue('Ankle');
  await app.pick('Limb To A Target target');
  await app.andDrawn(() => app.type('Move x', '0.4'));
  await app.andDrawn(() => app.type('Move y', '0.6'));
  const there = await app.standsAt('Ankle');
  [0.4, 0.6, stood[2]].forEach((v, k) => expect(there[k]).toBeCloseTo(v, 3));
  // The second one goes into the same graph, and one undo takes it out.
  await (await put('Tail That Lags', 'Lets the end')).click();
  await app.settled();
  await expect(page.locator('[data-card]')).toHaveCount(5);
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-card]')).toHaveCount(4);
  expect(app.errors).toEqual([]);
});

test('a GLB with a skin comes in as a chain, a mesh with weights, and a graph that moves it', async ({ page }) => {
  const app = new App(page);
  const [project, assets] = app.partOf('heron-wades', 'heron-skin-graph');
  const evaluator = new Evaluator(CATALOGUE);
  for (const [id, mesh] of assets) evaluator.setAsset(id, mesh);
  const path = join(mkdtempSync(join(tmpdir(), 'umberfish-')), 'heron.glb');
  const bake = {
    project,
    evaluator,
    frames: [1, 5, 9],
    objects: ['heron'],
    format: 'glb' as const,
    stem: 'heron',
    keepGoing: true,
    checkpoint: () => {},
  };
  for await (const made of bakeObjects(bake)) if (made.kind === 'file') writeFileSync(path, made.content);
  await app.newProject();
  await page.locator('[data-picker="mesh"]').setInputFiles(path);
  await app.settled();
  await expect(app.object('Heron skin')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Choose a graph' })).toBeVisible();
  await page.getByRole('button', { name: 'Choose a graph' }).click();
  await page.locator('[data-graph="Skin of Heron skin"] [data-choose]').click();
  await app.settled();
  await expect.poll(async () => (await app.stageData()).results).toBe('1');
  expect(app.errors).toEqual([]);
});

import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import {
  indexOf,
  objectsById,
  readProjectFile,
  transformPacked,
  withPositions,
  worldMatrix,
  type ObjectRecord,
  assetIdOf,
  curveOf,
} from '@umberfish/core';
import { App } from './app.ts';

/** Curves, falloffs, nearness and copies, as a rigging TD works with them. */

test('a curve is drawn and edited in the stage: points, handles, type, ends, roll; every step can be undone', async ({
  page,
}) => {
  const app = new App(page);
  await app.newProject();
  await app.menu('Add to the scene', /Curve/);
  const bar = page.locator('[data-curve-bar]');
  const canvas = (await app.stage.locator('canvas').boundingBox())!;
  for (const [x, y] of [
    [0.2, 0.55],
    [0.4, 0.45],
    [0.6, 0.6],
    [0.8, 0.5],
  ])
    await app.andDrawn(() => page.mouse.click(canvas.x + x * canvas.width, canvas.y + y * canvas.height));
  await expect(bar).toHaveAttribute('data-curve-bar', '4');
  await app.stage.focus();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'Draw points' })).toBeVisible();
  // A point is picked and taken up by the arrow of its handle.
  const length = async () => Number(/([\d.]+) m long/.exec(await page.getByRole('region', { name: 'Curve' }).innerText())?.[1]);
  const before = await length();
  const [, second] = await app.curveHolds();
  await page.mouse.click(second.x, second.y);
  const taken = await app.markedPoint();
  await app.dragUp(taken, 60);
  expect(await length()).toBeGreaterThan(before + 0.05);
  // Its two handles can be taken hold of now: 4 points and 2 handles.
  const holds = await app.curveHolds();
  expect(holds).toHaveLength(6);
  const straight = await length();
  await page.mouse.click(holds[5].x, holds[5].y);
  await app.dragUp(await app.markedPoint(), 50);
  expect(Math.abs((await length()) - straight)).toBeGreaterThan(0.01);
  await page.keyboard.press('Control+z');
  expect(await length()).toBeCloseTo(straight, 3);
  await page.mouse.click(holds[1].x, holds[1].y);
  await app.type('Point roll', '30');
  await page.getByRole('button', { name: 'Insert' }).click();
  await expect(bar).toHaveAttribute('data-curve-bar', '5');
  const withOneMore = await length();
  await app.stage.focus();
  await page.keyboard.press('Delete');
  await expect(bar).toHaveAttribute('data-curve-bar', '4');
  await page.getByRole('button', { name: 'Closed' }).click();
  expect(await length()).toBeGreaterThan(withOneMore);
  await app.choose('Curve runs', 'B-spline');
  await app.choose('Curve runs', 'Straight');
  const undo = page.getByRole('button', { name: 'Undo' });
  for (let i = 0; i < 3; i++) await undo.click();
  await undo.click();
  await expect(bar).toHaveAttribute('data-curve-bar', '5');
  expect(await length()).toBeCloseTo(withOneMore, 3);
  for (let i = 0; i < 3; i++) await undo.click();
  expect(await length()).toBeCloseTo(before, 3);
  // A point is dragged without picking its curve first, in one step.
  const points = await app.curveHolds();
  await page.mouse.click(canvas.x + canvas.width - 30, canvas.y + 110);
  await expect(bar).toHaveCount(0);
  await page.mouse.move(points[2].x, points[2].y);
  await page.mouse.down();
  await page.mouse.move(points[2].x, points[2].y - 30);
  await page.mouse.move(points[2].x, points[2].y - 60);
  await page.mouse.up();
  await expect(bar).toHaveAttribute('data-curve-bar', '4');
  expect(Math.abs((await length()) - before)).toBeGreaterThan(0.01);
  await expect
    .poll(async () => {
      const dragged = await app.markedPoint();
      return Math.hypot(dragged.x - points[2].x, dragged.y - points[2].y + 60);
    })
    .toBeLessThan(4);
  await undo.click();
  expect(await length()).toBeCloseTo(before, 3);
  expect(app.errors).toEqual([]);
});

test('points of a curve snap to the surface under the mouse', async ({ page }) => {
  const app = new App(page);
  await app.openPart('bell-tower');
  await app.menu('Add to the scene', /Curve/);
  await app.choose('Snap points', 'To surfaces');
  await app.stage.focus();
  await page.keyboard.press('Escape');
  await app.frameObject('Yoke');
  await app.object('Curve').first().click();
  await page.getByRole('button', { name: 'Draw points' }).click();
  const canvas = (await app.stage.locator('canvas').boundingBox())!;
  const y = canvas.y + 0.48 * canvas.height;
  for (const share of [0.2, 0.27, 0.34]) {
    const x = canvas.x + share * canvas.width;
    // What is under the mouse says its name, once it is there.
    await expect(async () => {
      await page.mouse.move(x - 2, y);
      await page.mouse.move(x, y);
      await expect(app.stage.locator('[data-hover]')).toHaveText('Yoke', { timeout: 500 });
    }).toPass();
    await app.andDrawn(() => page.mouse.click(x, y));
  }
  await page.keyboard.press('Escape');
  const { objects } = (await app.stored()) as unknown as { objects: ObjectRecord[] };
  const points = curveOf(objects.find((o) => o.name === 'Curve'))?.splines[0].points.map((p) => p.at) ?? [];
  expect(points.length).toBe(3);
  // Each is on it, which stands where the demo has it.
  const { project, assets } = readProjectFile(readFileSync(new URL('../demo/lantern-quay.json', import.meta.url), 'utf8'));
  const frame = project.objects.find((o) => o.name === 'Yoke')!;
  const mesh = assets.get(assetIdOf(frame)!)!;
  const world = worldMatrix(objectsById(project.objects), frame.id);
  const there = withPositions(mesh, transformPacked(new Float32Array(mesh.positions.length), mesh.positions, world, 'position'));
  const index = indexOf(there, 'faces');
  for (const [x, y, z] of points) {
    index.nearest(x, y, z);
    expect(Math.sqrt(index.distanceSquared), `${[x, y, z].join()} of ${JSON.stringify(points)}`).toBeLessThan(1e-3);
  }
  expect(app.errors).toEqual([]);
});

test('only the change of a spine is applied: back at its rest, the fish is where it was imported', async ({ page }) => {
  const app = new App(page);
  await app.openPart('swim');
  await app.openGraph('Swim');
  await app.look('young-mesh', 'mesh');
  await app.settled();
  const imported = await app.row(4);
  await app.look('young-lay', 'mesh');
  await app.settled();
  const bent = await app.row(4);
  expect(bent).not.toEqual(imported);
  await app.frameObject('Young spine');
  const holds = await app.curveHolds();
  // Nothing of it is behind the bar at the foot of the stage.
  const bar = (await page.locator('[data-foot-bar]').boundingBox())!;
  for (const { y } of holds) expect(y).toBeLessThan(bar.y);
  const [first] = holds;
  await page.mouse.click(first.x, first.y);
  await app.dragUp(await app.markedPoint(), 40);
  await app.look('young-lay', 'mesh');
  await app.settled();
  await expect.poll(() => app.row(4)).not.toEqual(bent);
  await app.object('Young spine').click();
  await page.getByRole('button', { name: 'Go back to rest' }).click();
  await app.card('young-lay').click({ position: { x: 30, y: 8 } });
  await app.type('roll end', '0');
  await app.look('young-lay', 'mesh');
  await app.settled();
  const back = await app.row(4);
  back.forEach((v, i) => expect(v).toBeCloseTo(imported[i], 3));
  expect(app.errors).toEqual([]);
});

test('one falloff: its boundary is drawn, it paints, and moving its locator moves all that it drives', async ({ page }) => {
  const app = new App(page);
  await app.openPart('one-falloff');
  await app.openGraph('One falloff');
  await app.look('mixed', 'falloff');
  await app.settled();
  await expect(app.stage).toHaveAttribute('data-lines', '2');
  await expect(page.locator('[data-readout]')).toContainText('sphere 0.2–1, subtract 0.8');
  await page.getByRole('button', { name: 'Preview', exact: true }).click();
  await expect(page.locator('[data-legend]')).toContainText('Mix Falloffs');
  await page.getByRole('button', { name: 'Preview', exact: true }).click();
  await expect(page.locator('[data-legend]')).toHaveCount(0);
  const height = async () => {
    await app.look('mat-push', 'mesh');
    await app.settled();
    await app.typeText('Go to index', '1200');
    return (await app.row(1200))[1];
  };
  const lifted = await height();
  expect(lifted).toBeGreaterThan(0.03);
  // By its handle in the stage, and by numbers.
  await app.frameObject('Falloff here');
  const canvas = (await app.stage.locator('canvas').boundingBox())!;
  await app.dragUp({ x: canvas.x + canvas.width / 2, y: canvas.y + canvas.height / 2 }, 60);
  expect(Number(await page.getByLabel('Move y', { exact: true }).inputValue())).toBeGreaterThan(0.2);
  expect(await height()).toBeLessThan(lifted - 0.005);
  await app.object('Falloff here').click();
  await app.type('Move y', '4');
  await app.settled();
  expect(await height()).toBeCloseTo(0.02, 3);
  // A locator without a size holds nothing, and says so.
  await app.object('Falloff here').click();
  await app.type('Size y', '0');
  await app.settled();
  await page.getByRole('tab', { name: /Messages/ }).click();
  await expect(page.locator('[data-readout]')).toContainText('size of 0 along an axis');
  expect(app.errors).toEqual([]);
});

test('kelp: the target of the distance is swapped for scattered points, and the rest goes on', async ({ page }) => {
  const app = new App(page);
  await app.openPart('kelp');
  await app.openGraph('Kelp');
  await app.look('near', 'distance');
  await app.settled();
  const toFish = await app.row(7);
  await app.card('near').click({ position: { x: 30, y: 8 } });
  await app.choose('Near to', 'Edges');
  await app.settled();
  await page.getByRole('button', { name: 'Disconnect target' }).click();
  await app.settled();
  await expect(app.card('near')).toContainText('needs a mesh');
  await app.wire(['feet', 'mesh'], ['near', 'target']);
  await app.settled();
  await expect(app.card('near')).toContainText('nothing to be near to');
  await app.card('near').click({ position: { x: 30, y: 8 } });
  await app.choose('Near to', 'Points');
  await app.look('near', 'distance');
  await app.settled();
  const toPoints = await app.row(7);
  expect(toPoints.at(-1)).toBeCloseTo(0, 4);
  expect(toPoints).not.toEqual(toFish);
  await page.getByRole('tab', { name: /Messages/ }).click();
  await expect(page.locator('[data-readout]')).not.toContainText('nothing to be near to');
  expect(app.errors).toEqual([]);
});

test('the mooring line stays on when a buoy is moved and sized; copies say when they become points', async ({ page }) => {
  const app = new App(page);
  await app.openPart('mooring', 'net');
  await app.openGraph('Mooring line');
  const settledPoint = async () => {
    await app.look('settle', 'geometry');
    await app.settled();
    return app.row(3);
  };
  const before = await settledPoint();
  await app.object('Lumpy buoy 2').click();
  await app.type('Move z', '-0.2');
  await app.type('Size x', '1.3');
  await app.settled();
  const resized = await settledPoint();
  expect(resized).not.toEqual(before);
  // Another mesh in its place: the rope lies on that one.
  await app.object('Lumpy buoy 2').click();
  await page.locator('[data-picker="replace"]').setInputFiles('demo/meshes/buoy.obj');
  await page.getByRole('button', { name: 'Replace', exact: true }).click();
  await app.settled();
  expect(await settledPoint()).not.toEqual(resized);
  await expect(page.locator('[data-card="settle"] [data-problem]')).toHaveCount(0);
  await app.openGraph('Net');
  // Without the card that makes points of the knots, Merge does, and says so.
  await app.card('knot-meshes').locator('header').click();
  await page.keyboard.press('Delete');
  await app.card('together').click({ position: { x: 30, y: 8 } });
  await expect(page.locator('[data-settings-of="together"]')).toContainText('86 copies were made 3 612 points');
  await app.look('knots', 'copies');
  await app.settled();
  expect(await app.row(5)).toHaveLength(4);
  expect(app.errors).toEqual([]);
});

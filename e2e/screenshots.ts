import { writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { test } from '@playwright/test';
import { App } from './app.ts';

const ROOT = fileURLToPath(new URL('..', import.meta.url));

test('renew the screenshots', async ({ page }) => {
  test.setTimeout(1_200_000);
  // With smooth edges, as people see it.
  await page.addInitScript(() => Object.defineProperty(navigator, 'webdriver', { get: () => false }));
  const app = new App(page, true);
  const shot = (name: string) => page.screenshot({ path: `${ROOT}/docs/screenshots/${name}.png` });
  const rest = () => page.waitForTimeout(900);
  const parkPointer = () => page.mouse.move(640, 778);

  // As it opens: a part of the graph that can be read, and what it makes.
  await app.openShelf();
  await page.getByRole('button', { name: 'Open Lantern Quay' }).click();
  await app.drawn();
  await app.settled();
  await page.getByRole('button', { name: 'Bench and stage alike' }).click();
  await page.waitForTimeout(600);
  await app.look('distance', 'result');
  await app.object('Swell here').click();
  await parkPointer();
  await rest();
  await shot('build');
  await page.getByRole('button', { name: 'Bench large' }).click();

  // The thumbnail is the one the shelf would keep, without a handle in it.
  await page.locator('.react-flow__pane').click({ position: { x: 8, y: 8 } });
  await app.object('Harbour').click();
  await page.waitForTimeout(4000);
  const thumbnail = await page.evaluate(async () => {
    const request = indexedDB.open('umberfish');
    const db = await new Promise<IDBDatabase>((done) => (request.onsuccess = () => done(request.result)));
    const get = db.transaction('projects').objectStore('projects').get('lantern-quay');
    const found = await new Promise<{ thumbnail: string }>(
      (done) => (get.onsuccess = () => done(get.result as { thumbnail: string })),
    );
    return found.thumbnail;
  });
  writeFileSync(`${ROOT}/demo/thumbnail.jpg`, Buffer.from(thumbnail.split(',')[1], 'base64'));

  await page.getByRole('button', { name: 'Choose a graph' }).click();
  await page.getByRole('listitem').getByRole('button', { name: 'Harbour water' }).first().click();
  await page.waitForTimeout(300);
  await app.wholeGraph();
  await app.look('waves', 'result');
  await page.locator('[data-bench]').focus();
  await page.keyboard.press('p');
  await page.getByRole('tab', { name: 'Plot' }).click();
  await parkPointer();
  await rest();
  await shot('water');
  await page.keyboard.press('Control+z');

  await page.getByRole('button', { name: 'Project menu' }).click();
  await page.getByRole('menuitem', { name: /Night tide/ }).click();
  await page.getByRole('tab', { name: 'Values' }).click();
  await app.type('Frame', '84');
  await page.locator('.react-flow__pane').click({ position: { x: 8, y: 8 } });
  await parkPointer();
  await rest();
  await shot('night');
  await page.getByRole('button', { name: 'Project menu' }).click();
  await page.getByRole('menuitem', { name: /Daylight/ }).click();

  await app.openDemo();
  await app.openGraph('Lead weight');
  await app.object('Lead weight').click();
  await app.stage.focus();
  await page.keyboard.press('f');
  await app.look('weight-rest', 'mesh');
  await page.locator('[data-bench]').focus();
  await page.keyboard.press('a');
  await app.look('dent', 'mesh');
  await page.getByRole('button', { name: 'Needles' }).click();
  await parkPointer();
  await rest();
  await shot('compare');
  await page.getByRole('button', { name: 'Stop comparing' }).click();

  await app.openGraph('Where it tears');
  await app.type('Frame', '22');
  await app.object('Buoy').click();
  await app.stage.focus();
  await page.keyboard.press('f');
  await app.look('change', 'stretch');
  await page.locator('[data-bench]').focus();
  await page.keyboard.press('p');
  await page.getByRole('tab', { name: 'Plot' }).click();
  await page.getByRole('button', { name: 'Over the range' }).click();
  await page.waitForSelector('[data-history="120"]');
  await parkPointer();
  await rest();
  await shot('tears');
  await page.keyboard.press('Control+z');
  await page.waitForTimeout(800);

  const frameGraph = async (name: string, frame: string) => {
    await app.openGraph(name);
    await app.type('Frame', frame);
    // A picked card lets go of picked objects, so that what the graph makes is framed.
    const bench = (await page.locator('[data-bench]').boundingBox())!;
    for (const card of await page.locator('[data-card]').all()) {
      const box = (await card.boundingBox())!;
      const isInside = box.x > bench.x && box.y > bench.y + 40 && box.x + 40 < bench.x + bench.width;
      if (!isInside || box.y + 20 > bench.y + bench.height) continue;
      await card.click({ position: { x: 30, y: 8 } });
      break;
    }
    await app.stage.focus();
    await page.keyboard.press('f');
    await rest();
    await page.getByRole('tab', { name: 'Values' }).click();
  };
  await frameGraph('Swim', '40');
  await app.frameObject('Young spine');
  await rest();
  const [, held] = await app.curveHolds();
  await page.mouse.click(held.x, held.y);
  await parkPointer();
  await rest();
  await shot('swim');

  // Weights by hand: the spine of the old fish, each joint in its colour.
  const find = page.getByRole('textbox', { name: 'Search' }).first();
  await find.fill('Old umberfish');
  await app.frameObject('Old umberfish');
  await app.card('old-bound').locator('header').click();
  await app.addNode('Paint Values');
  await app.typeText('Name', 'weight_Spine_6');
  await page.getByRole('button', { name: 'Paint', exact: true }).click();
  await page.getByRole('button', { name: 'Colours by joint' }).click();
  const fish = (await app.stage.locator('canvas').boundingBox())!;
  await page.mouse.move(fish.x + fish.width * 0.58, fish.y + fish.height * 0.47);
  await rest();
  await shot('paint');
  await app.stage.focus();
  await page.keyboard.press('Escape');
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
  await find.fill('');
  await rest();

  await frameGraph('Kelp', '30');
  await app.look('near', 'distance');
  await parkPointer();
  await rest();
  await shot('kelp');

  await frameGraph('Heron wades', '58');
  // Far down a long list: only rows about those in sight are there.
  const search = page.getByRole('textbox', { name: 'Search' }).first();
  await search.fill('Heron skin');
  await app.frameObject('Heron skin');
  await app.look('hw-left-down', 'after');
  await page.getByRole('tab', { name: 'Contact' }).click();
  await page.waitForSelector('[data-contacts="3"]');
  await search.fill('Left knee');
  await app.object('Left knee').click();
  await app.settled();
  await parkPointer();
  await rest();
  await shot('heron');
  await search.fill('');

  await frameGraph('One falloff', '1');
  await app.look('mixed', 'falloff');
  await parkPointer();
  await rest();
  await shot('falloff');

  await frameGraph('Hand-over', '66');
  await app.pick('Hand lantern');
  await app.stage.focus();
  await page.keyboard.press('f');
  await rest();
  await page.mouse.move(1060, 250);
  for (let i = 0; i < 5; i++) {
    await page.mouse.wheel(0, 240);
    await page.waitForTimeout(200);
  }
  await page.getByRole('button', { name: 'Keys', exact: true }).click();
  await parkPointer();
  await rest();
  await shot('constrain');

  await frameGraph('Gull on its way', '30');
  await app.pick('Duck');
  await app.command('Motion trail');
  await app.pick('Crate, led');
  await app.stage.focus();
  await page.keyboard.press('f');
  await rest();
  await page.mouse.move(1060, 250);
  for (let i = 0; i < 6; i++) {
    await page.mouse.wheel(0, 240);
    await page.waitForTimeout(200);
  }
  await page.getByRole('button', { name: 'Curves', exact: true }).click();
  await page.locator('[data-keys-area] [data-key][data-frame="40"]').first().click();
  await app.command('Motion trail');
  await parkPointer();
  await rest();
  await shot('keys');
  await page.getByRole('button', { name: 'Keys', exact: true }).click();

  await page.goto('/modules');
  await page.waitForSelector('[data-library]:not([data-library="loading"])');
  await page.locator('[data-module-card="Swell"]').click();
  await page.getByRole('region', { name: 'Proofs' }).getByRole('button', { name: 'Try them' }).click();
  await page.waitForSelector('[data-proofs]');
  await parkPointer();
  await rest();
  await shot('modules');
  await page.getByRole('button', { name: 'Try it' }).click();
  await app.drawn();
  await app.cardOf('module:starter-swell@1000').locator('header').click();
  await parkPointer();
  await rest();
  await shot('dials');
  await page.getByRole('button', { name: 'Look inside' }).click();
  await app.cardOf('measure').locator('[data-output="result"]').click();
  await app.cardOf('way-in').locator('header').click();
  await page.getByRole('button', { name: 'More of height' }).click();
  await parkPointer();
  await rest();
  await shot('inside');

  await app.newProject();
  await page.locator('[data-picker="mesh"]').setInputFiles([`${ROOT}/demo/meshes/buoy.obj`, `${ROOT}/demo/meshes/buoy.mtl`]);
  await rest();
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  await app.drawn();
  await app.addNode('Scene Mesh');
  await app.addNode('Point Values');
  await app.wire(['Scene Mesh', 'mesh'], ['Point Values', 'mesh']);
  await app.look('Point Values', 'normals');
  await page.locator('[data-bench]').focus();
  await page.keyboard.press('r');
  await page.keyboard.press('p');
  await parkPointer();
  await page.waitForTimeout(8500);

  await app.openShelf();
  await rest();
  await shot('shelf');

  // The hulls are wrung: a checker by rest shows where they stretch.
  await app.openDemo();
  await page.getByRole('button', { name: 'Bench and stage alike' }).click();
  await app.openGraph('Barnacles');
  await app.type('Frame', '22');
  await page.locator('[data-stage] [role="toolbar"]').getByRole('button', { name: /▾$/ }).first().click();
  await page.getByRole('menuitem', { name: /^Checker by rest/ }).click();
  await app.frameObject('Hull, stuck');
  await page.keyboard.press('i');
  await app.frameObject('Hull, stuck');
  await parkPointer();
  await rest();
  await shot('checker');

  // What animators get, and their page: the pufferfish posed over time.
  // Seen as at first, not as the pictures before left it.
  await page.addInitScript(() => localStorage.removeItem('umberfish-left lantern-quay'));
  await app.openDemo();
  await app.menu('Project menu', 'Hand out to animators…');
  await page.getByText('Nothing is broken').waitFor({ timeout: 90_000 });
  await shot('hand-out');
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: 'Animate', exact: true }).click();
  const still = () => page.waitForSelector('[data-animate][data-settled="true"]');
  await still();
  const stage = (await app.stage.locator('canvas').boundingBox())!;
  await page.mouse.click(stage.x + stage.width * 0.48, stage.y + stage.height * 0.5);
  await still();
  for (const name of ['Asleep', 'Startled', 'Calm']) {
    await page.getByRole('button', { name: `Put on ${name}` }).click();
    await still();
    await rest();
    await page.getByRole('button', { name: `More for ${name}` }).click();
    await page.getByRole('menuitem', { name: 'Take the pose as it is now' }).click();
    await still();
  }
  await page.getByRole('button', { name: 'Auto-key' }).click();
  const poses: [number, string][] = [
    [12, 'Calm'],
    [30, 'Asleep'],
    [52, 'Startled'],
    [90, 'Calm'],
  ];
  for (const [frame, name] of poses) {
    await app.page.getByRole('textbox', { name: 'Frame', exact: true }).fill(String(frame));
    await page.keyboard.press('Enter');
    await still();
    await page.getByRole('button', { name: `Put on ${name}` }).click();
    await still();
  }
  await page.getByRole('textbox', { name: 'Frame', exact: true }).fill('46');
  await page.keyboard.press('Enter');
  await still();
  await parkPointer();
  await page.waitForTimeout(2500);
  await shot('animate');
});

import { expect, test } from '@playwright/test';
import { Animator, handed, MOVE, quay, remark } from './animator.ts';

// A small window draws quicker in software.
test.use({ viewport: { width: 1080, height: 680 } });

test('the page of animators: dials of what is picked, pages of the hand-out, no word of the graph; the rest is refused', async ({
  page,
}) => {
  const app = new Animator(page);
  const [project, assets] = quay();
  await app.openProject(handed(project), assets);
  // Something is changed on Build first: undoing that is not for animators.
  await app.pick('Puffer');
  await app.type('Move x', '0.1');
  await page.getByRole('link', { name: 'Animate', exact: true }).click();
  await app.still();
  const text = async () => (await page.locator('[data-animate]').innerText()).toLowerCase();
  for (const tab of ['Body', 'Hands', 'Picked']) {
    await app.tab(tab);
    for (const word of [/\bnodes?\b/, /\bcards?\b/, /\bwires?\b/, /\bgraphs?\b/, /\bbench\b/, /bulge/])
      expect(await text()).not.toMatch(word);
  }
  await app.tab('Body');
  await expect(page.getByRole('heading', { name: 'Swelling' })).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Bump' })).toBeVisible();
  await app.set('height', '0.35');
  await app.slide('radius, slider', 1);
  await app.set('Bump move x', '0.2');
  const { graphs, objects } = await app.document();
  expect(graphs[0].nodes.find((n) => n.id === 'bump')?.inputs).toMatchObject({ height: 0.35, radius: 1 });
  expect(objects.find((o) => o.id === 'here')?.channels.translate).toEqual([0.2, 1.2, 0]);
  // What is not handed out has no field; what is picked on Build and not handed out is not picked here.
  await expect(page.getByLabel(/Puffer/)).toHaveCount(0);
  await expect(page.locator('[data-stage-line]')).toContainText('nothing picked');
  // Undo takes back what was done here, and stops at what was done to the rig.
  const undo = page.getByRole('button', { name: 'Undo' });
  for (let i = 0; i < 3; i++) await undo.click();
  await app.still();
  expect(await app.number('height')).toBe(0.2);
  await undo.click();
  await expect(remark(page)).toContainText('"Puffer", move x, is not handed out');
  expect((await app.document()).objects[0].channels.translate[0]).toBe(0.1);
  // Back on Build it can be.
  await page.getByRole('link', { name: 'Build', exact: true }).click();
  await app.settled();
  await undo.click();
  await app.settled();
  expect((await app.document()).objects[0].channels.translate[0]).toBe(0);
  expect(app.errors).toEqual([]);
});

test('files dropped on Animate, or on a page that is none, are refused in a sentence and open nowhere', async ({ page }) => {
  const app = new Animator(page);
  await app.open(...quay());
  const url = page.url();
  const drop = async (where: string) => {
    await page.waitForSelector(where);
    await page.evaluate((selector) => {
      const dataTransfer = new DataTransfer();
      dataTransfer.items.add(new File(['v 0 0 0'], 'crate.obj'));
      const target = document.querySelector(selector)!;
      for (const type of ['dragover', 'drop']) {
        const event = new DragEvent(type, { bubbles: true, cancelable: true, dataTransfer });
        // What is not prevented, the browser opens in the place of the page.
        if (target.dispatchEvent(event)) throw new Error(`${type} is left to the browser`);
      }
    }, where);
  };
  await drop('[data-stage]');
  await expect(remark(page)).toContainText('Drop meshes on Build');
  expect(page.url()).toBe(url);
  await page.goto('/nowhere');
  await drop('main');
  await expect(remark(page)).toContainText('Files are not taken here');
  expect(app.errors).toEqual([]);
});

test('controls have shapes, are picked and dragged; what is not handed out stays', async ({ page }) => {
  const app = new Animator(page);
  const [project, assets] = quay();
  await app.openProject(handed(project), assets);
  await app.pick('Swell here');
  await app.choose('Shape of the control', 'Ball');
  await app.type('Width of the control', '1.2');
  await page.getByRole('switch', { name: 'In front of everything' }).click();
  await page.getByRole('switch', { name: 'In front of everything' }).click();
  expect((await app.document()).objects[1]).toMatchObject({ control: { shape: 'ball', size: 1.2, inFront: true } });
  await page.getByRole('link', { name: 'Animate', exact: true }).click();
  await app.still();
  await page.keyboard.press('f');
  await page.waitForTimeout(300);
  const { x, y, width, height } = await app.canvas;
  // The body is not handed out: a click on it picks nothing. The rim of the control is somewhere above its middle.
  await page.mouse.click(x + width / 2, y + height * 0.62);
  await expect(page.locator('[data-stage-line]')).toContainText('nothing picked');
  let found = false;
  for (let at = 0.1; at < 0.6 && !found; at += 0.01) {
    await page.mouse.move(x + width / 2, y + height * at);
    found = await page.getByText('Swell here', { exact: true }).isVisible();
    if (found) await page.mouse.click(x + width / 2, y + height * at);
  }
  expect(found).toBe(true);
  await app.still();
  await expect(page.locator('[data-part-of="here"]')).toBeVisible();
  // The handle is dragged: up, and along an axis that is not handed out not at all.
  await app.dragHandleUp(60);
  const dragged = (await app.document()).objects[1].channels.translate;
  expect(dragged[1]).toBeGreaterThan(1.25);
  await app.set('Bump move y', '1.5');
  expect((await app.document()).objects[1].channels.translate).toEqual([0, 1.5, 0]);
  // Keys by K are set on what is handed out alone.
  await app.stage.focus();
  await page.keyboard.press('k');
  await app.still();
  expect(Object.keys((await app.document()).objects[1].animated).sort()).toEqual([...MOVE].sort());
  // What is locked has a handle all the same; it stays, and the line below the stage says why.
  await page.getByRole('link', { name: 'Build', exact: true }).click();
  await app.settled();
  await page.getByRole('button', { name: 'More for Move' }).click();
  await page.getByRole('menuitem', { name: 'Lock' }).click();
  await page.getByRole('link', { name: 'Animate', exact: true }).click();
  await app.still();
  const locked = (await app.document()).objects[1];
  await app.dragHandleUp(60);
  await expect(page.locator('[data-held-axes]')).toContainText('Move y stays: it is locked.');
  expect((await app.document()).objects[1]).toEqual(locked);
  expect(app.errors).toEqual([]);
});

test('poses: kept, put on by part and beyond, mirrored, copied, between keys, to rest; as keys where keys are set', async ({
  page,
}) => {
  const app = new Animator(page);
  const [project, assets] = quay();
  await app.open(handed(project), assets);
  await app.tab('Body');
  await app.set('height', '0.6');
  await app.set('left fin turn z', '80');
  await page.getByRole('button', { name: 'Keep this one' }).click();
  const pose = page.locator('[data-pose]').first();
  await expect(pose.locator('img')).toBeVisible();
  await pose.getByRole('button', { name: 'More for Pose 1' }).click();
  await page.getByRole('menuitem', { name: 'Rename' }).click();
  await app.typeText('Name of Pose 1', 'Startled');
  await page.getByRole('button', { name: 'To rest' }).click();
  await app.still();
  expect(await app.number('left fin turn z')).toBe(0);
  expect(await app.number('height')).not.toBe(0.6);
  const rest = await app.number('height');
  // Whole, half of it, beyond it, and none of it: as it was.
  await page.getByRole('button', { name: 'Put on Startled' }).click();
  await app.still();
  expect([await app.number('height'), await app.number('left fin turn z')]).toEqual([0.6, 80]);
  await app.slide('How much of Startled', 0.5);
  expect(await app.number('left fin turn z')).toBe(40);
  expect(await app.number('height')).toBeCloseTo((rest + 0.6) / 2, 6);
  await app.slide('How much of Startled', 1.5);
  expect(await app.number('left fin turn z')).toBe(120);
  await app.slide('How much of Startled', 0);
  expect([await app.number('height'), await app.number('left fin turn z')]).toEqual([rest, 0]);
  // As keys, where keys are set; only what changes gets one.
  await app.autoKey();
  await app.goTo(10);
  await app.set('left fin turn z', '20');
  await app.goTo(30);
  await page.getByRole('button', { name: 'Put on Startled' }).click();
  await app.still();
  const keys = async (id: string) => {
    const o = (await app.document()).objects.find((x) => x.id === id)!;
    return Object.fromEntries(
      Object.entries(o.animated).map(([c, s]) => [c, 'keys' in s ? s.keys.keys.map((k) => [k.frame, k.value]) : []]),
    );
  };
  expect(await keys('fin-l')).toEqual({
    'rotate.z': [
      [10, 20],
      [30, 80],
    ],
  });
  // Between the two: three quarters of the way.
  await app.goTo(20);
  await app.slide('Between the key before and the key after', 0.75);
  expect(await app.number('left fin turn z')).toBe(65);
  // Mirrored: the other fin takes the other way round.
  await page.getByRole('button', { name: 'Mirror ▾' }).click();
  await page.getByRole('menuitem', { name: 'Across x writes Swell here, right fin and 2 more' }).click();
  await app.still();
  expect(await app.number('right fin turn z')).toBe(-65);
  expect(await app.number('right fin move x')).toBe(0.7);
  // Copied here, pasted there.
  await page.getByRole('button', { name: 'Copy', exact: true }).click();
  await app.goTo(50);
  await page.getByRole('button', { name: 'Paste', exact: true }).click();
  await app.still();
  expect(await app.number('right fin turn z')).toBe(-65);
  expect((await keys('fin-r'))['rotate.z']?.map(([f]) => f)).toContain(50);
  // With one side picked, it is the other that is written: that is said before.
  await page.getByRole('button', { name: 'left fin', exact: true }).click();
  await page.getByRole('button', { name: 'Mirror ▾' }).click();
  await expect(page.getByRole('menuitem', { name: 'Across x writes right fin, not picked' })).toBeVisible();
  await page.keyboard.press('Escape');
  // The words for the sides, and whom they pair.
  await page.getByRole('button', { name: 'Mirror ▾' }).click();
  await page.getByRole('menuitem', { name: 'Words for the two sides…' }).click();
  await expect(page.locator('[data-pairs="1"]')).toContainText('left fin');
  expect(app.errors).toEqual([]);
});

test('time: handed over without a pop, played at other speeds and frame by frame, trails and other frames', async ({ page }) => {
  const app = new Animator(page);
  const [project, assets] = quay();
  await app.open(handed(project), assets);
  await app.tab('Hands');
  await app.goTo(24);
  const held = page.locator('[data-held-by="lantern"]');
  await expect(held.getByRole('button', { name: 'Hook' })).toHaveAttribute('aria-pressed', 'true');
  await held.getByRole('button', { name: 'Mast' }).click();
  await app.still();
  await expect(held.getByRole('button', { name: 'Mast' })).toHaveAttribute('aria-pressed', 'true');
  await app.goTo(23);
  await expect(held.getByRole('button', { name: 'Hook' })).toHaveAttribute('aria-pressed', 'true');
  // One step, undone as one.
  await page.getByRole('button', { name: 'Undo' }).click();
  await app.goTo(24);
  await expect(held.getByRole('button', { name: 'Hook' })).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('button', { name: 'Redo' }).click();
  await app.still();
  await expect(held.getByRole('button', { name: 'Mast' })).toHaveAttribute('aria-pressed', 'true');
  // The way of what is picked, and itself at other frames.
  await page.getByRole('heading', { name: 'Lantern' }).getByRole('button').click();
  await app.still();
  await page.getByRole('button', { name: 'Trail' }).click();
  await expect(app.stage).toHaveAttribute('data-trails', '1');
  await page.getByRole('button', { name: 'Other frames ▾' }).click();
  await page.getByRole('menuitem', { name: '2 before, 2 after, 4 frames apart' }).click();
  await app.still();
  await expect(app.stage).toHaveAttribute('data-ghosts', '4');
  await app.goTo(1);
  await expect(app.stage).toHaveAttribute('data-ghosts', '2');
  // Played: a counter says how many frames are shown; every frame comes, one after the other.
  await page.getByRole('button', { name: 'Speed' }).click();
  await page.getByRole('menuitem', { name: 'Half the speed' }).click();
  await page.getByRole('button', { name: 'Every frame' }).click();
  await page.evaluate(() => {
    const seen: number[] = [];
    (window as never as { framesSeen: number[] }).framesSeen = seen;
    const stage = document.querySelector<HTMLElement>('[data-stage]')!;
    new MutationObserver(() => {
      const frame = Number(stage.dataset.frame);
      if (seen.at(-1) !== frame) seen.push(frame);
    }).observe(stage, { attributes: true, attributeFilter: ['data-frame'] });
  });
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect(page.locator('[data-rate]')).toHaveAttribute('data-rate', /\d/);
  await expect(page.locator('[data-rate]')).toContainText('of 12');
  await expect(app.stage).toHaveAttribute('data-ghosts', '0');
  await page.waitForFunction(() => (window as never as { framesSeen: number[] }).framesSeen.length > 4);
  await page.getByRole('button', { name: 'Pause', exact: true }).click();
  const seen = await page.evaluate(() => (window as never as { framesSeen: number[] }).framesSeen);
  expect(seen.slice(1).every((f, i) => f === seen[i] + 1 || f === 1)).toBe(true);
  expect(app.errors).toEqual([]);
});

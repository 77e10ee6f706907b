import { expect, test, type Locator, type Page } from '@playwright/test';
import { makeBox, makeObject, makeProject, meshId, type Mesh, type Project } from '@umberfish/core';
import { App } from './app.ts';

/** A crate, a locator and an empty graph. */
function crate(): [Project, ReadonlyMap<string, Mesh>] {
  const mesh = makeBox([1, 1, 1], [6, 6, 6]);
  const id = meshId(mesh);
  const project: Project = {
    ...makeProject('crate', 'Crate'),
    assets: [{ id, name: 'Crate', points: mesh.topology.pointCount, faces: mesh.topology.faceCount, origin: '' }],
    objects: [makeObject('crate', 'Crate', 'mesh', { mesh: id }), makeObject('here', 'Here', 'locator')],
    graphs: [{ id: 'g', name: 'Shape', nodes: [], wires: [], sections: [], preview: null }],
  };
  return [project, new Map([[id, mesh]])];
}

const share = (of: Locator) => of.evaluate((e) => e.getBoundingClientRect().width / window.innerWidth);
const wires = (page: Page) => page.locator('.react-flow__edge');

test('bench and stage part the page in three ways, remembered by project; the stage alone on a key', async ({ page }) => {
  const app = new App(page);
  await app.openProject(...crate());
  const stage = page.locator('[data-stage]');
  await page.getByRole('button', { name: 'Bench and stage alike' }).click();
  expect(await share(stage)).toBeGreaterThanOrEqual(0.42);
  expect(await page.getByLabel('Scene', { exact: true }).evaluate((e) => e.getBoundingClientRect().width)).toBeGreaterThanOrEqual(
    259,
  );
  const half = await share(stage);
  await page.keyboard.press('w');
  await expect.poll(() => share(stage)).toBeGreaterThan(half + 0.05);
  await page.keyboard.press('w');
  await expect.poll(() => share(stage)).toBeLessThan(half - 0.05);
  await page.keyboard.press('w');
  await expect.poll(() => share(stage)).toBeCloseTo(half, 2);
  await page.keyboard.press('w');
  await app.saved();
  await page.reload();
  await app.drawn();
  await expect.poll(() => share(stage)).toBeGreaterThan(half + 0.05);
  await page.keyboard.press('Shift+W');
  await expect.poll(() => share(stage)).toBe(1);
  await expect(page.getByRole('button', { name: 'Play' })).toBeVisible();
  await page.getByRole('button', { name: 'Back to the bench' }).click();
  await expect.poll(() => share(stage)).toBeLessThan(0.8);
  await page.setViewportSize({ width: 1920, height: 1080 });
  await page.getByRole('button', { name: 'Bench and stage alike' }).click();
  await expect.poll(() => share(stage)).toBeGreaterThanOrEqual(0.45);
  expect(app.errors).toEqual([]);
});

test('cards say what matters: the rest unfolds when they are picked or a wire is held over them', async ({ page }) => {
  const app = new App(page);
  await app.openPart('swell');
  const locator = app.cardOf('scene-locator');
  await expect(locator).toHaveAttribute('data-folded', '7');
  // In heads of the card, both measured at once: the view may move.
  const height = () =>
    locator.evaluate(
      (card) => card.getBoundingClientRect().height / card.querySelector('header')!.getBoundingClientRect().height,
    );
  await expect.poll(height).toBeLessThan(3.2);
  const folded = await height();
  await locator.locator('[data-more]').click();
  await expect(locator).toHaveAttribute('data-folded', '0');
  await expect(locator.locator('[data-output="matrix"]')).toBeVisible();
  await expect.poll(height).toBeGreaterThan(folded * 2);
  await page.locator('[data-bench] .react-flow__pane').click({ position: { x: 8, y: 8 } });
  await expect(locator).toHaveAttribute('data-folded', '7');
  // A wire that fits opens the card it is held over; cards without a place for it fade.
  const source = app.card('move').locator('.react-flow__handle.source[data-port="mesh"]');
  await source.hover();
  await page.mouse.down();
  const head = (await app.card('ratio').locator('header').boundingBox())!;
  await page.mouse.move(head.x + 20, head.y + 5, { steps: 5 });
  await expect(app.card('ratio')).toHaveClass(/opacity-40/);
  await expect(app.cardOf('show-mesh')).not.toHaveClass(/opacity-40/);
  await page.mouse.move(head.x + 20, head.y - 300, { steps: 2 });
  await page.mouse.up();
  await page.keyboard.press('Escape');
  await expect(app.card('ratio')).not.toHaveClass(/opacity-40/);
  expect(app.errors).toEqual([]);
});

test('seen from afar, the title of every card is all on it', async ({ page }) => {
  const app = new App(page);
  await app.openPart('kelp');
  await app.wholeGraph();
  await expect(page.locator('[data-far="true"]')).toBeVisible();
  const outside = () =>
    page.locator('.far-title').evaluateAll((titles) =>
      titles.flatMap((title) => {
        const [card, text] = [title, title.firstElementChild!].map((e) => e.getBoundingClientRect());
        const isIn = text.top >= card.top - 1 && text.bottom <= card.bottom + 1 && text.right <= card.right + 1;
        return isIn && text.height > 0 ? [] : [title.textContent];
      }),
    );
  await expect.poll(outside).toEqual([]);
  expect(await page.locator('.far-title').count()).toBe(14);
});

test('adding flows: cards go on from the picked one, between, out of their chain, and are replaced', async ({ page }) => {
  const app = new App(page);
  await app.openProject(...crate());
  // The only mesh and the only locator are taken; what shows a mesh takes the object it came from.
  await app.addNode('Scene Mesh');
  await app.addNode('Smooth');
  await expect(wires(page)).toHaveCount(1);
  await app.addNode('Show Mesh');
  await expect(wires(page)).toHaveCount(2);
  await expect(app.cardOf('show-mesh')).toContainText('result of Crate');
  // With Smooth picked, a further deformer goes between it and what is shown.
  await app.cardOf('smooth').locator('header').click();
  await app.addNode('Bulge');
  await expect(wires(page)).toHaveCount(3);
  await expect(page.getByRole('button', { name: /^from Smooth/ })).toBeVisible();
  const stored = async () => (await app.stored()).graphs[0];
  const ends = async () => {
    await app.saved();
    const { nodes, wires: all } = (await stored()) as unknown as {
      nodes: { id: string; type: string }[];
      wires: { from: { node: string }; to: { node: string } }[];
    };
    const type = (id: string) => nodes.find((n) => n.id === id)?.type;
    return all.map((w) => `${type(w.from.node)} > ${type(w.to.node)}`).sort();
  };
  const chain = ['bulge > show-mesh', 'scene-mesh > smooth', 'smooth > bulge'];
  expect(await ends()).toEqual(chain);
  // No card lies on another, and all are in view.
  const boxes = await page
    .locator('[data-card]')
    .evaluateAll((all) => all.map((c) => c.getBoundingClientRect().toJSON() as DOMRect));
  boxes.forEach((a, i) =>
    boxes
      .slice(i + 1)
      .forEach((b) => expect(a.right <= b.left || b.right <= a.left || a.bottom <= b.top || b.bottom <= a.top).toBe(true)),
  );
  // Deleted, the chain closes; undone, it is as before.
  await app.cardOf('smooth').locator('header').click();
  await page.locator('[data-bench]').focus();
  await page.keyboard.press('Delete');
  expect(await ends()).toEqual(['bulge > show-mesh', 'scene-mesh > bulge']);
  await page.keyboard.press('Control+z');
  expect(await ends()).toEqual(chain);
  // Replaced, its wires stay.
  await app.cardOf('bulge').locator('header').click();
  await page.locator('[data-bench]').focus();
  await page.keyboard.press('x');
  await expect(page.locator('[data-palette] input')).toHaveAttribute('placeholder', 'Replace it by…');
  await page.keyboard.type('swell out');
  await page.keyboard.press('Enter');
  expect(await ends()).toEqual(['scene-mesh > smooth', 'smooth > swell-out', 'swell-out > show-mesh']);
  // Dragged away with Alt, it comes out; dropped on the wire, it goes between again.
  await app.wholeGraph();
  const card = app.cardOf('swell-out').locator('header');
  // The picked card is framed: it stands in the middle of the bench.
  const bench = (await page.locator('[data-bench]').boundingBox())!;
  await expect
    .poll(async () => Math.abs((await app.cardOf('swell-out').boundingBox())!.x + 80 - bench.x - bench.width / 2))
    .toBeLessThan(40);
  await page.keyboard.down('Alt');
  await dragBy(page, card, 0, 160);
  await page.keyboard.up('Alt');
  expect(await ends()).toEqual(['scene-mesh > smooth', 'smooth > show-mesh']);
  await dragBy(page, card, 0, -160);
  expect(await ends()).toEqual(['scene-mesh > smooth', 'smooth > swell-out', 'swell-out > show-mesh']);
  // The palette knows what was added lately, and says what the marked one takes.
  await page.keyboard.press('Control+k');
  await expect(page.locator('[cmdk-group-heading]').first()).toHaveText('Added lately');
  await page.keyboard.type('bulge');
  await expect(page.locator('[data-palette-help]')).toContainText('Takes mesh');
  expect(app.errors).toEqual([]);
});

async function dragBy(page: Page, what: Locator, dx: number, dy: number): Promise<void> {
  // The view may still be on its way to where it was framed.
  let box = (await what.boundingBox())!;
  await expect(async () => {
    const before = box;
    box = (await what.boundingBox())!;
    expect(box).toEqual(before);
  }).toPass({ intervals: [120] });
  const [x, y] = [box.x + 30, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + dx / 2, y + dy / 2, { steps: 4 });
  await page.mouse.move(x + dx, y + dy, { steps: 4 });
  await page.mouse.up();
}

test('a right click offers what can be done with a row, a thing, a card, a port, a wire and the bench', async ({ page }) => {
  const app = new App(page);
  await app.openPart('swell');
  const menu = page.locator('[data-context-menu]');
  const choose = async (at: Locator, item: string | RegExp) => {
    await at.click({ button: 'right' });
    await menu.getByRole('menuitem', { name: item }).click();
    await expect(menu).toHaveCount(0);
  };
  await choose(app.card('ratio').locator('header'), /^Skip/);
  await expect(app.card('ratio').getByLabel('Skipped')).toBeVisible();
  await choose(app.card('ratio').locator('header'), /^Skip/);
  await choose(app.card('distance').locator('[data-row-port="distance"], [data-row-port="result"]').last(), /^Probe/);
  await choose(app.card('ratio').locator('[data-row-port="a"]'), 'Disconnect');
  await expect(app.card('ratio')).toContainText('divide');
  await page.keyboard.press('Control+z');
  const before = await wires(page).count();
  await page.locator('.react-flow__edge-interaction').first().click({ button: 'right', force: true });
  await menu.getByRole('menuitem', { name: 'Remove the wire' }).click();
  await expect(wires(page)).toHaveCount(before - 1);
  await page.keyboard.press('Control+z');
  await page.locator('[data-bench] .react-flow__pane').click({ button: 'right', position: { x: 10, y: 10 } });
  await menu.getByRole('menuitem', { name: /^Add a node/ }).click();
  await expect(page.locator('[data-palette]')).toBeVisible();
  await page.keyboard.press('Escape');
  // The scene: with the mouse, and F2 on the keyboard.
  await app.object('Swell here').first().click({ button: 'right' });
  await expect(menu.getByRole('menuitem', { name: /^Remove/ })).toBeVisible();
  await page.keyboard.press('Escape');
  await app.object('Swell here').first().click();
  await page.getByRole('tree').focus();
  await page.keyboard.press('F2');
  await expect(page.getByRole('dialog')).toContainText(/name/i);
  await page.keyboard.press('Escape');
  // The stage: a right click offers, a right drag moves the view.
  const canvas = (await page.locator('[data-stage] canvas').boundingBox())!;
  const middle = { x: canvas.x + canvas.width / 2, y: canvas.y + canvas.height / 2 };
  await page.mouse.click(middle.x, middle.y, { button: 'right' });
  await expect(menu.getByRole('menuitem', { name: /^Frame/ })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.mouse.move(middle.x, middle.y);
  await page.mouse.down({ button: 'right' });
  await page.mouse.move(middle.x + 60, middle.y + 20, { steps: 4 });
  await page.mouse.up({ button: 'right' });
  await page.waitForTimeout(100);
  await expect(menu).toHaveCount(0);
  expect(app.errors).toEqual([]);
});

import { expect, test, type Page } from '@playwright/test';
import { App } from './app.ts';

/** Curves and shapes that nodes make from nothing, put together by hand. */

/** Adds nodes, each wired from the one before: title, the output it is fed by, the input it goes into. */
async function chain(app: App, ...steps: [title: string, output?: string, input?: string][]): Promise<void> {
  for (const [i, [title, output, input]] of steps.entries()) {
    await app.addNode(title);
    await app.menu('Arrange', 'Tidy');
    if (output && input) await app.wire([steps[i - 1][0], output], [title, input]);
  }
  await app.settled();
}

/** The numbers of an output at an element, or of its one value. */
async function values(app: App, card: string, output: string, element?: number): Promise<number[]> {
  await app.output(card, output).click();
  await app.settled();
  if (element === undefined) {
    const text = await app.page.locator('[data-row="0"]').innerText();
    return text.split(/\s+/).map((t) => Number(t.replaceAll('−', '-')));
  }
  if (element > 3) await app.typeText('Go to index', String(element));
  return app.row(element);
}

const near = (a: readonly number[], b: readonly number[], by = 1e-3) =>
  b.forEach((v, i) => expect(Math.abs(a[i] - v), `${a.join()} beside ${b.join()}`).toBeLessThan(by));

async function start(page: Page): Promise<App> {
  const app = new App(page);
  await app.newProject();
  return app;
}

test('a spiral is rolled, turned round and travelled along', async ({
  page,
}) => {
  const app = await start(page);
  await chain(app, ['Make Spiral'], ['Roll Curve', 'curves', 'curves'], ['Reverse Curve', 'curves', 'curves'], ['Point Values', 'curves', 'mesh']); // prettier-ignore
  // Turned round: the first point is the end of the spiral, a metre up.
  near(await values(app, 'Point Values', 'positions', 0), [1, 1, 0]);
  near(await values(app, 'Point Values', 'positions', 24), [1, 0, 0]);
  await app.addNode('Follow Curve');
  await app.menu('Arrange', 'Tidy');
  await app.wire(['Reverse Curve', 'curves'], ['Follow Curve', 'curves']);
  await app.addNode('Split Matrix');
  await app.menu('Arrange', 'Tidy');
  await app.wire(['Follow Curve', 'matrix'], ['Split Matrix', 'matrix']);
  near(await values(app, 'Split Matrix', 'translate'), [1, 1, 0]);
  await app.card('Follow Curve').click();
  // By the end it begins again.
  await app.type('fraction', '0.9999');
  near(await values(app, 'Split Matrix', 'translate'), [1, 0, 0], 0.01);
  // Roll of the curve turns what travels, and only it.
  const turned = await values(app, 'Split Matrix', 'rotate');
  await app.card('Roll Curve').click();
  await app.type('roll start', '90');
  const rolled = await values(app, 'Split Matrix', 'rotate');
  expect(Math.hypot(...rolled.map((v, i) => v - turned[i]))).toBeGreaterThan(30);
  near(await values(app, 'Split Matrix', 'translate'), [1, 0, 0], 0.01);
  expect(app.errors).toEqual([]);
});

test('a tube is tapered, bulged and waved; a curve through its points; a ray meets it', async ({ page }) => {
  const app = await start(page);
  await chain(app, ['Make Tube'], ['Taper', 'mesh', 'mesh'], ['Bulge', 'mesh', 'mesh'], ['Ring Waves', 'mesh', 'mesh'], ['Show Mesh', 'mesh', 'mesh']); // prettier-ignore
  for (const title of ['Taper', 'Bulge', 'Ring Waves', 'Show Mesh'])
    await expect(app.card(title)).toHaveAttribute('data-failed', 'false');
  await app.card('Taper').click();
  await app.type('size start', '0.7');
  // Each changes what comes in, and its weight takes the change back.
  for (const title of ['Taper', 'Bulge', 'Ring Waves']) {
    const sum = async () => {
      const rows = [await values(app, title, 'mesh', 0), await values(app, title, 'mesh', 4)];
      return rows.flatMap((r) => r.slice(0, 3));
    };
    const changed = await sum();
    await app.card(title).click();
    await app.type('weight', '0');
    const plain = await sum();
    expect(Math.hypot(...changed.map((v, i) => v - plain[i])), title).toBeGreaterThan(0.01);
    await app.card(title).click();
    await app.type('weight', '1');
  }
  await app.addNode('Curve From Points');
  await app.menu('Arrange', 'Tidy');
  await app.wire(['Taper', 'mesh'], ['Curve From Points', 'mesh']);
  await expect(app.card('Curve From Points')).toHaveAttribute('data-failed', 'false');
  await app.addNode('Build Vector');
  await app.menu('Arrange', 'Tidy');
  await app.card('Build Vector').click();
  await app.type('y', '5');
  await app.addNode('Ray Hit');
  await app.menu('Arrange', 'Tidy');
  await app.wire(['Build Vector', 'vector'], ['Ray Hit', 'positions']);
  await app.wire(['Make Tube', 'mesh'], ['Ray Hit', 'target']);
  const [x, y, z] = await values(app, 'Ray Hit', 'position');
  near([x, z], [0, 0]);
  const [distance] = await values(app, 'Ray Hit', 'distance');
  expect(distance + y).toBeCloseTo(5, 3);
  expect(distance).toBeLessThan(5);
  expect(app.errors).toEqual([]);
});

test('the boundaries of distances to a surface and to a curve are drawn', async ({ page }) => {
  const app = await start(page);
  await chain(app, ['Make Line'], ['Curve Falloff', 'curves', 'curves']);
  await app.output('Curve Falloff', 'falloff').click();
  await app.settled();
  // Full only on the curve itself: the outer boundary, and with an inner end two.
  await expect(app.stage).toHaveAttribute('data-lines', '1');
  await app.type('inner', '0.1');
  await expect(app.stage).toHaveAttribute('data-lines', '2');
  await app.addNode('Make Sphere');
  await app.addNode('Surface Falloff');
  await app.menu('Arrange', 'Tidy');
  await app.wire(['Make Sphere', 'mesh'], ['Surface Falloff', 'target']);
  // Inside counts as full: the inner boundary is the surface itself.
  await app.output('Surface Falloff', 'falloff').click();
  await expect(app.stage).toHaveAttribute('data-lines', '2');
  expect(app.errors).toEqual([]);
});

import { expect, test } from '@playwright/test';
import { makeProject } from '@umberfish/core';
import { graph, node } from '../demo/src/records.ts';
import { App } from './app.ts';

/** Curves and shapes that nodes make from nothing. */

/** The numbers of an output at an element, or of its one value. */
async function values(app: App, card: string, output: string, element?: number): Promise<number[]> {
  await app.look(card, output);
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

test('a spiral is rolled, turned round and travelled along', async ({ page }) => {
  const app = new App(page);
  const nodes = [
    node('spiral', 'make-spiral', [0, 0]),
    node('roll', 'roll-curve', [200, 0]),
    node('back', 'reverse-curve', [400, 0]),
    node('values', 'point-values', [600, 0]),
    node('follow', 'follow-curve', [600, 200]),
    node('split', 'split-matrix', [800, 200]),
  ];
  const wires: [string, string][] = [
    ['spiral.curves', 'roll.curves'],
    ['roll.curves', 'back.curves'],
    ['back.curves', 'values.mesh'],
    ['back.curves', 'follow.curves'],
    ['follow.matrix', 'split.matrix'],
  ];
  await app.openProject({ ...makeProject('curves', 'Curves'), graphs: [graph('g', 'Curves', nodes, wires)] });
  // Turned round: the first point is the end of the spiral, a metre up.
  near(await values(app, 'values', 'positions', 0), [1, 1, 0]);
  near(await values(app, 'values', 'positions', 24), [1, 0, 0]);
  near(await values(app, 'split', 'translate'), [1, 1, 0]);
  // By the end it begins again.
  await app.card('follow').click();
  await app.type('fraction', '0.9999');
  near(await values(app, 'split', 'translate'), [1, 0, 0], 0.01);
  // Roll of the curve turns what travels, and only it.
  const turned = await values(app, 'split', 'rotate');
  await app.card('roll').click();
  await app.type('roll start', '90');
  const rolled = await values(app, 'split', 'rotate');
  expect(Math.hypot(...rolled.map((v, i) => v - turned[i]))).toBeGreaterThan(30);
  near(await values(app, 'split', 'translate'), [1, 0, 0], 0.01);
  expect(app.errors).toEqual([]);
});

test('a tube is tapered, bulged and waved; a curve through its points; a ray meets it', async ({ page }) => {
  const app = new App(page);
  const nodes = [
    node('tube', 'make-tube', [0, 0]),
    node('taper', 'taper', [200, 0], { inputs: { start: 0.7 } }),
    node('bulge', 'bulge', [400, 0], { inputs: { radius: 3 } }),
    node('waves', 'ring-waves', [600, 0]),
    node('show', 'show-mesh', [800, 0]),
    node('through', 'curve-from-points', [400, 300]),
    node('above', 'build-vector', [0, 300], { inputs: { y: 5 } }),
    node('ray', 'ray-hit', [200, 300]),
  ];
  const wires: [string, string][] = [
    ['tube.mesh', 'taper.mesh'],
    ['taper.mesh', 'bulge.mesh'],
    ['bulge.mesh', 'waves.mesh'],
    ['waves.mesh', 'show.mesh'],
    ['tube.mesh', 'through.mesh'],
    ['above.vector', 'ray.positions'],
    ['tube.mesh', 'ray.target'],
  ];
  await app.openProject({ ...makeProject('shapes', 'Shapes'), graphs: [graph('g', 'Shapes', nodes, wires)] });
  for (const { id } of nodes) await expect(app.card(id)).toHaveAttribute('data-failed', 'false');
  // Each changes what comes in, and its weight takes the change back.
  for (const id of ['taper', 'bulge', 'waves']) {
    const places = async () => [...(await values(app, id, 'mesh', 0)), ...(await values(app, id, 'mesh', 3))];
    const changed = await places();
    await app.card(id).click();
    await app.type('weight', '0');
    const plain = await places();
    expect(Math.hypot(...changed.map((v, i) => v - plain[i])), id).toBeGreaterThan(0.01);
  }
  const [x, y, z] = await values(app, 'ray', 'position');
  near([x, z], [0, 0]);
  const [distance] = await values(app, 'ray', 'distance');
  expect(distance + y).toBeCloseTo(5, 3);
  expect(distance).toBeLessThan(5);
  expect(app.errors).toEqual([]);
});

test('the boundaries of distances to a surface and to a curve are drawn', async ({ page }) => {
  const app = new App(page);
  const nodes = [
    node('line', 'make-line', [0, 0]),
    node('by-curve', 'curve-falloff', [200, 0]),
    node('ball', 'make-sphere', [0, 200]),
    node('by-surface', 'surface-falloff', [200, 200]),
  ];
  const wires: [string, string][] = [
    ['line.curves', 'by-curve.curves'],
    ['ball.mesh', 'by-surface.target'],
  ];
  await app.openProject({ ...makeProject('fades', 'Fades'), graphs: [graph('g', 'Fades', nodes, wires)] });
  await app.look('by-curve', 'falloff');
  // Full only on the curve itself: the outer boundary, and with an inner end two.
  await expect(app.stage).toHaveAttribute('data-lines', '1');
  await app.type('inner', '0.1');
  await expect(app.stage).toHaveAttribute('data-lines', '2');
  // Inside counts as full: the inner boundary is the surface itself.
  await app.look('by-surface', 'falloff');
  await expect(app.stage).toHaveAttribute('data-lines', '2');
  expect(app.errors).toEqual([]);
});

test('a bottle takes its drawn outline: from its other end, and on one axis only', async ({ page }) => {
  const app = new App(page);
  await app.openPart('profile');
  const ring = async () => {
    await app.look('turned', 'mesh');
    await app.settled();
    const [x, y, z] = await app.row(3);
    expect(y).toBe(0);
    return [x, z];
  };
  const across = ([x, z]: readonly number[]) => Math.hypot(x, z);
  // The outline leaves the axis by 0.02 m at the bottom, and by 0.09 m at its mouth; the tube by 0.2 m.
  const before = await ring();
  expect(across(before)).toBeCloseTo(0.02, 3);
  await app.card('turned').locator('header').click();
  await page.getByRole('switch', { name: 'Flip' }).click();
  const flipped = await ring();
  expect(across(flipped)).toBeCloseTo(0.09, 3);
  await app.card('turned').locator('header').click();
  await app.choose('Sizes', 'Only the first');
  const first = await ring();
  expect(first[1]).toBeCloseTo(flipped[1], 3);
  expect(first[0]).toBeCloseTo((0.2 * flipped[0]) / 0.09, 3);
  expect(app.errors).toEqual([]);
});

import { expect, test } from '@playwright/test';
import { App } from './app.ts';

/*
 * Reading a rig: comparing, attributes, formulas, order in the graph, histories, what acts on a mesh.
 */

let app: App;
test.beforeEach(async ({ page }) => {
  app = new App(page);
});
test.afterEach(() => expect(app.errors).toEqual([]));

const bench = () => app.page.locator('[data-bench]');
const key = async (keys: string) => {
  await bench().focus();
  await app.page.keyboard.press(keys);
  await app.settled();
};
const cell = (row: number, column: number) => app.page.locator(`[data-row="${row}"] > span`).nth(column);

test('A and B side by side: columns, changed rows, one switch, ghost, needles; frames and rest', async ({ page }) => {
  await app.openPart('lead', 'barnacles');
  await app.openGraph('Lead weight');
  await app.look('weight-rest', 'mesh');
  await key('a');
  await app.look('dent', 'mesh');
  await app.settled();
  const bar = page.locator('[data-compare]');
  await expect(bar).toContainText('Remember Rest');
  await expect(page.locator('[data-changed]')).toHaveAttribute('data-changed', '2');
  await expect(page.locator('[data-changed-row]')).toHaveCount(2);
  await expect(cell(5, 3)).toHaveText('0.0600');
  await expect(cell(4, 3)).toHaveText('0.0000');
  await page.getByRole('button', { name: /Only changed/ }).click();
  await expect(page.locator('[data-row-count]')).toHaveText('2');
  await page.getByRole('button', { name: 'Needles' }).click();
  await expect(page.locator('[data-legend]')).toContainText('from A to B');
  // The same output at rest: restPosition stands for the positions.
  await page.getByRole('button', { name: 'Stop comparing' }).click();
  await app.menu('Compare', 'Compare with its rest');
  await expect(page.locator('[data-changed]')).toHaveAttribute('data-changed', '2');
  await page.getByRole('button', { name: 'Stop comparing' }).click();
  // Two frames of one node.
  await app.openGraph('Barnacles');
  await app.type('Frame', '1');
  await app.look('twist-stuck', 'mesh');
  await app.settled();
  await app.menu('Compare', 'Pin as A at frame 1');
  await expect(page.locator('[data-changed]')).toHaveAttribute('data-changed', '0');
  await app.type('Frame', '22');
  await expect.poll(async () => Number(await page.locator('[data-changed]').getAttribute('data-changed'))).toBeGreaterThan(5000);
});

test('a point dragged in the stage changes position and not restPosition; undone in one step', async ({ page }) => {
  await app.openPart('lead');
  await app.openGraph('Lead weight');
  await app.object('Lead weight').click();
  await app.stage.focus();
  await page.keyboard.press('f');
  await app.look('dent', 'mesh');
  await app.settled();
  await page.locator('[data-row="7"]').click();
  const before = await cell(7, 2).textContent();
  const rest = await cell(7, 5).textContent();
  const handle = await app.markedPoint();
  // The up arrow of the handle stands above the point.
  await page.mouse.move(handle.x, handle.y - 34);
  await page.mouse.down();
  await page.mouse.move(handle.x, handle.y - 70, { steps: 5 });
  await page.mouse.up();
  await app.settled();
  await expect(page.locator('[data-card="dent"]')).toContainText('3 points moved');
  expect(Number(await cell(7, 2).textContent())).toBeGreaterThan(Number(before));
  expect(await cell(7, 5).textContent()).toBe(rest);
  await page.keyboard.press('Control+z');
  await app.settled();
  await expect(page.locator('[data-card="dent"]')).toContainText('2 points moved');
});

test('any attribute is shown on the stage; a name that is wrong by a letter is offered right', async ({ page }) => {
  await app.openPart('lead');
  await app.openGraph('Lead weight');
  await app.menuIn(page.getByRole('toolbar', { name: 'Stage tools' }).getByText('Attribute'), /^tint/);
  await expect(page.locator('[data-legend]')).toContainText('the stored colour');
  await app.menuIn(page.getByRole('toolbar', { name: 'Stage tools' }).getByText('tint'), /restPosition as needles/);
  await expect(page.locator('[data-legend]')).toContainText('Needles: restPosition');
  await app.look('carry', 'mesh');
  await app.settled();
  await expect(page.getByRole('button', { name: /Sort by stripes/ }).first()).toBeVisible();
  await app.typeText('Name', 'Tint');
  await app.settled();
  await expect(page.locator('[data-card="carry"] [data-problem]')).toContainText('Did you mean "tint"?');
});

test('a formula: completed, underlined, live in the readout, renamed without losing its wires', async ({ page }) => {
  await app.openPart('lead');
  await app.openGraph('Lead weight');
  await page.locator('[data-card="tint"] h3').click();
  const editor = page.locator('[data-formula] .cm-content');
  await editor.click();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('tint = vector(restP');
  await expect(page.locator('.cm-tooltip-autocomplete')).toContainText('restPosition');
  // The list takes keys 75 ms after it changed, so that nobody accepts what came up under the finger.
  await page.waitForTimeout(150);
  await page.keyboard.press('Enter');
  await page.keyboard.type('.y, 0, heigth');
  await expect(page.locator('.cm-lintRange-error')).toHaveCount(1);
  await expect(page.locator('[data-formula-problem]')).toContainText('has the unknown name "heigth"');
  await expect(page.locator('[data-card="tint"] [data-problem="formula"]')).toContainText('unknown name');
  for (let i = 0; i < 6; i++) await page.keyboard.press('Backspace');
  await page.keyboard.type('seconds * 2');
  await expect(page.locator('[data-formula-problem]')).toHaveCount(0);
  await app.look('tint', 'tint');
  await app.type('Frame', '12');
  await app.settled();
  const last = page.locator('[data-row="0"] > span').last();
  await expect(last).toHaveText('1.0000');
  await app.typeText('Name of output 1', 'shade');
  await app.settled();
  await expect(page.locator('[data-card="tint"] [data-output="shade"]')).toBeVisible();
  await expect(page.locator('[data-formula-problem]')).toContainText('gives "shade" no value');
});

test('order in the graph: sections fold and move, wires bend and show their path, things are found', async ({ page }) => {
  await app.openPart('lead', 'swell');
  await app.openGraph('Lead weight');
  // 1. A section: folded it is one card; its nodes come back where they were.
  await page.getByRole('button', { name: 'Fold The tint on another mesh' }).click();
  await expect(page.locator('[data-card="carry"]')).toBeHidden();
  await expect(page.locator('[data-section="carried"][data-folded]')).toContainText('3 nodes');
  await page.getByRole('button', { name: 'Unfold The tint on another mesh' }).click();
  await expect(page.locator('[data-card="carry"]')).toBeVisible();
  // 2. Dragged by its title it takes its nodes along.
  const before = (await page.locator('[data-card="aside"]').boundingBox())!;
  const title = (await page.locator('[data-section="carried"] header').boundingBox())!;
  await page.mouse.move(title.x + title.width - 30, title.y + 8);
  await page.mouse.down();
  await page.mouse.move(title.x + title.width - 30, title.y + 68, { steps: 6 });
  await page.mouse.up();
  await app.settled();
  const after = (await page.locator('[data-card="aside"]').boundingBox())!;
  const moved = (await page.locator('[data-section="carried"] header').boundingBox())!.y - title.y;
  // How far it comes depends on where the drag begins to count; its nodes come as far.
  expect(moved).toBeGreaterThan(20);
  expect(after.y - before.y).toBeCloseTo(moved, 0);
  await page.keyboard.press('Control+z');
  // 3. A new section round picked nodes, by a key; its note is written in the settings.
  await app.openGraph('Swell');
  await page.locator('[data-card="distance"] h3').click();
  await page.locator('[data-card="ratio"] h3').click({ modifiers: ['Shift'] });
  await key('n');
  await app.typeText('Title', 'How near');
  await page.getByLabel('Note').fill('1 at the radius');
  await expect(page.locator('[data-section]')).toContainText('How near');
  await expect(page.locator('[data-section]')).toContainText('1 at the radius');
  // 4. A picked wire keeps its path in ink; dragging its middle makes a pin.
  const wire = page.locator('.react-flow__edge[data-id="swell-wire-4"]');
  await wire.locator('.react-flow__edge-interaction').click({ force: true });
  await expect(page.locator('.react-flow__edge.on-path')).not.toHaveCount(0);
  expect(await page.locator('.react-flow__edge.on-path').count()).toBeLessThan(await page.locator('.react-flow__edge').count());
  const middle = (await page.locator('[data-new-pin]').boundingBox())!;
  const [pinX, pinY] = [middle.x + middle.width / 2, middle.y + middle.height / 2];
  await page.mouse.move(pinX, pinY);
  await page.mouse.down();
  await page.mouse.move(pinX, pinY + 60, { steps: 4 });
  await page.mouse.up();
  await expect(page.locator('[data-pin]')).toHaveCount(1);
  await page.locator('[data-pin]').dblclick();
  await expect(page.locator('[data-pin]')).toHaveCount(0);
  // 5. Found by an attribute's name in another graph.
  await key('Control+f');
  await page.getByPlaceholder(/attribute or message/).fill('stripes');
  await page.locator('[data-found="carry"]').click();
  await expect(page.locator('[data-card="carry"]')).toBeVisible();
  await expect(page.locator('[data-settings-of="carry"]')).toBeVisible();
  // 6. Tidied, cards of one section stay out of the other.
  await app.tidy();
  const box = (await page.locator('[data-section="carried"]').boundingBox())!;
  const tint = (await page.locator('[data-card="tint"]').boundingBox())!;
  expect(
    tint.y > box.y + box.height || tint.y + tint.height < box.y || tint.x + tint.width < box.x || tint.x > box.x + box.width,
  ).toBe(true);
});

test('where it tears: stretch as colour with its histogram and its history; kept frames play at once', async ({ page }) => {
  await app.openPart('tears');
  await app.openGraph('Where it tears');
  await app.look('change', 'stretch');
  await key('p');
  await expect(page.locator('[data-legend]')).toContainText('stretch');
  await page.getByRole('tab', { name: 'Plot' }).click();
  await expect(page.locator('[data-plot]')).toContainText(/1.212 values/);
  await page.getByRole('button', { name: 'Over the range' }).click();
  await expect(page.locator('[data-history]')).toHaveAttribute('data-history', '120', { timeout: 90_000 });
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.locator('[data-history]').getByRole('button', { name: 'CSV' }).click(),
  ]);
  expect(file.suggestedFilename()).toBe('change-stretch-history.csv');
  await page.getByRole('tab', { name: 'Values' }).click();
  await page.getByRole('button', { name: /Keep range/ }).click();
  await expect(page.locator('[data-kept]')).toHaveAttribute('data-kept', '120', { timeout: 90_000 });
  // An edit drops what depends on it.
  await page.locator('[data-card="wring"] h3').click();
  await app.type('to', '0.9');
  await app.settled();
  await expect.poll(async () => Number(await page.locator('[data-kept]').getAttribute('data-kept'))).toBeLessThan(10);
});

test('what acts on a mesh, with its cost, a skip switch and a way there; point sets; replacing the mesh', async ({ page }) => {
  await app.openPart('barnacles', 'lead');
  await app.object('Hull, stuck').click();
  await app.settled();
  const list = page.getByRole('region', { name: 'What acts on this mesh' });
  await expect(list.getByRole('listitem')).toHaveText([/Scene Mesh/, /Remember Rest/, /Twist/, /Move Points/, /Show Mesh/]);
  await list.getByRole('button', { name: 'Skip Twist' }).click();
  await app.settled();
  await list.getByRole('button', { name: 'Twist', exact: true }).click();
  await expect(page.locator('[data-card="twist-stuck"]')).toContainText('Twist');
  await expect(page.locator('[data-card="twist-stuck"] [aria-label="Skipped"]')).toBeVisible();
  // Point sets of the lead weight: a box takes all, a click takes out, shrink and invert.
  await app.object('Lead weight').click();
  await app.stage.focus();
  await page.keyboard.press('f');
  await page.getByRole('button', { name: 'Add point set' }).click();
  const canvas = (await app.stage.locator('canvas').boundingBox())!;
  await page.keyboard.down('Shift');
  await page.mouse.move(canvas.x + 4, canvas.y + 40);
  await page.mouse.down();
  await page.mouse.move(canvas.x + canvas.width - 6, canvas.y + canvas.height - 8, { steps: 4 });
  await page.mouse.up();
  await page.keyboard.up('Shift');
  const chosen = page.locator('[data-choosing]');
  await expect(chosen).toHaveAttribute('data-choosing', '8');
  await page.getByRole('button', { name: 'Invert' }).click();
  await expect(chosen).toHaveAttribute('data-choosing', '0');
  await page.mouse.click(canvas.x + canvas.width / 2, canvas.y + canvas.height / 2);
  await expect(chosen).toHaveAttribute('data-choosing', '1');
  await page.getByRole('button', { name: 'Grow' }).click();
  await expect(chosen).toHaveAttribute('data-choosing', '4');
  await page.getByRole('button', { name: 'Shrink' }).click();
  await expect(chosen).toHaveAttribute('data-choosing', '1');
  // Of the values in the table: the upper four by their height. Picking the object left the table on its points.
  await page.getByRole('button', { name: 'From values' }).click();
  await page.getByLabel('Column').selectOption({ label: 'position y' });
  await page.getByLabel('From', { exact: true }).fill('1.4');
  await page.getByLabel('To', { exact: true }).fill('2');
  await page.getByRole('button', { name: 'Take' }).click();
  await expect(chosen).toHaveAttribute('data-choosing', '4');
  await expect(page.locator('[data-set="set"]')).toContainText('4');
  await chosen.getByRole('button', { name: 'Done' }).click();
  await app.typeText('Name of point set set', 'loose');
  // It is an attribute of the mesh.
  await app.openGraph('Lead weight');
  await app.look('weight', 'mesh');
  await app.settled();
  await expect(page.getByRole('button', { name: /Sort by loose/ })).toBeVisible();
  // A mesh of another shape in its place.
  await app.object('Lead weight').click();
  await page.locator('[data-picker="replace"]').setInputFiles('demo/meshes/buoy.obj');
  await expect(page.locator('[data-fit]')).toHaveAttribute('data-fit', 'other');
  await expect(page.locator('[data-fit]')).toContainText('By point number goes the point set "loose": look at it again');
  await expect(page.locator('[data-fit]')).toContainText('By point number works the node "Dent by hand"');
  await page.getByRole('button', { name: 'Replace', exact: true }).click();
  await app.settled();
  await expect(page.locator('[data-card="dent"] [data-problem="offsets-count"]')).toContainText('made on a mesh of 8 points');
});

test('what is missing offers what gives it; unequal columns lead to where they come from', async ({ page }) => {
  await app.newProject();
  await app.addNode('Move Points');
  await page.locator('[data-card]').getByRole('button', { name: 'needed' }).click();
  await expect(page.locator('[data-palette]')).toContainText('Make Grid');
  await page.locator('[data-palette]').getByText('Make Grid', { exact: true }).click();
  await app.settled();
  await expect(page.locator('.react-flow__edge')).toHaveCount(1);
  await app.addNode('Make Sphere');
  await app.addNode('Point Values');
  await app.wire(['Make Sphere', 'mesh'], ['Point Values', 'mesh']);
  await app.wire(['Point Values', 'normals'], ['Move Points', 'offset']);
  await key('Escape');
  await app.look('Move Points', 'mesh');
  await app.settled();
  const problem = page.locator('[data-problem="column-fit"]');
  await expect(problem).toContainText('(from Point Values)');
  await expect(problem).toContainText('(from Make Grid)');
  await problem.getByRole('button', { name: 'Go to Point Values' }).click();
  await expect(page.locator('[data-settings-of]')).toHaveAttribute('data-settings-of', /point-values/);
});

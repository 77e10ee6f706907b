import { expect, test, type Page } from '@playwright/test';
import { makeSphere, meshId, makeObject, makeProject, readProjectFile, type Mesh, type Project } from '@umberfish/core';
import { readFileSync } from 'node:fs';
import { writeGlb } from '@umberfish/formats';
import { App } from './app.ts';

/** A ball, and a graph that twists it. */
function ball(): [Project, ReadonlyMap<string, Mesh>] {
  const mesh = makeSphere(1, 24, 32);
  const id = meshId(mesh);
  const record = (node: string, type: string, x: number, settings: object = {}, inputs: object = {}) => ({
    id: node,
    type,
    version: 1,
    title: '',
    position: [x, 0] as const,
    inputs: inputs as never,
    settings: settings as never,
    skip: false,
    probes: [],
  });
  const wire = (from: string, to: string) => ({
    id: `${from} ${to}`,
    from: { node: from, port: 'mesh' },
    to: { node: to, port: 'mesh' },
    pins: [],
  });
  const project: Project = {
    ...makeProject('ball', 'Ball'),
    assets: [{ id, name: 'Ball', points: mesh.topology.pointCount, faces: mesh.topology.faceCount, origin: '' }],
    objects: [makeObject('ball', 'Ball', 'mesh', { mesh: id })],
    graphs: [
      {
        id: 'g',
        name: 'Wring',
        nodes: [
          record('read', 'scene-mesh', 0, { object: 'ball' }),
          record('bump', 'bulge', 240, {}, { centre: [0, 1, 0], height: 0.4, radius: 0.8 }),
          record('show', 'show-mesh', 480, { object: 'ball' }),
        ],
        wires: [wire('read', 'bump'), wire('bump', 'show')],
        sections: [],
        preview: null,
      },
    ],
  };
  return [project, new Map([[id, mesh]])];
}

const canvas = (page: Page) => page.locator('[data-stage] canvas').screenshot();

test('surfaces are looked at as a checker and by their sides; what is picked has a line round it; a reach is drawn; what leaves is said', async ({
  page,
}) => {
  const app = new App(page, true);
  await app.openProject(...ball());
  await page.getByRole('button', { name: 'Ghost' }).click();
  const looks = new Map<string, Buffer>([['Shaded', await canvas(page)]]);
  for (const look of ['Checker by rest', 'Checker in the world', 'Facing']) {
    await page.locator('[data-stage] [role="toolbar"]').getByRole('button', { name: /▾$/ }).first().click();
    await page.getByRole('menuitem', { name: new RegExp(`^${look}`) }).click();
    await app.settled();
    looks.set(look, await canvas(page));
  }
  // Every look is a picture of its own.
  const all = [...looks.values()];
  all.forEach((a, i) => all.slice(i + 1).forEach((b) => expect(a.equals(b)).toBe(false)));
  // At rest and in the world are the same until the mesh is moved: then the one by rest goes along, the other stays.
  await page.locator('[data-stage] [role="toolbar"]').getByRole('button', { name: /▾$/ }).first().click();
  await page.getByRole('menuitem', { name: 'Shaded' }).click();
  await app.pick('Ball');
  await page.waitForTimeout(150);
  expect((await canvas(page)).equals(looks.get('Shaded')!)).toBe(false);
  // The reach of a picked Bulge: a ball of lines.
  expect((await app.stageData()).lines).toBe('0');
  await app.card('bump').locator('header').click();
  await app.settled();
  await expect(app.stage).not.toHaveAttribute('data-lines', '0');
  // Two points of what is looked at are measured: through the middle of a ball of radius one they are less than two apart.
  await app.look('bump', 'mesh');
  await app.settled();
  const view = (await app.stage.locator('canvas').boundingBox())!;
  await page.mouse.click(view.x + view.width / 2 - 12, view.y + view.height / 2);
  await page.keyboard.down('Shift');
  await page.mouse.click(view.x + view.width / 2 + 24, view.y + view.height / 2 + 10);
  await page.keyboard.up('Shift');
  const line = page.locator('[data-stage-line]');
  await expect(line).toContainText(/m apart \(x [−\d.]+, y/);
  const [, apart, x, y, z] = /([\d.]+) m apart \(x (\S+), y (\S+), z (\S+)\)/
    .exec(await line.innerText())!
    .map((t) => Number(t.replace('−', '-')));
  expect(apart).toBeGreaterThan(0.01);
  expect(apart).toBeLessThan(2);
  expect(Math.hypot(x, y, z)).toBeCloseTo(apart, 2);
  // What is moved out of view is said, with a way to it.
  await app.pick('Ball');
  await expect(page.locator('[data-out-of-view]')).toHaveCount(0);
  await app.type('Move x', '60');
  await expect(page.locator('[data-out-of-view]')).toContainText('Ball is out of view.');
  await page.getByRole('button', { name: 'Show', exact: true }).click();
  await expect(page.locator('[data-out-of-view]')).toHaveCount(0);
  expect(app.errors).toEqual([]);
});

/** A ball that wears a picture: two by two pixels. */
async function painted(): Promise<Uint8Array> {
  const picture = 'iVBORw0KGgoAAAANSUhEUgAAAAIAAAACCAIAAAD91JpzAAAAF0lEQVR4nGM4YSP34dkJhg/PTshFBQAANKIHJzczejwAAAAASUVORK5CYII=';
  const plain = makeSphere(0.5, 8, 12);
  const uv = new Float32Array(plain.topology.cornerCount * 2);
  plain.topology.cornerPoints.forEach((p, c) => {
    uv[c * 2] = plain.positions[p * 3] + 0.5;
    uv[c * 2 + 1] = plain.positions[p * 3 + 1] + 0.5;
  });
  const role = 'plain';
  const mesh: Mesh = {
    ...plain,
    materials: [{ name: 'Net', baseColour: [1, 1, 1], picture: { type: 'image/png', bytes: Buffer.from(picture, 'base64') } }],
    attributes: [
      { name: 'uv', on: 'corner', type: 'pair', role, data: uv },
      { name: 'material', on: 'face', type: 'integer', role, data: new Int32Array(plain.topology.faceCount) },
    ],
  };
  return writeGlb([{ name: 'Float', mesh }]);
}

test('the picture of a glTF is shown, stays with the project and through a deformer, and is told where it is broken', async ({
  page,
}) => {
  const app = new App(page, true);
  const bytes = Buffer.from(await painted());
  const drop = (name: string, buffer: Buffer) =>
    page.locator('[data-picker="shelf"]').setInputFiles({ name, mimeType: 'model/gltf-binary', buffer });
  await app.openShelf();
  await drop('float.glb', bytes);
  await app.settled();
  await expect(app.stage).toHaveAttribute('data-pictures', '1');
  const shown = await canvas(page);
  await page.locator('[data-stage] [role="toolbar"]').getByRole('button', { name: /▾$/ }).first().click();
  await page.getByRole('menuitem', { name: 'Checker by uv' }).click();
  await app.settled();
  expect((await canvas(page)).equals(shown)).toBe(false);
  await app.saved();
  await page.reload();
  await app.drawn();
  await app.settled();
  await expect(app.stage).toHaveAttribute('data-pictures', '1');
  // Broken behind its header: the file comes in, and the browser says that it cannot show it.
  const at = bytes.indexOf('IDAT', 0, 'latin1');
  const broken = Buffer.from(bytes);
  broken.fill(0, at + 4, at + 20);
  await app.openShelf();
  await drop('broken.glb', broken);
  await app.settled();
  await expect(page.getByText('A picture of a material cannot be read by this browser')).toBeVisible();
});

test('what stands on the ground has a shadow there; what is far above it has none', async ({ page }) => {
  // As people see it: tests leave it out.
  await page.addInitScript(() => Object.defineProperty(navigator, 'webdriver', { get: () => false }));
  const app = new App(page, true);
  await app.openProject(...ball());
  await expect(app.stage).toHaveAttribute('data-shadow', 'drawn');
  await app.pick('Ball');
  await app.type('Move y', '9');
  await expect(app.stage).toHaveAttribute('data-shadow', 'none');
  await page.keyboard.press('Control+z');
  await expect(app.stage).toHaveAttribute('data-shadow', 'drawn');
  expect(app.errors).toEqual([]);
});

test('points of a set are painted on the side one sees, taken out again, and each stroke is a step', async ({ page }) => {
  const app = new App(page, true);
  const [project, assets] = ball();
  await app.openProject({ ...project, graphs: [] }, assets);
  await app.pick('Ball');
  await page.getByRole('button', { name: 'Add point set' }).click();
  const { x, y, width, height } = (await app.stage.locator('canvas').boundingBox())!;
  const [cx, cy] = [x + width / 2, y + height / 2];
  const stroke = async (...keys: string[]) => {
    for (const key of keys) await page.keyboard.down(key);
    await page.mouse.move(cx - 30, cy);
    await page.mouse.down();
    await page.mouse.move(cx, cy, { steps: 3 });
    await page.mouse.move(cx + 30, cy, { steps: 3 });
    await page.mouse.up();
    for (const key of keys) await page.keyboard.up(key);
  };
  const count = async () => Number(await page.locator('[data-choosing]').getAttribute('data-choosing'));
  await stroke('Control');
  const painted = await count();
  expect(painted).toBeGreaterThan(4);
  // Of the half one does not see, none: the same stroke from behind finds others.
  expect(painted).toBeLessThan(project.assets[0].points / 2);
  await stroke('Control', 'Alt');
  expect(await count()).toBe(0);
  const undo = page.getByRole('button', { name: 'Undo' });
  await undo.click();
  expect(await count()).toBe(painted);
  await undo.click();
  expect(await count()).toBe(0);
  expect(app.errors).toEqual([]);
});

test('a wire that is pointed at tells what runs through it; a result is kept as an object', async ({ page }) => {
  const app = new App(page, true);
  await app.openProject(...ball());
  const edge = page.locator('.react-flow__edge').first();
  const path = (await edge.locator('path').first().boundingBox())!;
  await page.mouse.move(path.x + path.width / 2, path.y + path.height / 2);
  await expect(page.locator('[data-wire-label]')).toContainText(/points · x −1.00 … 1.00/);
  await expect(edge.locator('[data-hovered]')).toHaveCount(1);
  await page.mouse.move(5, 5);
  await expect(page.locator('[data-wire-label]')).toHaveCount(0);
  const port = app.card('bump').locator('[data-row-port="mesh"][data-row-side="out"]');
  await port.click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Keep as an object' }).click();
  await expect(page.locator('[data-remark]')).toContainText('"Bulge, frame 1" is in the scene');
  await app.settled();
  await expect(page.locator('[data-stage-line]')).toContainText('Bulge, frame 1');
  // It is stored with the project.
  await app.saved();
  await page.reload();
  await app.drawn();
  await app.settled();
  await app.pick('Bulge, frame 1');
  await expect(page.locator('[data-stage-line]')).toContainText('Bulge, frame 1');
  expect(app.errors).toEqual([]);
});

test('of the demo what is stored is drawn first, then the graph one looks at, then everything', async ({ page }) => {
  const app = new App(page, true);
  await page.addInitScript(() => {
    const seen: number[] = [];
    (window as never as { resultsSeen: number[] }).resultsSeen = seen;
    new MutationObserver(() => {
      const stage = document.querySelector<HTMLElement>('[data-stage]');
      const drawn = Number(stage?.dataset.drawn ?? 0);
      const results = Number(stage?.dataset.results ?? 0);
      if (drawn > 0 && seen.at(-1) !== results) seen.push(results);
    }).observe(document, { subtree: true, attributes: true, attributeFilter: ['data-drawn', 'data-results'] });
  });
  await app.openPart('swell', 'lead', 'tears');
  await app.settled();
  const seen = await page.evaluate(() => (window as never as { resultsSeen: number[] }).resultsSeen);
  // A picture that comes at once may take the place of one that was not drawn yet.
  expect(seen).toEqual([...seen].sort((a, b) => a - b));
  expect(seen.at(-1)).toBe(4);
  expect(app.errors).toEqual([]);
});

test('an import says how large it will be, and begins with a unit in which that is plausible', async ({ page }) => {
  const app = new App(page, true);
  await app.newProject();
  const obj = (size: number) => `v 0 0 0\nv ${size} 0 0\nv 0 ${size / 2} 0\nv 0 0 ${size / 4}\nf 1 2 3\nf 1 3 4\n`;
  const give = (size: number) =>
    page
      .locator('[data-picker="mesh"]')
      .setInputFiles({ name: 'crate.obj', mimeType: 'text/plain', buffer: Buffer.from(obj(size)) });
  await give(180);
  const extent = page.locator('[data-extent]');
  await expect(extent).toContainText('1.80 × 0.90 × 0.45 m');
  await expect(page.getByRole('combobox', { name: 'Units' })).toContainText('Centimetres');
  await app.choose('Units', 'Metres');
  await expect(extent).toContainText('180.0 × 90.0 × 45.0 m');
  await expect(extent).toContainText('centimetres would do');
  await app.choose('Up axis', 'z');
  await expect(extent).toContainText('180.0 × 45.0 × 90.0 m');
  await page.keyboard.press('Escape');
  await give(1.5);
  await expect(extent).toContainText('1.50 × 0.75 × 0.38 m');
  await expect(page.getByRole('combobox', { name: 'Units' })).toContainText('Metres');
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  await app.settled();
  const saved = page.waitForEvent('download');
  await page.keyboard.press('Control+s');
  const file = readProjectFile(readFileSync((await (await saved).path())!, 'utf8'));
  expect(Math.max(...[...file.assets.values()][0].positions)).toBeCloseTo(1.5, 6);
  expect(app.errors).toEqual([]);
});

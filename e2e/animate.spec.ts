import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import {
  addPage,
  makeObject,
  makeProject,
  makeSphere,
  meshId,
  readProjectFile,
  type HandOutPart,
  type Mesh,
  type ObjectRecord,
  type Project,
} from '@umberfish/core';
import { graph, node } from '../demo/src/records.ts';
import { App } from './app.ts';

const MOVE = ['translate.x', 'translate.y', 'translate.z'];
const TURN = ['rotate.x', 'rotate.y', 'rotate.z'];
const DIAL = { id: 'held', name: 'held', value: 0, default: 0, min: 0, max: 1, unit: '' };

const at = (x: number, y: number, z: number) => ({
  translate: [x, y, z] as const,
  rotate: [0, 0, 0] as const,
  order: 'xyz' as const,
  scale: [1, 1, 1] as const,
});
const place = (id: string, name: string, x: number, y: number, extras: Partial<ObjectRecord> = {}) =>
  makeObject(id, name, 'locator', { channels: at(x, y, 0), ...(extras as object) });

/** A ball that swells where a control is; a lantern, held by the hook or the mast; two fins. */
function quay(): [Project, ReadonlyMap<string, Mesh>] {
  const mesh = makeSphere(0.6, 24, 32);
  const small = makeSphere(0.15, 8, 10);
  const ids = [meshId(mesh), meshId(small)];
  const swell = graph(
    'swell',
    'Swell',
    [
      node('read', 'scene-mesh', [0, 0], { settings: { object: 'ball' } }),
      node('where', 'scene-locator', [0, 200], { settings: { object: 'here' } }),
      node('bump', 'bulge', [240, 0], { inputs: { height: 0.2, radius: 0.7 } }),
      node('show', 'show-mesh', [480, 0], { settings: { object: 'ball' } }),
    ],
    [
      ['read.mesh', 'bump.mesh'],
      ['where.position', 'bump.centre'],
      ['bump.mesh', 'show.mesh'],
    ],
  );
  const hold = graph(
    'hold',
    'Hold',
    [
      node('hook-at', 'scene-locator', [0, 0], { settings: { object: 'hook' } }),
      node('mast-at', 'scene-locator', [0, 200], { settings: { object: 'mast' } }),
      node('dial', 'read-channel', [0, 400], { settings: { object: 'lantern', channel: 'held' } }),
      node('hand', 'hand-over', [240, 0], { settings: { object: 'lantern' } }),
      node('drive', 'drive-object', [480, 0], { settings: { object: 'lantern' } }),
    ],
    [
      ['hook-at.world', 'hand.a'],
      ['mast-at.world', 'hand.b'],
      ['dial.value', 'hand.dial'],
      ['hand.carrier', 'drive.carrier'],
    ],
  );
  const project: Project = {
    ...makeProject('quay', 'Small quay'),
    assets: [mesh, small].map((m, i) => ({
      id: ids[i],
      name: `Ball ${i}`,
      points: m.topology.pointCount,
      faces: m.topology.faceCount,
      origin: 'test',
    })),
    objects: [
      makeObject('ball', 'Puffer', 'mesh', { mesh: ids[0], channels: at(0, 0.6, 0) }),
      place('here', 'Swell here', 0, 1.2),
      place('hook', 'Hook', 1.2, 1.4),
      place('mast', 'Mast', -1.2, 1.4),
      makeObject('lantern', 'Lantern', 'mesh', { mesh: ids[1], channels: at(1.2, 0.9, 0), custom: [DIAL] }),
      place('fin-l', 'left fin', -0.7, 0.5),
      place('fin-r', 'right fin', 0.7, 0.5),
    ],
    graphs: [swell, hold],
  };
  return [project, new Map([mesh, small].map((m, i) => [ids[i], m]))];
}

const object = (id: string, channels: readonly string[], name = ''): HandOutPart => ({
  kind: 'object',
  object: id,
  channels,
  name,
});
const handed = (project: Project): Project =>
  [
    addPage('Body', [
      { kind: 'dials', node: 'bump', dials: ['height', 'radius'], name: 'Swelling' },
      object('here', MOVE, 'Bump'),
      object('fin-l', [...MOVE, ...TURN]),
      object('fin-r', [...MOVE, ...TURN]),
    ]),
    addPage('Hands', [object('lantern', [...TURN, 'held'])]),
  ].reduce((p, edit) => edit(p), project);

// A small window draws quicker in software.
test.use({ viewport: { width: 1080, height: 680 } });

/** The page for animators as a person uses it. */
class Animator extends App {
  async open(project: Project, assets: ReadonlyMap<string, Mesh>): Promise<void> {
    await this.openProject(project, assets);
    await this.page.getByRole('link', { name: 'Animate', exact: true }).click();
    await this.still();
  }

  async still(): Promise<void> {
    await this.page.waitForTimeout(30);
    await this.page.waitForSelector('[data-animate][data-settled="true"]');
    await this.page.waitForTimeout(30);
  }

  async tab(name: string): Promise<void> {
    await this.page.getByRole('tab', { name, exact: true }).click();
  }

  async set(label: string, text: string): Promise<void> {
    await this.type(label, text);
    await this.still();
  }

  async goTo(frame: number): Promise<void> {
    await this.page.getByRole('textbox', { name: 'Frame', exact: true }).fill(String(frame));
    await this.page.keyboard.press('Enter');
    await this.still();
  }

  async number(label: string): Promise<number> {
    return Number((await this.page.getByLabel(label, { exact: true }).inputValue()).replace('−', '-'));
  }

  /** Takes the up arrow of the handle of what is picked, and drags it. */
  async dragHandleUp(by: number): Promise<void> {
    const from = await this.markedPoint();
    await this.page.mouse.move(from.x, from.y - 34);
    await this.page.mouse.down();
    await this.page.mouse.move(from.x, from.y - 34 - by, { steps: 5 });
    await this.page.mouse.up();
    await this.still();
  }

  async autoKey(): Promise<void> {
    await this.page.getByRole('button', { name: 'Auto-key' }).click();
  }

  /** Moves a slider to a value, as dragging it does. */
  async slide(label: string, to: number): Promise<void> {
    const slider = this.page.getByRole('slider', { name: label });
    await slider.fill(String(to));
    await this.still();
  }

  /** Where a place in the world is on the page, by what the stage looks at. */
  get canvas(): Promise<{ x: number; y: number; width: number; height: number }> {
    return this.stage
      .locator('canvas')
      .boundingBox()
      .then((b) => b!);
  }

  async document(): Promise<Project> {
    return (await this.stored()) as unknown as Project;
  }
}

const remark = (page: Page) => page.locator('[data-remark]');

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
  await page.getByRole('menuitem', { name: /^Across x/ }).click();
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

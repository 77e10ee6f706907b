import { expect, test } from '@playwright/test';
import { makeBox, meshId, makeObject, makeProject, type Mesh, type Painted, type Project } from '@umberfish/core';
import { App } from './app.ts';

const at = (x: number, y: number, z: number) => ({
  ...{ translate: [x, y, z] as const, rotate: [0, 0, 0] as const },
  ...{ order: 'xyz' as const, scale: [1, 1, 1] as const },
});

/** A sail of many points before the eye, with a joint at each side, bound and moved: left at −x, right at +x. */
function sail(extra: Partial<Project> = {}): [Project, ReadonlyMap<string, Mesh>] {
  const mesh = makeBox([2, 2, 0.2], [20, 20, 2]);
  const id = meshId(mesh);
  const node = (name: string, type: string, x: number, settings = {}, inputs = {}) => ({
    ...{ id: name, type, version: 1, title: '', position: [x, 0] as const, inputs, settings, skip: false, probes: [] },
  });
  const wire = (from: string, port: string, to: string) => ({
    ...{ id: `${from} ${to}`, from: { node: from, port }, to: { node: to, port }, pins: [] },
  });
  const joint = (id: string, name: string, x: number) =>
    makeObject(id, name, 'joint', { parent: 'mast', channels: at(x, 0, 0), rest: at(x, 0, 0) });
  return [
    {
      ...makeProject('sail', 'Sail'),
      assets: [{ id, name: 'Sail', points: mesh.topology.pointCount, faces: mesh.topology.faceCount, origin: '' }],
      objects: [
        makeObject('sail', 'Sail', 'mesh', { mesh: id }),
        makeObject('mast', 'Mast', 'chain', {}),
        joint('l', 'Left yard', -0.5),
        joint('r', 'Right yard', 0.5),
      ],
      graphs: [
        {
          ...{ id: 'sew', name: 'Sew', sections: [], preview: null },
          nodes: [
            node('in', 'scene-mesh', 0, { object: 'sail' }),
            node('chain', 'scene-chain', 0, { object: 'mast' }),
            node('bind', 'bind-skin', 220),
            node('paint', 'paint-values', 440, { name: 'weight_Left_yard' }),
            node('skin', 'skin', 660),
            node('show', 'show-mesh', 880, { object: 'sail', name: '' }),
          ],
          wires: [
            wire('in', 'mesh', 'bind'),
            wire('chain', 'chain', 'bind'),
            wire('bind', 'mesh', 'paint'),
            wire('paint', 'mesh', 'skin'),
            wire('chain', 'chain', 'skin'),
            wire('skin', 'mesh', 'show'),
          ],
        },
      ],
      ...extra,
    },
    new Map([[id, mesh]]),
  ];
}

class Painter extends App {
  async begin(): Promise<void> {
    await this.openProject(...sail());
    await this.page.locator('[data-card="paint"]').click();
    await this.stage.focus();
    await this.page.keyboard.press('f');
    await this.page.getByRole('button', { name: 'View ▾' }).click();
    await this.page.getByRole('menuitem', { name: 'From the front' }).click();
    await this.settled();
    await this.page.getByRole('button', { name: 'Paint', exact: true }).click();
    await expect(this.page.locator('[data-paint-bar]:not([data-paint-bar=""])')).toBeVisible();
    await this.settled();
  }

  /** A place on the stage, as shares of its size from the corner. */
  async place(x: number, y: number): Promise<{ x: number; y: number }> {
    const box = await this.stage.boundingBox();
    if (!box) throw new Error('The stage is not there.');
    return { x: box.x + box.width * x, y: box.y + 36 + (box.height - 36) * y };
  }

  /** A stroke of the brush through places on the stage. */
  async stroke(...places: readonly (readonly [number, number])[]): Promise<void> {
    const [first, ...others] = places;
    const from = await this.place(...first);
    await this.page.mouse.move(from.x, from.y);
    await this.page.mouse.down();
    for (const p of others) {
      const to = await this.place(...p);
      await this.page.mouse.move(to.x, to.y, { steps: 3 });
    }
    await this.page.mouse.up();
    await this.settled();
  }

  async painted(): Promise<Painted> {
    const node = (await this.stored()).graphs[0].nodes.find((n) => n.id === 'paint') as unknown as {
      settings: { painted?: Painted };
    };
    return node.settings.painted ?? { points: 0, columns: {} };
  }

  /** What is painted, as numbers by attribute and point. */
  async numbers(): Promise<Record<string, Map<number, number>>> {
    const out: Record<string, Map<number, number>> = {};
    for (const [name, blocks] of Object.entries((await this.painted()).columns)) {
      out[name] = new Map();
      for (const [block, { index, values }] of Object.entries(blocks))
        index.forEach((k, i) => out[name].set(Number(block) * 256 + k, values[i]));
    }
    return out;
  }
}

const LEFT = 'weight_Left_yard';
const RIGHT = 'weight_Right_yard';

test('weights are painted on the posed skin: every point sums to 1, one stroke is one step back, locks hold', async ({
  page,
}) => {
  const app = new Painter(page);
  await app.begin();
  // On the side of the right yard, for the left one.
  await app.stroke([0.56, 0.42], [0.6, 0.45], [0.62, 0.42]);
  const after = await app.numbers();
  expect(Object.keys(after).sort()).toEqual([LEFT, RIGHT]);
  expect(after[LEFT].size).toBeGreaterThan(5);
  for (const [p, w] of after[LEFT]) expect(w + (after[RIGHT].get(p) ?? 0)).toBeCloseTo(1, 5);
  await expect(page.locator('[data-card="paint"]')).toContainText(`on ${after[LEFT].size} points`);
  // It lies on the front: the points of the back, 20 cm behind, are not reached by a brush of 20 cm round a corner.
  await page.keyboard.press('Control+z');
  await app.settled();
  expect((await app.painted()).columns).toEqual({});
  await page.keyboard.press('Control+y');
  await app.settled();
  expect(await app.numbers()).toEqual(after);
  // With both joints locked nothing can be given.
  await page.getByRole('button', { name: 'Lock Left yard', exact: true }).click();
  await app.stroke([0.4, 0.4], [0.42, 0.42]);
  expect(await app.numbers()).toEqual(after);
  await expect(page.getByText(/could not go all the way/)).toBeVisible();
  // Escape leaves painting, and the brush with it.
  await app.stage.focus();
  await page.keyboard.press('Escape');
  await expect(page.locator('[data-paint-bar]')).toHaveCount(0);
  expect(app.errors).toEqual([]);
});

test('a point has its weights in numbers: one typed, the others share the rest; copied to another point; one side to the other', async ({
  page,
}) => {
  const app = new Painter(page);
  await app.begin();
  const mark = async (x: number, y: number) => {
    const p = await app.place(x, y);
    await page.keyboard.down('Control');
    await page.mouse.click(p.x, p.y);
    await page.keyboard.up('Control');
    await app.settled();
  };
  await mark(0.58, 0.42);
  await app.type('Weight of Left yard', '0.4');
  await app.settled();
  await expect(page.getByLabel('Weight of Right yard')).toHaveValue('0.6');
  const [[point]] = [...(await app.numbers())[LEFT]];
  await page.getByRole('button', { name: 'Copy', exact: true }).click();
  await mark(0.42, 0.3);
  await page.getByRole('button', { name: 'Paste', exact: true }).click();
  await app.settled();
  const two = (await app.numbers())[LEFT];
  expect([...two.values()]).toEqual([0.4, 0.4]);
  expect([...two.keys()]).toContain(point);
  // The right half on the left: each yard has the weights of the other there.
  await page.getByRole('button', { name: 'Mirror ▾' }).click();
  await page.getByRole('menuitem', { name: 'From +x to −x' }).click();
  await app.settled();
  const all = await app.numbers();
  expect(all[LEFT].size).toBeGreaterThan(200);
  const mirrored = [...all[RIGHT]].filter(([p, w]) => p !== point && Math.abs(w - 0.4) < 1e-4);
  expect(mirrored.length).toBeGreaterThan(0);
  for (const [p, w] of all[LEFT]) expect(w + (all[RIGHT].get(p) ?? 0)).toBeCloseTo(1, 4);
  expect(app.errors).toEqual([]);
});

test('any number is painted: to a value, on all points, taken away again; what the stage does not show is told', async ({
  page,
}) => {
  const app = new Painter(page);
  await app.begin();
  await app.typeText('Name', 'wet');
  await page.getByRole('button', { name: 'To value' }).click();
  await app.type('Value', '0.25');
  await app.type('Strength', '100');
  await page.getByRole('button', { name: 'All points' }).click();
  await app.settled();
  const { wet } = await app.numbers();
  const count = Number(await page.locator('[data-paint-bar]').getAttribute('data-paint-bar'));
  expect([wet.size, new Set(wet.values())]).toEqual([count, new Set([0.25])]);
  await app.choose('Brush fades', 'Even');
  await page.getByRole('button', { name: 'Take', exact: true }).click();
  await app.stroke([0.5, 0.42]);
  const taken = [...(await app.numbers()).wet.values()].filter((v) => v === 0);
  expect(taken.length).toBeGreaterThan(3);
  expect(taken.length).toBeLessThan(count / 4);
  await page.getByRole('button', { name: 'Forget wet' }).click();
  await app.settled();
  expect((await app.painted()).columns).toEqual({});
  // Another card is shown instead of the result: the way back to what is painted is there.
  await page.getByRole('button', { name: 'Done', exact: true }).click();
  await page.locator('[data-card="bind"]').click();
  await page.keyboard.press('p');
  await app.settled();
  await page.locator('[data-card="paint"]').click();
  await page.getByRole('button', { name: 'Paint', exact: true }).click();
  await app.settled();
  await expect(page.getByText('Nothing on the stage has the points of this node.')).toHaveCount(0);
  expect(app.errors).toEqual([]);
});

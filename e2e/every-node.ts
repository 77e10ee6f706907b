import { expect } from '@playwright/test';
import { NODES, type NodeDefinition } from '@umberfish/core';
import type { App } from './app.ts';

/** Nodes that the palette offers in a graph of its own: not the walls of modules. */
export const OFFERED: readonly NodeDefinition[] = NODES.filter((n) => !n.way);

/** Adds a node of a type in one of the ways there are, and waits until its settings stand open. */
type Way = (app: App, node: NodeDefinition) => Promise<void>;

/** Asks for the palette as the page does by itself where a wire is dropped, or a card is to be replaced. */
const askFor = (app: App, request: object) =>
  app.page.evaluate((detail) => void window.dispatchEvent(new CustomEvent('umberfish:palette', { detail })), request);

async function choose({ page }: App, { title }: NodeDefinition): Promise<boolean> {
  const box = page.locator('[data-palette] input');
  await box.fill(title);
  const entry = page.getByRole('option', { name: new RegExp(`^${title}\\b`) }).first();
  if ((await entry.count()) === 0) {
    await page.keyboard.press('Escape');
    return false;
  }
  await entry.click();
  return true;
}

async function shown({ page }: App, { title }: NodeDefinition): Promise<void> {
  await expect(page.locator('[data-settings-of]').getByLabel('Title', { exact: true })).toHaveValue(title);
}

async function byPalette(app: App, node: NodeDefinition): Promise<void> {
  await app.page.keyboard.press('Control+k');
  expect(await choose(app, node), `${node.title} is in the palette`).toBe(true);
}

/** What wires are dropped from: it gives a mesh. */
const FIRST = 'Make Sphere';

export const WAYS: Readonly<Record<string, Way>> = {
  async 'on nothing'(app, node) {
    await app.page.locator('[data-bench]').focus();
    await app.page.keyboard.press('Escape');
    await byPalette(app, node);
    await shown(app, node);
  },
  async 'after a card'(app, node) {
    await app.page.locator('[data-card]').first().locator('header').click();
    await byPalette(app, node);
    await shown(app, node);
  },
  async 'on a picked mesh'(app, node) {
    await app.object('Box').first().click();
    await byPalette(app, node);
    // A constraint asks for another object first; what a mesh goes through is put on it, and all else is a card.
    if (!(await app.page.locator('[data-settings-of]').isVisible())) await app.page.keyboard.press('Escape');
  },
  async 'at a dropped wire'(app, node) {
    const from = await app.page.locator('[data-card]').first().getAttribute('data-card');
    const ends = [
      ['mesh', 'mesh'],
      ['value', 'number'],
    ];
    for (const [port, kind] of ends) {
      await askFor(app, { end: { ref: { node: from, port }, side: 'output', kind }, at: { x: 300, y: 300 } });
      await choose(app, node);
    }
  },
  async pasted(app, node) {
    await WAYS['on nothing'](app, node);
    const cards = await app.page.locator('[data-card]').count();
    await app.page.locator('[data-bench]').focus();
    await app.page.keyboard.press('Control+c');
    await app.page.keyboard.press('Control+v');
    await expect(app.page.locator('[data-card]')).toHaveCount(cards + 1);
    await shown(app, node);
  },
  async 'in place of another'(app, node) {
    const replace = await app.page.locator('[data-card]').last().getAttribute('data-card');
    await askFor(app, { end: null, at: null, replace });
    if (await choose(app, node)) await shown(app, node);
  },
};

/** Adds nodes, each in its ways, and asks the page after each whether it has reported an error. */
export async function addEach(app: App, turns: readonly (readonly [NodeDefinition, string])[]): Promise<void> {
  await app.newProject();
  await app.page.getByRole('button', { name: 'Add to the scene' }).click();
  await app.page.getByRole('menuitem', { name: 'Box', exact: true }).click();
  await app.addNode(FIRST);
  for (const [i, [node, way]] of turns.entries()) {
    await WAYS[way](app, node);
    expect(app.errors, `${node.title} ${way}`).toEqual([]);
    // A bench that fills up takes longer at every step.
    if (i % 12 === 11) {
      await app.page.locator('[data-bench]').focus();
      await app.page.keyboard.press('Control+a');
      await app.page.keyboard.press('Delete');
      await expect(app.page.locator('[data-card]')).toHaveCount(0);
      await app.addNode(FIRST);
    }
  }
}

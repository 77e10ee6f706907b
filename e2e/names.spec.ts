import { expect, test } from '@playwright/test';
import type { SettingValue } from '@umberfish/core';
import { App } from './app.ts';

// Names are data: whatever things are called, the page works.

const IDS = ['__proto__', 'constructor', 'toString', 'a b', 'a.b', '"', '..', '<b>', 'hasOwnProperty', '💥', "it's"];

test('nodes, objects and inputs with names that every object has are drawn, picked and edited', async ({ page }) => {
  const app = new App(page);
  const [project, assets] = app.partOf('swell');
  const ids = new Map<string, string>();
  const idOf = (id: string) => {
    if (!ids.has(id)) ids.set(id, IDS[ids.size] ?? `plain${ids.size}`);
    return ids.get(id) as string;
  };
  const graphs = project.graphs.map((g) => ({
    ...g,
    nodes: g.nodes.map((n) => ({ ...n, id: idOf(n.id), settings: { ...n.settings } })),
    preview: null,
    sections: g.sections.map((s) => ({ ...s, nodes: s.nodes.map(idOf) })),
    wires: g.wires.map((w) => ({ ...w, from: { ...w.from, node: idOf(w.from.node) }, to: { ...w.to, node: idOf(w.to.node) } })),
  }));
  const objectId = (id: string) => `${id} constructor`;
  const isObject = new Set(project.objects.map((o) => o.id));
  const renamed = {
    ...project,
    objects: project.objects.map((o) => ({ ...o, id: objectId(o.id), parent: o.parent === null ? null : objectId(o.parent) })),
    graphs: graphs.map((g) => ({
      ...g,
      nodes: g.nodes.map((n) => ({
        ...n,
        settings: Object.fromEntries(
          Object.entries(n.settings).map(([k, v]): [string, SettingValue] => [
            k,
            typeof v === 'string' && isObject.has(v) ? objectId(v) : v,
          ]),
        ),
      })),
    })),
  };
  await app.openProject(renamed, assets);
  await expect(page.locator('article[data-card]')).toHaveCount(graphs[0].nodes.length);
  await expect(page.locator('article[data-failed="true"]')).toHaveCount(0);
  // Every card can be picked, and its settings are there.
  for (const card of await page.locator('article[data-card]').all()) {
    await card.locator('header, h3').first().click();
    await expect(page.locator('section[aria-label="Settings"]')).not.toContainText('undefined');
  }
  await app.object('Swell here').click();
  await app.andDrawn(() => app.type('Move x', '0.4'));
  await app.saved();
  await page.reload();
  await app.drawn();
  await expect(page.locator('article[data-failed="true"]')).toHaveCount(0);
  await app.object('Swell here').click();
  await expect(page.getByLabel('Move x', { exact: true })).toHaveValue('0.4');
  expect(app.errors).toEqual([]);
});

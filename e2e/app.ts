import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { expect, type Locator, type Page } from '@playwright/test';
import { readProjectFile, writeProjectFile, type Mesh, type Project } from '@umberfish/core';

const readDemo = () => readProjectFile(readFileSync(new URL('../demo/lantern-quay.json', import.meta.url), 'utf8'));
/** The demo, read once for all tests. */
let demo: ReturnType<typeof readDemo> | undefined;

interface StoredDocument {
  objects: { name: string; channels: { translate: number[] } }[];
  graphs: { nodes: { id: string; type: string; inputs: Record<string, unknown> }[]; wires: unknown[] }[];
}

/** The application as a person uses it: what can be done on its pages, in words. */
export class App {
  /** @param sharp draws as people see it; else with a quarter of the pixels, which is much quicker in software */
  constructor(
    readonly page: Page,
    sharp = false,
  ) {
    page.on('pageerror', (e) => this.errors.push(e.message));
    page.on('console', (m) => m.type() === 'error' && this.errors.push(m.text()));
    // Most of what is done here is done on the bench.
    const bench = page.addInitScript(() => localStorage.setItem('umberfish-layout ', 'bench'));
    const coarse = sharp ? undefined : page.addInitScript(() => localStorage.setItem('umberfish-coarse', 'yes'));
    this.prepared = Promise.all([bench, coarse]);
  }

  /** Settings of the browser are there from the first page on. */
  private readonly prepared: Promise<unknown>;

  /** Errors of the page and refusals of its security policy; a test ends by asking for none. */
  readonly errors: string[] = [];

  /** Goes to a page, with the settings of the browser in place. */
  async visit(url: string): Promise<void> {
    await this.prepared;
    await this.page.goto(url);
  }

  async openShelf(): Promise<void> {
    await this.visit('/');
    await this.page.waitForSelector('[data-shelf=ready]');
  }

  async openDemo(): Promise<void> {
    await this.openShelf();
    await this.page.getByRole('button', { name: 'Open Lantern Quay' }).click();
    await this.drawn();
    // What is stored is drawn first; what graphs make comes after.
    await this.settled();
    await this.wholeGraph();
  }

  /**
   * Opens some graphs of the demo from a file, with the objects they name, what hangs under named groups, and all they
   * hang under: it is quicker than all of it. A group may be named beside the graphs.
   */
  async openPart(...names: readonly string[]): Promise<void> {
    await this.openProject(...this.partOf(...names));
  }

  /** What `openPart` opens. */
  partOf(...names: readonly string[]): [Project, ReadonlyMap<string, Mesh>] {
    const { project, assets } = (demo ??= readDemo());
    const unknown = names.filter((n) => ![...project.graphs, ...project.objects].some((x) => x.id === n));
    if (unknown.length > 0) throw new Error(`The demo has no ${unknown.join(', ')}.`);
    const kept = project.graphs.filter((g) => names.includes(g.id));
    const settings = kept.flatMap((g) => g.nodes.flatMap((n) => Object.values(n.settings)));
    const named = new Set<unknown>([...names, ...settings]);
    const byId = new Map(project.objects.map((o) => [o.id, o]));
    const above = (id: string | null): string[] => (id === null ? [] : [id, ...above(byId.get(id)?.parent ?? null)]);
    const inGroup = (id: string) =>
      above(id).some((up) => named.has(up) && (up === id || ['group', 'chain'].includes(byId.get(up)?.type ?? '')));
    const wanted = new Set(project.objects.filter((o) => inGroup(o.id)).flatMap((o) => above(o.id)));
    const objects = project.objects.filter((o) => wanted.has(o.id));
    return [{ ...project, id: 'part', name: 'Quay corner', objects, graphs: kept }, assets];
  }

  /** Opens a project from a file. */
  async openProject(project: Project, assets: ReadonlyMap<string, Mesh> = new Map()): Promise<void> {
    // From the disk: megabytes that are handed to the page take half a second.
    const path = join(mkdtempSync(join(tmpdir(), 'umberfish-')), 'part.json');
    writeFileSync(path, writeProjectFile(project, assets));
    await this.openShelf();
    await this.page.locator('[data-picker="shelf"]').setInputFiles(path);
    await this.drawn();
    await this.settled();
    rmSync(dirname(path), { recursive: true });
    await this.wholeGraph();
  }

  /** Tidies the graph, and waits until every card is where it goes. */
  async tidy(): Promise<void> {
    await this.page.locator('[data-bench]').focus();
    await this.page.keyboard.press('l');
    await this.page.waitForFunction(() => document.body.dataset.tidying === undefined);
    await this.page.waitForTimeout(150);
  }

  /** Frames all of a module's inside, once it is open. */
  async wholeInside(): Promise<void> {
    await expect(this.page.locator('[data-inside]')).toBeVisible();
    await this.page.waitForTimeout(150);
    await this.wholeGraph();
  }

  /** Frames the whole graph on the bench. */
  async wholeGraph(): Promise<void> {
    await this.page.locator('[data-bench]').focus();
    await this.page.keyboard.press('f');
    await this.page.waitForTimeout(80);
  }

  async newProject(): Promise<void> {
    await this.openShelf();
    await this.page.getByRole('button', { name: 'New project' }).click();
    await this.page.waitForSelector('[data-build]');
  }

  get stage(): Locator {
    return this.page.locator('[data-stage]');
  }

  /** What the stage says of itself. */
  async stageData(): Promise<Record<string, string>> {
    return this.stage.evaluate((e) => ({ ...(e as HTMLElement).dataset }) as Record<string, string>);
  }

  /** Waits until a picture newer than `request` is on the stage. */
  async drawn(request = 0): Promise<void> {
    await this.page.waitForFunction(
      (n) => Number(document.querySelector<HTMLElement>('[data-stage]')?.dataset.drawn ?? 0) > n,
      request,
    );
  }

  /** Waits until the picture is that of the document as it is. */
  async settled(): Promise<void> {
    await this.page.waitForTimeout(30);
    await this.page.waitForSelector('[data-build][data-settled="true"]');
    await this.page.waitForTimeout(30);
  }

  /** Does something and waits for the picture that follows from it. */
  async andDrawn(work: () => Promise<unknown>): Promise<void> {
    const before = Number((await this.stageData()).drawn ?? 0);
    await work();
    await this.drawn(before);
  }

  card(idOrTitle: string): Locator {
    return this.page.locator(`[data-card="${idOrTitle}"], [data-card][aria-label="${idOrTitle}"]`).first();
  }

  port(card: string, port: string): Locator {
    return this.card(card).locator(`.react-flow__handle[data-port="${port}"]`).first();
  }

  output(card: string, port: string): Locator {
    return this.card(card).locator(`[data-output="${port}"]`);
  }

  /** Looks at the values of an output; its card is picked first where it is folded away. */
  async look(card: string, port: string): Promise<void> {
    const output = this.output(card, port);
    if ((await output.count()) === 0) await this.card(card).locator('header').click();
    await output.click();
  }

  /** Draws a wire with the mouse. */
  async wire(from: [string, string], to: [string, string]): Promise<void> {
    const source = this.card(from[0]).locator(`.react-flow__handle.source[data-port="${from[1]}"]`);
    const target = this.card(to[0]).locator(`.react-flow__handle.target[data-port="${to[1]}"]`);
    // What is folded away shows while its card is picked, or while a wire that fits is held over it.
    if ((await source.count()) === 0) await this.card(from[0]).locator('header').click();
    await source.hover();
    const a = (await source.boundingBox())!;
    await this.page.mouse.move(a.x + a.width / 2, a.y + a.height / 2);
    await this.page.mouse.down();
    const head = (await this.card(to[0]).locator('header').boundingBox())!;
    await this.page.mouse.move(head.x + head.width / 2, head.y + head.height / 2, { steps: 6 });
    const b = (await target.boundingBox())!;
    await this.page.mouse.move(b.x + b.width / 2, b.y + b.height / 2, { steps: 4 });
    await this.page.mouse.up();
  }

  /** Adds a node by the palette and waits for its card. */
  /** The card of a type of node, and of a title where there are several. */
  cardOf(type: string, title?: string): Locator {
    const cards = this.page.locator(`[data-card][data-type="${type}"]`);
    return title === undefined ? cards : cards.filter({ has: this.page.locator('h3', { hasText: title }) });
  }

  async addNode(title: string): Promise<void> {
    const cards = await this.page.locator('[data-card]').count();
    await this.page.keyboard.press('Control+k');
    await this.page.locator('[data-palette] input').fill(title);
    await this.page.keyboard.press('Enter');
    await expect(this.page.locator('[data-card]')).toHaveCount(cards + 1);
  }

  /** Chooses in a drop-down by its label. */
  async choose(label: string, option: string): Promise<void> {
    await this.page.getByRole('combobox', { name: label, exact: true }).click();
    await this.page.getByRole('option', { name: option, exact: true }).click();
  }

  /** Types into a field of the settings and takes it over. */
  async type(label: string, text: string): Promise<void> {
    const field = this.page.getByLabel(label, { exact: true });
    await field.click();
    await field.fill(text);
    await field.press('Enter');
    await field.blur();
  }

  /** Types into a text field that is already there and takes it over. */
  async typeText(label: string, text: string): Promise<void> {
    const field = this.page
      .getByRole('textbox', { name: label, exact: true })
      .or(this.page.getByRole('combobox', { name: label, exact: true }));
    await field.first().fill(text);
    await field.first().press('Enter');
  }

  /** Opens another graph of the project. */
  async openGraph(name: string): Promise<void> {
    await this.page.getByRole('button', { name: 'Choose a graph' }).click();
    await this.page.locator(`[data-graph="${name}"] [data-choose]`).click();
    await this.settled();
    // The graph is framed a moment after it opens.
    await this.page.waitForTimeout(150);
    await this.wholeGraph();
  }

  /** Chooses from a menu behind a button. */
  async menu(button: string, item: string | RegExp): Promise<void> {
    await this.menuIn(this.page.getByRole('button', { name: button }), item);
  }

  async menuIn(trigger: Locator, item: string | RegExp): Promise<void> {
    await trigger.click();
    await this.page.getByRole('menuitem', { name: item }).click();
    await this.settled();
  }

  /** Where the marked point is on the page. */
  async markedPoint(): Promise<{ x: number; y: number }> {
    await expect(this.stage).toHaveAttribute('data-mark', /\d/);
    const [x, y] = ((await this.stageData()).mark ?? '').split(',').map(Number);
    const canvas = (await this.stage.locator('canvas').boundingBox())!;
    return { x: canvas.x + x, y: canvas.y + y };
  }

  /** Where the points and handles of the picked curve are on the page. */
  async curveHolds(): Promise<{ x: number; y: number }[]> {
    await expect(this.stage).toHaveAttribute('data-holds', /\d/);
    const canvas = (await this.stage.locator('canvas').boundingBox())!;
    return ((await this.stageData()).holds ?? '').split(' ').map((text) => {
      const [x, y] = text.split(',').map(Number);
      return { x: canvas.x + x, y: canvas.y + y };
    });
  }

  /** Picks an object in the scene and frames it on the stage. */
  async frameObject(name: string): Promise<void> {
    await this.object(name).first().click();
    await expect(this.object(name).first()).toHaveAttribute('aria-selected', 'true');
    await this.settled();
    await this.stage.focus();
    await this.page.keyboard.press('f');
    await this.page.waitForTimeout(400);
    await this.settled();
  }

  /** Takes the up arrow of a handle that stands at a place, and drags it. */
  async dragUp(from: { x: number; y: number }, by: number): Promise<void> {
    await this.page.mouse.move(from.x, from.y - 34);
    await this.page.mouse.down();
    await this.page.mouse.move(from.x, from.y - 34 - by, { steps: 5 });
    await this.page.mouse.up();
    await this.settled();
  }

  /** Goes to a frame. */
  async frame(frame: number): Promise<void> {
    await this.page.getByRole('textbox', { name: 'Frame', exact: true }).fill(String(frame));
    await this.page.keyboard.press('Enter');
    await this.settled();
  }

  /** Picks an object, and others with it. */
  async pick(...names: string[]): Promise<void> {
    for (const [i, name] of names.entries()) {
      const row = this.page.getByRole('treeitem').filter({ has: this.page.getByText(name, { exact: true }) });
      await row.click(i > 0 ? { modifiers: ['Shift'] } : {});
    }
    await this.settled();
  }

  /** Runs a command of the palette. */
  async command(label: string): Promise<void> {
    await this.page.keyboard.press('Control+k');
    await this.page.locator('[data-palette] input').fill(label);
    await this.page.keyboard.press('Enter');
    await this.settled();
  }

  /** Where an object stands in the world, as its settings say. */
  async standsAt(name: string): Promise<number[]> {
    await this.pick(name);
    const step = this.page.locator('[data-step="Together"]');
    const opener = step.getByRole('button', { name: 'Matrix of together' });
    if ((await opener.getAttribute('aria-expanded')) !== 'true') await opener.click();
    const text = await step.locator('tr').first().innerText();
    return text.split(/\s+/).slice(1, 4).map(Number);
  }

  object(name: string): Locator {
    return this.page.getByRole('treeitem', { name: new RegExp(name) });
  }

  /** Numbers of a row of the values table, by element. */
  async row(element: number): Promise<number[]> {
    const text = await this.page.locator(`[data-row="${element}"]`).innerText();
    return text
      .split(/\s+/)
      .slice(1)
      .map((t) => Number(t.replaceAll('−', '-')));
  }

  async saved(): Promise<void> {
    await expect(this.page.locator('[data-save="saved"]')).toBeVisible();
  }

  get openId(): string {
    return decodeURIComponent(new URL(this.page.url()).pathname.split('/')[2]);
  }

  /** The open project as it is stored by this browser, after its last edit was. */
  async stored(): Promise<StoredDocument> {
    await this.saved();
    return this.storedNow(this.openId);
  }

  /** A project as it is stored by this browser now. */
  async storedNow(project: string): Promise<StoredDocument> {
    return this.page.evaluate(async (id) => {
      const request = indexedDB.open('umberfish');
      const db = await new Promise<IDBDatabase>((done, fail) => {
        request.onsuccess = () => done(request.result);
        request.onerror = () => fail(request.error);
      });
      const get = db.transaction('projects').objectStore('projects').get(id);
      const found = await new Promise<{ document: never }>(
        (done) => (get.onsuccess = () => done(get.result as { document: never })),
      );
      db.close();
      return found.document;
    }, project);
  }
}

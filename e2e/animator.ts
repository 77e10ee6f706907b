import type { Page } from '@playwright/test';
import {
  addPage,
  CATALOGUE,
  checkProject,
  Evaluator,
  makeObject,
  makeProject,
  makeSphere,
  meshId,
  setSetting,
  takeSnapshot,
  type HandOutPart,
  type Mesh,
  type ObjectRecord,
  type Project,
  type Snapshot,
} from '@umberfish/core';
import { graph, node } from '../demo/src/records.ts';
import { App } from './app.ts';

// What trials of the page for animators share: a small quay, and the page as a person uses it.

export const MOVE = ['translate.x', 'translate.y', 'translate.z'];
export const TURN = ['rotate.x', 'rotate.y', 'rotate.z'];
export const DIAL = { id: 'held', name: 'held', value: 0, default: 0, min: 0, max: 1, unit: '' };

export const at = (x: number, y: number, z: number) => ({
  translate: [x, y, z] as const,
  rotate: [0, 0, 0] as const,
  order: 'xyz' as const,
  scale: [1, 1, 1] as const,
});
export const place = (id: string, name: string, x: number, y: number, extras: Partial<ObjectRecord> = {}) =>
  makeObject(id, name, 'locator', { channels: at(x, y, 0), ...(extras as object) });

/** A ball that swells where a control is; a lantern, held by the hook or the mast; two fins. */
export function quay(): [Project, ReadonlyMap<string, Mesh>] {
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
      ['hook-at.matrix', 'hand.a'],
      ['mast-at.matrix', 'hand.b'],
      ['dial.value', 'hand.dial'],
      ['hand.carrier', 'drive.matrix'],
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
  const assets = new Map([mesh, small].map((m, i) => [ids[i], m] as const));
  const snapshot = takeSnapshot(new Evaluator(CATALOGUE), project, 1, 'hand') as Snapshot;
  const held = setSetting(CATALOGUE, 'hold', 'hand', 'snapshot', snapshot)(project);
  // A fixture that is broken proves nothing.
  const wrong = checkProject(CATALOGUE, { project: held, assets, repairs: [] });
  if (wrong.length > 0) throw new Error(wrong.map((f) => `${f.where}: ${f.message}`).join('\n'));
  return [held, assets];
}

export const object = (id: string, channels: readonly string[], name = ''): HandOutPart => ({
  kind: 'object',
  object: id,
  channels,
  name,
});
export const handed = (project: Project): Project =>
  [
    addPage('Body', [
      { kind: 'dials', node: 'bump', dials: ['height', 'radius'], name: 'Swelling' },
      object('here', MOVE, 'Bump'),
      object('fin-l', [...MOVE, ...TURN]),
      object('fin-r', [...MOVE, ...TURN]),
    ]),
    addPage('Hands', [object('lantern', [...TURN, 'held'])]),
  ].reduce((p, edit) => edit(p), project);

/** The page for animators as a person uses it. */
export class Animator extends App {
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

export const remark = (page: Page) => page.locator('[data-remark]');

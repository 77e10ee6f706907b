import { expect, type Page } from '@playwright/test';
import type { App } from './app.ts';

// What trials of loss share: chance that is the same in every run, full disks, and short ways.

/** Numbers between 0 and 1 that are the same in every run. */
export function seeded(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}

/** From now on, storing anything fails as on a full disk while the page's `full` is set. */
export const mayFill = (page: Page) =>
  page.addInitScript(() => {
    const put = IDBObjectStore.prototype.put;
    IDBObjectStore.prototype.put = function (...args: Parameters<typeof put>) {
      if (sessionStorage.getItem('full')) throw new DOMException('The quota has been exceeded.', 'QuotaExceededError');
      return put.apply(this, args);
    };
  });
export const fill = (page: Page, full: boolean) =>
  page.evaluate((f) => (f ? sessionStorage.setItem('full', '1') : sessionStorage.removeItem('full')), full);

/** Where the locator of the swelling is moved to, in a stored project. */
export const xOf = ({ objects }: Awaited<ReturnType<App['stored']>>) =>
  objects.find((o) => o.name === 'Swell here')?.channels.translate[0];
export const toShelf = (page: Page) => page.getByRole('link', { name: 'Umberfish' }).click();
const CRATE = {
  name: 'crate.obj',
  mimeType: 'text/plain',
  buffer: Buffer.from('v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf 1 2 3 4\n'),
};

export async function importCrate(page: Page): Promise<void> {
  await page.locator('[data-build] input[type=file][accept^=".obj"]').first().setInputFiles(CRATE);
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  await expect(page.locator('[data-remark="done"]')).toContainText('Imported crate.obj');
}

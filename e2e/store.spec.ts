import { expect, test, type Page } from '@playwright/test';
import { App } from './app.ts';

/** Opens the store as an application of another version would, on a page that runs none. */
async function holdStore(page: Page, version: number, letsGo: boolean): Promise<void> {
  await page.goto('/favicon.svg');
  await page.evaluate(
    ([to, closes]) =>
      new Promise<void>((done, fail) => {
        const request = indexedDB.open('umberfish', to as number);
        request.onupgradeneeded = () => {
          const tables: [string, string, string[]][] = [
            ['projects', 'id', ['changedAt']],
            ['meshes', 'id', []],
            ...((to as number) > 30
              ? ([
                  ['modules', 'key', ['id']],
                  ['bin', 'key', ['removedAt']],
                ] as [string, string, string[]][])
              : []),
          ];
          for (const [name, keyPath, indexes] of tables) {
            const table = request.result.createObjectStore(name, { keyPath });
            for (const index of indexes) table.createIndex(index, index);
          }
        };
        request.onsuccess = () => {
          if (closes) request.result.close();
          else Object.assign(window, { held: request.result });
          done();
        };
        request.onerror = () => fail(request.error as DOMException);
      }),
    [version, letsGo] as const,
  );
}

// What it guards against: an empty shelf without a word, where projects are there and may not be read.
test('a store of a newer version is left alone, and that is said', async ({ page }) => {
  await holdStore(page, 40, true);
  const app = new App(page);
  await app.openShelf();
  await expect(
    page
      .getByText('a newer version of Umberfish has this browser’s storage')
      .or(page.getByText("a newer version of Umberfish has this browser's storage")),
  ).toBeVisible();
  await page.getByRole('button', { name: 'New project' }).click();
  await expect(page.getByText(/newer version of Umberfish/).first()).toBeVisible();
  // Not a record was written to it.
  await page.goto('/favicon.svg');
  const count = await page.evaluate(
    () =>
      new Promise<number>((done) => {
        const request = indexedDB.open('umberfish');
        request.onsuccess = () => {
          const all = request.result.transaction('projects').objectStore('projects').count();
          all.onsuccess = () => done(all.result);
        };
      }),
  );
  expect(count).toBe(0);
});

test('an older tab that does not let go of the store is told of, and once it is closed all is there', async ({
  page,
  context,
}) => {
  const old = await context.newPage();
  await holdStore(old, 10, false);
  const app = new App(page);
  await app.visit('/');
  await expect(page.getByText('A tab with an older version of Umberfish holds the projects')).toBeVisible();
  await old.close();
  await expect(page.getByText('A tab with an older version of Umberfish holds the projects')).toHaveCount(0);
  await page.getByRole('button', { name: 'New project' }).click();
  await app.saved();
  expect(app.errors).toEqual([]);
});

test('a formula of a hundred thousand characters that is pasted is refused in a sentence, and the page goes on', async ({
  page,
}) => {
  const app = new App(page);
  await app.newProject();
  await app.addNode('Formula');
  const text = Array.from({ length: 5000 }, (_, i) => `a${i} = ${i} + 0.5 * 3`).join('\n');
  await page.evaluate((t) => navigator.clipboard.writeText(t), text);
  await page.getByRole('textbox', { name: 'Formula', exact: true }).click();
  await page.keyboard.press('Control+v');
  await expect(page.getByText(/10.?000/).first()).toBeVisible();
  await app.settled();
  expect(app.errors).toEqual([]);
});

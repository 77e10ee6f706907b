import { test, type Page } from '@playwright/test';
import { App } from './app.ts';

const ROUNDS = 5;
const median = (all: readonly number[]) => [...all].sort((a, b) => a - b)[Math.floor(all.length / 2)];

/** Notes when the stage of the demo first shows anything, the first result, and everything. */
const watch = (page: Page) =>
  page.addInitScript(() => {
    const times: Record<string, number> = {};
    (window as never as { times: typeof times }).times = times;
    const note = (what: string) => (times[what] ??= performance.now());
    new MutationObserver(() => {
      const stage = document.querySelector<HTMLElement>('[data-stage]');
      if (document.querySelector('[data-build]')) note('page');
      if (Number(stage?.dataset.drawn ?? 0) > 0) note('stored');
      if (Number(stage?.dataset.results ?? 0) > 0) note('picked');
      if (stage && document.querySelector('[data-build][data-settled="true"]')) note('all');
    }).observe(document, {
      subtree: true,
      childList: true,
      attributes: true,
      attributeFilter: ['data-drawn', 'data-results', 'data-settled'],
    });
  });

test('the first pictures of the demo', async ({ page }) => {
  await watch(page);
  const app = new App(page, true);
  await app.openDemo();
  await app.saved();
  const rounds: Record<string, number>[] = [];
  for (let i = 0; i < ROUNDS; i++) {
    await page.reload();
    await page.waitForFunction(() => (window as never as { times: Record<string, number> }).times.all > 0);
    rounds.push(await page.evaluate(() => (window as never as { times: Record<string, number> }).times));
  }
  const after = (what: string) => median(rounds.map((r) => r[what] - r.page));
  console.log(
    `After the page of the demo: stored meshes ${after('stored').toFixed(0)} ms, the picked graph ${after('picked').toFixed(0)} ms, everything ${after('all').toFixed(0)} ms (median of ${ROUNDS}; drawn in software).`,
  );
});

test('pictures while the control of the pufferfish is dragged, on Build and on Animate', async ({ page }) => {
  const app = new App(page, true);
  await app.openDemo();
  await app.object('Swell here').first().click();
  await app.settled();
  const drag = async () => {
    const before = Number((await app.stageData()).drawn);
    const at = (await app.stage.locator('canvas').boundingBox())!;
    const field = page.getByRole('textbox', { name: /move x$/i }).first();
    const box = (await field.boundingBox())!;
    const since = performance.now();
    await page.mouse.move(box.x + 20, box.y + 10);
    await page.mouse.down();
    for (let i = 1; i <= 60; i++) await page.mouse.move(box.x + 20 + i * 2, box.y + 10);
    await page.mouse.up();
    await page.waitForSelector('[data-settled="true"]');
    const pictures = Number((await app.stageData()).drawn) - before;
    return { pictures, perSecond: (pictures * 1000) / (performance.now() - since), pixels: at.width * at.height };
  };
  const onBuild = await drag();
  await page.keyboard.press('Control+z');
  await page.getByRole('link', { name: 'Animate', exact: true }).click();
  await page.waitForSelector('[data-animate][data-settled="true"]');
  await page.waitForTimeout(1500);
  const onAnimate = await drag();
  console.log(
    `Sixty steps of a drag: on Build ${onBuild.pictures} pictures, on Animate ${onAnimate.pictures}; a second ${onBuild.perSecond.toFixed(1)} and ${onAnimate.perSecond.toFixed(1)} (stages of ${Math.round(onBuild.pixels / 1000)} and ${Math.round(onAnimate.pixels / 1000)} thousand pixels, drawn in software).`,
  );
});

import { defineConfig } from '@playwright/test';
import { CHROMIUM, SIZE } from './browser.ts';

const PORT = 4310;

export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  outputDir: '../test-results/browser',
  timeout: 120_000,
  expect: { timeout: 20_000 },
  fullyParallel: false,
  // Two files at once: one waits while the other draws.
  workers: 2,
  retries: process.env.CI ? 1 : 0,
  reporter: [['list'], ['json', { outputFile: process.env.PLAYWRIGHT_JSON_OUTPUT_NAME ?? '../test-results/browser.json' }]],
  use: {
    baseURL: `http://localhost:${PORT}`,
    viewport: SIZE,
    launchOptions: CHROMIUM,
    permissions: ['clipboard-read', 'clipboard-write'],
    acceptDownloads: true,
    trace: 'off',
  },
  webServer: {
    command: `npx vite preview --port ${PORT} --strictPort`,
    cwd: '../apps/web',
    port: PORT,
    reuseExistingServer: false,
  },
});

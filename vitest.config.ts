import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['packages/*/src/**/*.test.ts', 'demo/src/**/*.test.ts', 'apps/web/src/**/*.test.ts', 'scripts/*.test.ts'],
    testTimeout: 60_000,
    // Files share a worker's modules: no test changes what others see. Both cores are used, which is not the default on two.
    isolate: false,
    maxWorkers: 2,
    setupFiles: ['vitest.setup.ts'],
  },
});

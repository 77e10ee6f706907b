import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: [
      'packages/*/src/**/*.test.ts',
      'demo/src/**/*.test.ts',
      'apps/web/src/**/*.test.ts',
      'scripts/*.test.ts',
    ],
    testTimeout: 60_000,
    setupFiles: ['vitest.setup.ts'],
  },
});

import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      {
        test: { name: 'core', root: '.', include: ['core/test/**/*.test.ts', 'demo/**/*.test.ts'] },
      },
      {
        test: {
          name: 'app',
          root: './app',
          include: ['test/integration/**/*.test.ts'],
          fileParallelism: false,
          testTimeout: 60_000,
          hookTimeout: 120_000,
        },
      },
    ],
  },
});

import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'core',
          root: '.',
          include: ['core/test/**/*.test.ts', 'demo/**/*.test.ts'],
          // Far above what they take: a machine may be shared, and slow for a while.
          testTimeout: 60_000,
          // Nothing in them is changed for others: what is imported once serves all files.
          isolate: false,
        },
      },
      {
        test: {
          name: 'app',
          root: './app',
          include: ['test/integration/**/*.test.ts'],
          fileParallelism: false,
          testTimeout: 180_000,
          hookTimeout: 240_000,
        },
      },
    ],
  },
});

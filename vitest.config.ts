import { defineConfig } from 'vitest/config';

/** What answers must come in time while much else is done: nothing else is done beside these. */
const timedOverHttp = ['test/integration/hostile-files.test.ts'];
const overHttp = { testTimeout: 600_000, hookTimeout: 600_000 };

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'core',
          root: '.',
          include: [
            'core/test/**/*.test.ts',
            'demo/**/*.test.ts',
            'app/test/{words,drawing}/**/*.test.ts',
          ],
          // Far above what they take: a machine may be shared, and slow for a while.
          testTimeout: 600_000,
          // Nothing in them is changed for others: what is imported once serves all files.
          isolate: false,
        },
      },
      {
        test: {
          name: 'app',
          root: './app',
          include: ['test/integration/**/*.test.ts'],
          exclude: timedOverHttp,
          // Each file has a product of its own, and waits for it for much of its time.
          maxWorkers: 2,
          ...overHttp,
        },
      },
      {
        test: {
          name: 'app alone',
          root: './app',
          include: timedOverHttp,
          sequence: { groupOrder: 1 },
          fileParallelism: false,
          ...overHttp,
        },
      },
    ],
  },
});

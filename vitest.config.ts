import { defineConfig } from 'vitest/config';
import { pace } from './app/test/support/pace.ts';

/** What answers must come in time while much else is done: nothing else is done beside these. */
const timedOverHttp = ['test/integration/hostile-files.test.ts'];
/** Far above what they take: what ends here hangs. */
const overHttp = {
  testTimeout: 600_000 * pace,
  hookTimeout: 600_000 * pace,
  expect: { poll: { timeout: 120_000 * pace } },
};

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
          testTimeout: 600_000 * pace,
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
          globalSetup: './test/support/lanes.ts',
          maxWorkers: 2,
          // Each lane has one process for all its files: what they import is read once.
          isolate: false,
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

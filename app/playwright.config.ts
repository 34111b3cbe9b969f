import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: './test/browser',
  outputDir: '../test-results',
  globalSetup: './test/support/browser-setup.ts',
  // One product for all, which two browsers ask side by side.
  workers: 2,
  // Where nobody can look at once, a test that fails is tried once more; that it was is said at the end.
  retries: process.env.CI ? 1 : 0,
  projects: [
    { name: 'side by side', testIgnore: '**/alone.spec.ts' },
    { name: 'alone', testMatch: '**/alone.spec.ts', dependencies: ['side by side'] },
  ],
  // Far above what they take: a machine may be shared, and slow for a while.
  timeout: 180_000,
  expect: { timeout: 30_000 },
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
      args: [
        '--headless',
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
    screenshot: 'only-on-failure',
    permissions: ['clipboard-read', 'clipboard-write'],
  },
});

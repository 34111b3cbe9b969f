import { defineConfig } from '@playwright/test';
import { pace } from './test/support/pace.ts';

export default defineConfig({
  testDir: './test/browser',
  outputDir: '../test-results',
  globalSetup: './test/support/browser-setup.ts',
  // One product for all, which two browsers ask side by side.
  workers: 2,
  projects: [
    { name: 'side by side', testIgnore: '**/alone.spec.ts' },
    { name: 'alone', testMatch: '**/alone.spec.ts', dependencies: ['side by side'] },
  ],
  // Far above what they take: what ends here hangs.
  timeout: 400_000 * pace,
  expect: { timeout: 90_000 * pace },
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

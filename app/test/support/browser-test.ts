import { randomUUID } from 'node:crypto';
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { test as plain, type BrowserContext, type Page } from '@playwright/test';

export { expect, type Locator, type Page } from '@playwright/test';

/** Where coverage is measured, what each page executed is kept there for `npm run coverage`. */
const folder = process.env.COVERAGE_FOLDER;

/**
 * Each test begins without cookies and without local storage. The tests of a worker share one browser context, and so
 * its cache and compiled scripts: a page then opens in half the time.
 */
export const test = plain.extend<object, { kept: { context?: BrowserContext } }>({
  kept: [
    // eslint-disable-next-line no-empty-pattern -- the parameter has to be destructured
    async ({}, use) => {
      const kept: { context?: BrowserContext } = {};
      await use(kept);
      await kept.context?.close();
    },
    { scope: 'worker' },
  ],
  context: async ({ browser, kept }, use) => {
    const context = (kept.context ??= await opened(browser.newContext()));
    await forgetAll(context);
    await use(context);
    const pages = context.pages();
    if (folder) await Promise.all(pages.map((page) => keepCounts(page, folder)));
    await Promise.all(pages.map((page) => page.close()));
    await context.unrouteAll({ behavior: 'ignoreErrors' });
  },
});

async function opened(made: Promise<BrowserContext>): Promise<BrowserContext> {
  const context = await made;
  if (folder) countFromTheStart(context);
  return context;
}

async function forgetAll(context: BrowserContext): Promise<void> {
  await context.clearCookies();
  const page = await context.newPage();
  const tools = await context.newCDPSession(page);
  const origin = process.env.PRODUCT_ADDRESS!;
  await tools.send('Storage.clearDataForOrigin', { origin, storageTypes: 'local_storage' });
  await page.close();
}

/** Every page of the context counts what it executes, from before its first document. */
function countFromTheStart(context: BrowserContext): void {
  const newPage = context.newPage.bind(context);
  context.newPage = async () => {
    const page = await newPage();
    await page.coverage.startJSCoverage({ resetOnNavigation: false });
    return page;
  };
}

async function keepCounts(page: Page, into: string): Promise<void> {
  const counts = await page.coverage.stopJSCoverage();
  // The text of each script is in the build, and need not be kept again with every page.
  const result = counts.map(({ url, scriptId, functions }) => ({ url, scriptId, functions }));
  await mkdir(into, { recursive: true });
  await writeFile(join(into, `page-${randomUUID()}.json`), JSON.stringify({ result }));
}

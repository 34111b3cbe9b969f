import { randomUUID } from 'node:crypto';
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { test as plain, type BrowserContext, type Page } from '@playwright/test';

export { expect, type Locator, type Page } from '@playwright/test';

/** Where coverage is measured, what each page executed is kept there for `npm run coverage`. */
const folder = process.env.COVERAGE_FOLDER;

export const test = folder
  ? plain.extend({
      context: async ({ context }, use) => {
        const pages: Page[] = [];
        countPages(context, pages);
        await use(context);
        await Promise.all(pages.map((page) => keepCounts(page, folder)));
      },
    })
  : plain;

/** Every page of the context counts what it executes, from before its first document. */
function countPages(context: BrowserContext, pages: Page[]): void {
  const newPage = context.newPage.bind(context);
  context.newPage = async () => {
    const page = await newPage();
    await page.coverage.startJSCoverage({ resetOnNavigation: false });
    pages.push(page);
    return page;
  };
}

async function keepCounts(page: Page, into: string): Promise<void> {
  if (page.isClosed()) return;
  const counts = await page.coverage.stopJSCoverage();
  // The text of each script is in the build, and need not be kept again with every page.
  const result = counts.map(({ url, scriptId, functions }) => ({ url, scriptId, functions }));
  await mkdir(into, { recursive: true });
  await writeFile(join(into, `page-${randomUUID()}.json`), JSON.stringify({ result }));
}

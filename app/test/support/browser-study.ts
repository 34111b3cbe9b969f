import { expect, type Locator, type Page } from '@playwright/test';
import { asPublished, birthWeight } from './birth-weight.ts';
import { Client } from './client.ts';

export const address = () => process.env.PRODUCT_ADDRESS!;

export interface Made {
  client: Client;
  study: string;
  cohort: string;
  /** Opens a page of the study. */
  open: (page: Page, path: string) => Promise<void>;
}

/** A study of Hosmer & Lemeshow's mothers, complete and with a fitted logistic regression. */
export async function madeStudy(name: string): Promise<Made> {
  const client = new Client(address());
  const study = await client.newStudy(name);
  const cohort = (await client.bringIn(study, birthWeight, 'development', asPublished)).body.id;
  await client.changeDesign(study, { event: 'yes', missedCost: 4 });
  await client.send('POST', `/api/studies/${study}/candidates`, {
    family: 'logistic',
    settings: {},
  });
  await client.fitted(study);
  return {
    client,
    study,
    cohort,
    async open(page, path) {
      await page.goto(`${address()}/studies/${study}/${path}`);
      await expect(page.getByRole('heading', { level: 1 }).first()).toBeVisible();
      await ready(page);
    },
  };
}

/** Agrees to score with a fit that nobody has checked on held-out patients. */
export async function agreeUnchecked(page: Page): Promise<void> {
  const asked = page.getByRole('dialog', { name: /has not been checked$/ });
  await asked.getByRole('button', { name: 'Score all the same' }).click();
  await expect(asked).toBeHidden();
}

/** Waits until the page listens to keys and pointer; begins again where another page came meanwhile. */
export async function ready(page: Page): Promise<void> {
  for (;;)
    try {
      await listens(page);
      return;
    } catch (error) {
      if (!(error instanceof Error) || !/context was destroyed/.test(error.message)) throw error;
    }
}

async function listens(page: Page): Promise<void> {
  // A page that still saves what was changed is left a moment later.
  await page.waitForFunction(() => document.documentElement.dataset.leaving === undefined);
  await page.waitForLoadState('load');
  await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
  await page.evaluate(
    () => new Promise((resolve) => requestIdleCallback(resolve, { timeout: 2000 })),
  );
}

/** Waits until nothing more is being fetched or worked out, and nothing moves or fades. */
export async function settled(page: Page): Promise<void> {
  await expect(page.locator('[aria-busy=true]')).toHaveCount(0);
  await expect(
    page.getByText(/^Working out|^Looking|^Counting|^Asking|^Adding up|^Growing/),
  ).toHaveCount(0);
  await page.evaluate(async () => {
    await Promise.allSettled(document.getAnimations().map(({ finished }) => finished));
    await new Promise((resolve) => requestIdleCallback(resolve, { timeout: 1500 }));
  });
}

/** Fits another candidate in its dialog, and waits until that is closed. */
export async function addCandidate(
  page: Page,
  family: RegExp,
  say: (dialog: Locator) => Promise<void> = () => Promise.resolve(),
): Promise<void> {
  await page
    .getByRole('button', { name: /^Add candidate/ })
    .first()
    .click();
  const dialog = page.getByRole('dialog', { name: 'Add candidate' });
  await dialog.getByRole('radio', { name: family }).check();
  await say(dialog);
  await dialog.getByRole('button', { name: 'Fit it' }).click();
  await expect(dialog).toBeHidden();
}

/** Opens the held-out results of a candidate that nobody has looked at yet, and waits for them. */
export async function lookFirst(page: Page): Promise<void> {
  const look = page.getByRole('button', { name: 'Look at the held-out patients' });
  await look.click();
  await expect(look).toHaveCount(0);
}

/** The study that every new database begins with. */
export async function demoStudy(page: Page): Promise<string> {
  await page.goto(address());
  const link = page.locator('nav a', { hasText: 'Kidney injury after planned surgery' });
  return new URL((await link.getAttribute('href'))!, address()).pathname.split('/')[2];
}

export async function bringFile(
  page: Page,
  button: string,
  name: string,
  content: string | Buffer,
): Promise<void> {
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: button }).click();
  await (
    await chooser
  ).setFiles({
    name,
    mimeType: 'text/csv',
    buffer: typeof content === 'string' ? Buffer.from(content) : content,
  });
}

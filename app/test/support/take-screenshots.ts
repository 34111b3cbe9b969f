import { fileURLToPath } from 'node:url';
import { chromium, type Page } from '@playwright/test';
import configuration from '../../playwright.config.ts';
import { Client } from './client.ts';
import { freshProduct } from './fresh-product.ts';

const folder = new URL('../../../docs/screenshots/', import.meta.url);

/** One picture a main view, in the order of the path. */
const views: { name: string; stage: string; ready: string; act?: (page: Page) => Promise<void> }[] =
  [
    { name: 'records', stage: 'records', ready: 'say nearly the same' },
    {
      name: 'records-review',
      stage: 'records',
      ready: 'Creatinine',
      async act(page) {
        await page.getByRole('button', { name: 'Mend the dictionary' }).click();
        await page.getByText('First rows as understood').waitFor();
      },
    },
    { name: 'records-who-is-in', stage: 'records?view=patients', ready: 'Flow of patients' },
    {
      name: 'survey',
      stage: 'survey',
      ready: 'Range and quartiles',
      act: (page) => page.getByRole('row', { name: /AUC/ }).first().waitFor(),
    },
    {
      name: 'survey-one-column',
      stage: 'survey?view=one&column=creatinine',
      ready: 'Quantiles against normal',
    },
    { name: 'survey-unusual', stage: 'survey?view=unusual', ready: 'What they have in common' },
    {
      name: 'survey-associations',
      stage: 'survey?view=associations',
      ready: 'the strongest association',
    },
    { name: 'design', stage: 'design', ready: 'model inputs' },
    { name: 'candidates', stage: 'candidates', ready: 'coefficients' },
    {
      name: 'held-out-check',
      stage: 'held-out-check',
      ready: 'held-out patients',
      async act(page) {
        await page.getByRole('button', { name: 'Look at the held-out patients' }).click();
        await page.getByText('False negative rate').first().waitFor();
      },
    },
    {
      name: 'reasons',
      stage: 'reasons',
      ready: 'Work it out',
      async act(page) {
        await page.getByRole('button', { name: 'Work it out' }).click();
        await page
          .getByRole('table', { name: 'What predictors are worth' })
          .waitFor({ timeout: 60_000 });
      },
    },
    {
      name: 'screening-columns',
      stage: 'screening',
      ready: 'What is done',
    },
    {
      name: 'screening-list',
      stage: 'screening',
      ready: 'What is done',
      async act(page) {
        await page.getByRole('button', { name: /^Score \d/ }).click();
        await page.getByRole('button', { name: 'Score all the same' }).click();
        await page.getByText('called in at').waitFor();
        await page.getByText('call in', { exact: true }).first().waitFor();
      },
    },
    {
      name: 'one-patient',
      stage: 'screening',
      ready: 'called in at',
      async act(page) {
        await page
          .getByRole('row', { name: /call in/ })
          .nth(2)
          .click();
        await page.getByText('What is known').waitFor();
      },
    },
    {
      name: 'screening-outcomes',
      stage: 'screening',
      ready: 'called in at',
      async act(page) {
        await page.getByRole('button', { name: 'Outcomes known' }).click();
        await page.getByText('Held-out patients at this cutoff').waitFor();
      },
    },
    {
      name: 'tree',
      stage: 'candidates',
      ready: 'Candidates',
      async act(page) {
        await fit(page, /^Decision tree/);
        await page.getByRole('tree', { name: /^The tree/ }).waitFor({ timeout: 60_000 });
      },
    },
    {
      name: 'search',
      stage: 'candidates',
      ready: 'Candidates',
      async act(page) {
        await page.getByRole('button', { name: 'Add candidate' }).click();
        const dialog = page.getByRole('dialog', { name: 'Add candidate' });
        await dialog.getByRole('radio', { name: /^Boosted trees/ }).check();
        await dialog.getByRole('radio', { name: /^Search/ }).check();
        await dialog
          .getByRole('checkbox', { name: 'as many as are best in an inner fold' })
          .uncheck();
        await dialog.getByRole('checkbox', { name: 'a number' }).check();
        for (const [label, values] of [
          ['Trees at most', '25, 50, 100, 200, 300'],
          ['Questions in a row', '1, 2, 3, 4'],
          ['Learning rate', '0.03, 0.1'],
        ]) {
          await dialog.getByLabel(`${label}: how it is given`).selectOption('list');
          await dialog.getByRole('textbox', { name: label, exact: true }).fill(values);
        }
        await dialog.getByLabel('Compared by').selectOption('AUC');
        await dialog.getByRole('button', { name: 'Search', exact: true }).click();
        await page.getByText(/Chosen on patients drawn anew/).waitFor({ timeout: 120_000 });
      },
    },
    {
      name: 'fewer-predictors',
      stage: 'candidates',
      ready: 'Candidates',
      async act(page) {
        await page.getByRole('button', { name: 'Add candidate' }).click();
        const dialog = page.getByRole('dialog', { name: 'Add candidate' });
        await dialog.getByRole('radio', { name: 'Logistic regression' }).check();
        await dialog.getByRole('radio', { name: /^Fewer predictors/ }).check();
        await dialog.getByLabel('Compared by').selectOption('AUC');
        await dialog.getByRole('button', { name: 'Select', exact: true }).click();
        await page.getByText(/Chosen on patients drawn anew/).waitFor({ timeout: 120_000 });
        const curve = page.getByRole('heading', { name: /^AUC along/ });
        await curve.evaluate((heading) => heading.scrollIntoView());
      },
    },
    // Last, as it changes the design.
    {
      name: 'preparation',
      stage: 'design',
      ready: 'model inputs',
      async act(page) {
        const part = page.getByRole('region', { name: 'Preparation', exact: true });
        await part.getByRole('button', { name: 'Accept' }).last().click();
        await part.getByText(/^fills \d+ gaps in Albumin/).waitFor();
        await part.getByRole('heading', { name: 'Preparation' }).scrollIntoViewIfNeeded();
        await page.evaluate(() => document.querySelector('#preparation')?.scrollIntoView());
        await part.getByText(/^Patient/).waitFor();
      },
    },
  ];

async function fit(page: Page, family: RegExp): Promise<void> {
  await page.getByRole('button', { name: 'Add candidate' }).first().click();
  await page.getByRole('radio', { name: family }).check();
  await page.getByRole('button', { name: 'Fit it' }).click();
}

const product = await freshProduct();
const browser = await chromium.launch(configuration.use!.launchOptions);
try {
  const page = await browser.newPage({ viewport: configuration.use!.viewport! });
  await page.goto(product.address);
  const [, , study] = new URL(page.url()).pathname.split('/');
  await new Client(product.address).fitted(study);
  for (const { name, stage, ready, act } of views) {
    await page.goto(`${product.address}/studies/${study}/${stage}`);
    await page.getByText(ready).first().waitFor();
    await act?.(page);
    await page.mouse.move(640, 790);
    await page.waitForTimeout(600);
    await page.screenshot({ path: fileURLToPath(new URL(`${name}.png`, folder)) });
    console.log(`docs/screenshots/${name}.png`);
  }
} finally {
  await browser.close();
  await product.stop();
}

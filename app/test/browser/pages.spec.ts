import { expect, test, type Page } from '../support/browser-test.ts';
import { barriersOf } from '../support/barriers.ts';
import { address, demoStudy, ready, settled } from '../support/browser-study.ts';

/** The demo study, looked for once. */
let demo: string | undefined;

/** The demo study's pages, by the last part of their address. */
async function openDemo(page: Page, stage: string): Promise<void> {
  demo ??= await demoStudy(page);
  await page.goto(`${address()}/studies/${demo}/${stage}`);
  await ready(page);
}

/** What shows that each page has its content. */
const landmarks: Record<string, string> = {
  records: 'Creatinine',
  'records?view=patients': 'Flow of patients',
  survey: 'Range and quartiles',
  'survey?view=one&column=creatinine': 'Quantiles against normal',
  'survey?view=one&column=operation': 'chi-square',
  'survey?view=gaps': 'Not known together',
  'survey?view=outcome': 'majority baseline',
  'survey?view=relations': 'Odds ratio',
  'survey?view=two': 'Spearman',
  'survey?view=grid': 'Below the diagonal',
  'survey?view=associations': 'the strongest association',
  'survey?view=patients': 'Variance carried',
  'survey?view=unusual': 'What they have in common',
  design: 'What errors cost',
  candidates: 'Logistic regression 1: coefficients',
  'held-out-check': 'Positive predictive value',
  reasons: 'Shares of cases among',
  screening: 'Bring in a list',
};

for (const [stage, landmark] of Object.entries(landmarks))
  test(`${stage}: filled from the demo study, nothing serious for axe, no sideways scroll`, async ({
    page,
  }) => {
    await openDemo(page, stage);
    const first = page.getByRole('button', { name: 'Look at the held-out patients' });
    if (stage === 'held-out-check' && (await first.isVisible())) await first.click();
    await expect(page.getByText(landmark).first()).toBeVisible();
    expect(await barriersOf(page, undefined, true)).toEqual([]);
    for (const width of [1024, 1280, 1920]) {
      await page.setViewportSize({ width, height: 800 });
      await expect(page.getByText(landmark).first()).toBeVisible();
      const over = await page.evaluate(
        () => document.documentElement.scrollWidth - window.innerWidth,
      );
      expect(over).toBeLessThanOrEqual(0);
    }
  });

/** What opens over a page, or in its place. */
const further: Record<string, { path: string; act?: (page: Page) => Promise<void> }> = {
  'one patient': { path: 'screening?view=patient' },
  'rows of the cohort': { path: 'records?view=rows' },
  'review of a file': {
    path: 'records',
    act: (page) => page.getByRole('button', { name: 'Mend the dictionary' }).click(),
  },
  'derived column': {
    path: 'records',
    act: (page) => page.getByRole('button', { name: 'Derive a column' }).click(),
  },
  'one column of the dictionary': {
    path: 'records',
    act: (page) => page.getByRole('button', { name: 'Change Creatinine' }).click(),
  },
  'command search': { path: 'design', act: (page) => page.keyboard.press('/') },
  'list of keys': { path: 'design', act: (page) => page.keyboard.press('?') },
  queue: {
    path: 'candidates',
    act: (page) => page.getByRole('button', { name: /^Queue/ }).click(),
  },
  'add candidate': {
    path: 'candidates',
    act: (page) => page.getByRole('button', { name: 'Add candidate' }).click(),
  },
  'dismissal of a note': {
    path: 'records',
    act: (page) =>
      page
        .getByRole('button', { name: /^Dismiss/ })
        .first()
        .click(),
  },
  'confirmation of a deletion': {
    path: 'records',
    act: (page) => page.getByRole('button', { name: 'Delete the cohort' }).click(),
  },
  'page that is not there': { path: '../nowhere' },
  'new study': { path: '../new' },
};

for (const [name, { path, act }] of Object.entries(further))
  test(`${name}: nothing serious for axe`, async ({ page }) => {
    await openDemo(page, path);
    await act?.(page);
    await settled(page);
    expect(await barriersOf(page, undefined, true)).toEqual([]);
  });

test('a refused file says why, and the next one is taken', async ({ page }) => {
  await page.goto(address());
  await ready(page);
  await page.getByRole('button', { name: /^Study: / }).click();
  await page.getByRole('button', { name: 'New study' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Refusals');
  await page.keyboard.press('Enter');
  await page.getByText('no patients yet').waitFor();
  await ready(page);
  const choose = async (name: string, text: string) => {
    const chooser = page.waitForEvent('filechooser');
    await page.getByRole('button', { name: 'Choose a file' }).click();
    await (await chooser).setFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });
  };
  await choose('report.csv', '%PDF-1.7 not a table');
  await expect(page.getByRole('alert')).toContainText('not delimited text');
  await choose('patients.csv', 'id,age\n1,50\n2,60\n');
  await expect(page.getByText('as understood, nothing stored yet')).toBeVisible();
});

test('dialogs keep the focus and give it back', async ({ page }) => {
  await openDemo(page, 'candidates');
  const add = page.getByRole('button', { name: 'Add candidate' });
  await add.click();
  await expect(page.getByRole('dialog', { name: 'Add candidate' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toBeHidden();
  await expect(add).toBeFocused();
});

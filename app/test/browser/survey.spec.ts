import { expect, test, type Page } from '../support/browser-test.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import type { Overview } from '../../src/contract/studies.ts';
import { address, madeStudy, ready, type Made } from '../support/browser-study.ts';
import { Client } from '../support/client.ts';

let made: Made;

test.beforeAll(async () => {
  made = await madeStudy('Survey of mothers');
});

async function view(page: Page, query: string): Promise<void> {
  await made.open(page, `survey?${query}`);
}
const design = () => made.client.get<DesignState>(`/api/studies/${made.study}/design`);
const table = (page: Page, name: string) => page.getByRole('table', { name });

test('the overview sorts, filters and leads to one column', async ({ page }) => {
  await view(page, '');
  const overview = table(page, 'Every column described');
  await expect(overview.getByRole('row')).toHaveCount(11);
  await expect(page.getByText('development patients; held-out ones are not shown')).toBeVisible();
  await overview.getByRole('button', { name: 'Outcome' }).click();
  await expect(overview.getByRole('columnheader', { name: 'Outcome' })).toHaveAttribute(
    'aria-sort',
    'descending',
  );
  await page.getByRole('searchbox', { name: 'Find a column' }).fill('smok');
  await expect(overview.getByRole('row')).toHaveCount(2);
  await page.getByRole('button', { name: 'all columns' }).click();
  await page.getByRole('combobox', { name: 'Figure' }).selectOption({ label: 'median' });
  await page.getByRole('textbox', { name: 'Limit' }).fill('100');
  await expect(overview.getByRole('row')).toHaveCount(3);
  await page.getByRole('combobox', { name: 'Role' }).selectOption('predictor');
  // The mother's weight in pounds is the one predictor with a median over 100.
  await expect(overview.getByRole('row')).toHaveCount(2);
  await overview.getByRole('row').nth(1).press('Enter');
  await expect(page).toHaveURL(/view=one&column=lwt/);
  await expect(page.getByRole('figure').first()).toBeVisible();
});

test('one number: distribution, levels, shares, quantiles, outliers that lead to their row', async ({
  page,
}) => {
  await view(page, 'view=one&column=lwt');
  for (const title of ['Distribution', 'Quantiles against normal', 'Reshaping'])
    await expect(page.getByRole('heading', { name: title })).toBeVisible();
  await expect(page.getByRole('img', { name: /^Medians: / })).toBeVisible();
  const chart = page.getByRole('img', { name: /bins of width/ });
  await expect(chart).toHaveAttribute('aria-label', /bins of width 10/);
  await page.getByRole('slider', { name: 'About how many bins' }).fill('60');
  await expect(page.getByRole('img', { name: /bins of width 2,/ })).toBeVisible();
  await expect(page.getByText(/takes the skewness of .* from 1\.\d+ to/)).toBeVisible();
  const outliers = table(page, 'Outliers');
  const row = await outliers.getByRole('link').first().textContent();
  await outliers.getByRole('link').first().click();
  await expect(page).toHaveURL(new RegExp(`records\\?view=rows&row=${row}$`));
});

test('one category: counts, shares, the event in each level', async ({ page }) => {
  await view(page, 'view=one&column=race');
  const levels = page.getByRole('table', { name: /^Levels of/ });
  await expect(levels.getByRole('row')).toHaveCount(4);
  await expect(page.getByText('Cramér’s V')).toBeVisible();
  await page.getByRole('button', { name: 'Next column' }).click();
  await expect(page).toHaveURL(/column=smoke/);
  await page.getByRole('combobox', { name: 'by', exact: true }).selectOption({ label: 'nothing' });
  await expect(page.getByRole('columnheader', { name: '95% interval' })).toHaveCount(0);
});

test('columns with many gaps are left out of the design, and undo brings them back', async ({
  page,
}) => {
  const client = new Client(address());
  const study = await client.newStudy('Gaps');
  const rows = Array.from({ length: 60 }, (_, i) =>
    [i % 3 ? '' : i, 40 + (i % 30), i % 7 ? 2.5 : '', i % 4 ? 'no' : 'yes'].join(','),
  );
  await client.bringIn(
    study,
    ['lactate,age,crp,died', ...rows].join('\n'),
    'development',
    (dictionary) => {
      dictionary.find(({ name }) => name === 'died')!.role = 'outcome';
    },
  );
  await client.changeDesign(study, { event: 'yes' });
  await page.goto(`${address()}/studies/${study}/survey?view=gaps`);
  await ready(page);
  await expect(page.getByText('Lactate', { exact: true }).first()).toBeVisible();
  await expect(table(page, 'Which columns are not known together').getByRole('row')).toHaveCount(5);
  await page.getByRole('button', { name: 'Leave out of the design' }).click();
  await expect(page.getByRole('status').getByText('1 predictor left out')).toBeVisible();
  const predictors = async () =>
    (await client.get<DesignState>(`/api/studies/${study}/design`)).choices.predictors;
  expect(await predictors()).toEqual(['age', 'crp']);
  await page.keyboard.press('Control+z');
  await expect.poll(predictors).toEqual(['lactate', 'age', 'crp']);
});

test('outcome: what a model must beat, and the event by another column', async ({ page }) => {
  await view(page, 'view=outcome');
  await expect(page.getByText(/Saying “no” of every patient is right in 69%/)).toBeVisible();
  await page.getByRole('combobox', { name: 'by' }).selectOption({ label: 'Smoke' });
  await expect(table(page, 'Share of yes by Smoke').getByRole('row')).toHaveCount(3);
});

test('relations: to the event, to several levels, to a number', async ({ page }) => {
  await view(page, 'view=relations');
  const relations = page.getByRole('table', { name: /^Relation of each column/ });
  await expect(relations.getByRole('columnheader', { name: 'Odds ratio' })).toBeVisible();
  await expect(page.getByText(/Choosing belongs inside the cross-validation/)).toBeVisible();
  const against = page.getByRole('combobox', { name: 'Against' });
  await against.selectOption({ label: 'Lwt' });
  await expect(page.getByText(/a number; \d+ columns/)).toBeVisible();
  await against.selectOption({ label: 'Race' });
  await expect(page.getByText(/3 levels; \d+ columns/)).toBeVisible();
  await expect(relations.getByRole('columnheader', { name: 'Odds ratio' })).toHaveCount(0);
});

test('two columns: a cloud, a cross table, boxes', async ({ page }) => {
  await view(page, 'view=two&x=age&y=lwt');
  await expect(page.getByText('Spearman', { exact: true })).toBeVisible();
  await expect(page.getByRole('img', { name: /The two (hardly )?go together/ })).toBeVisible();
  await page.getByRole('combobox', { name: 'Across' }).selectOption({ label: 'Race' });
  await expect(page.getByRole('img', { name: /^Medians: / })).toBeVisible();
  await page.getByRole('combobox', { name: 'up' }).selectOption({ label: 'Smoke' });
  const cross = page.getByRole('table', { name: 'Smoke by Race' });
  await expect(cross.getByRole('row')).toHaveCount(5);
  await page.getByRole('combobox', { name: 'Show' }).selectOption({ index: 1 });
  await expect(cross.getByRole('cell', { name: '%' }).first()).toBeVisible();
  await page.getByRole('button', { name: 'Swap' }).click();
  await expect(page.getByRole('table', { name: 'Race by Smoke' })).toBeVisible();
});

test('the grid takes columns in and out', async ({ page }) => {
  await view(page, 'view=grid');
  await expect(page.getByRole('img', { name: /^Grid of \d columns/ })).toBeVisible();
  await page.getByRole('combobox', { name: 'Add a column' }).selectOption({ label: 'Race' });
  await expect(page.getByRole('img', { name: /Race and Age/ })).toBeVisible();
  await page.getByRole('button', { name: 'Take Race out' }).click();
  await expect(page.getByRole('img', { name: /Race and Age/ })).toHaveCount(0);
});

test('associations: a cell leads to its two columns', async ({ page }) => {
  await view(page, 'view=associations');
  await expect(page.getByText(/columns; the strongest association is that of/)).toBeVisible();
  await page.getByRole('combobox', { name: 'Between numbers' }).selectOption('Pearson');
  await expect(page).toHaveURL(/measure=pearson/);
  await expect(table(page, 'Variance inflation factors').getByRole('row').nth(1)).toBeVisible();
  const figure = page.getByRole('figure').first();
  await figure.locator('g > rect').nth(1).hover();
  await expect(page.getByText(/ and .*: .* in 1\d\d patients/)).toBeVisible();
  await figure.locator('g > rect').nth(1).click();
  await expect(page).toHaveURL(/view=two/);
});

test('the map of patients turns to other components', async ({ page }) => {
  await view(page, 'view=patients');
  await expect(page.getByRole('img', { name: /standardised inputs/ })).toBeVisible();
  await page.getByRole('combobox', { name: 'up' }).selectOption('3');
  await expect(page).toHaveURL(/pcy=3/);
  await expect(table(page, 'Loadings of the inputs').getByRole('columnheader').nth(2)).toHaveText(
    /3/,
  );
});

test('unusual patients are found, with what makes them so, and lead to their rows', async ({
  page,
}) => {
  await view(page, 'view=unusual');
  const list = table(page, 'Most unusual patients');
  await expect(list).toBeVisible();
  const scores = await list
    .locator('tbody tr')
    .evaluateAll((rows) => rows.map((row) => Number(row.querySelectorAll('td')[1].textContent)));
  expect(scores).toEqual(scores.toSorted((a, b) => b - a));
  // The outcome tells nothing to the score, but is set beside it.
  await expect(
    page.getByRole('img', {
      name: /^Of the twentieth that is most unusual \(score 0\.\d+ or more\), \d+% are cases, of the others \d+%\./,
    }),
  ).toBeVisible();
  await expect(page.getByText('The outcome plays no part in it.')).toBeVisible();
  await expect(list.locator('tbody tr').first()).toContainText(/\(usual /);
  // The score becomes an input, and is taken out again.
  const steps = async () => (await design()).choices.preparation;
  await page.getByRole('button', { name: 'Use the score as an input' }).click();
  await expect(page.getByRole('link', { name: 'a step of the preparation' })).toBeVisible();
  expect(await steps()).toEqual([{ step: 'unusualness', columns: 'all' }]);
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: 'Use the score as an input' })).toBeVisible();
  expect(await steps()).toEqual([]);
  await list.getByRole('button', { name: 'Score' }).click();
  const link = list.getByRole('link').first();
  const row = await link.textContent();
  await link.click();
  await expect(page).toHaveURL(new RegExp(`records\\?view=rows&row=${row}$`));
});

test('held-out patients are shown after a counted look, and only then', async ({ page }) => {
  const overview = () => made.client.get<Overview>(`/api/studies/${made.study}`);
  const before = (await overview()).looks.count;
  await view(page, '');
  const counts = (await design()).counts!;
  await page.getByRole('button', { name: 'Include held-out patients' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('button', { name: 'Leave them out' }).click();
  expect((await overview()).looks.count).toBe(before);
  await page.getByRole('button', { name: 'Include held-out patients' }).click();
  await dialog.getByRole('button', { name: 'Count a look and include them' }).click();
  await expect(page.getByText('all 189 patients')).toBeVisible();
  expect((await overview()).looks.count).toBe(before + 1);
  await page.getByRole('button', { name: 'Development patients only' }).click();
  await expect(page.getByText(`${counts.development.patients} development patients`)).toBeVisible();
});

test('a study without patients says where to begin', async ({ page }) => {
  const study = await made.client.newStudy('Nothing yet');
  await page.goto(`${address()}/studies/${study}/survey`);
  await page.getByRole('link', { name: 'Bring patients in with Records' }).click();
  await expect(page).toHaveURL(/records$/);
});

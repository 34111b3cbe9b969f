import AxeBuilder from '@axe-core/playwright';
import { expect, test } from '@playwright/test';
import { lookFirst, madeStudy } from '../support/browser-study.ts';

test('what matters is worked out, moved together, set beside another candidate and measured otherwise', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Matters');
  await client.send('POST', `/api/studies/${study}/candidates`, {
    family: 'naive-bayes',
    settings: {},
  });
  const [, logistic, bayes] = await client.fitted(study);
  await open(page, `reasons?candidate=${logistic.id}`);
  await page.getByRole('button', { name: 'Work it out' }).press('Enter');
  const table = page.getByRole('table', { name: 'What predictors are worth' });
  await expect(table).toBeVisible({ timeout: 60_000 });
  const rows = table.getByRole('row');
  const count = logistic.uses.length;
  await expect(rows).toHaveCount(1 + Math.min(12, count));
  await expect(table.getByRole('columnheader', { name: 'Cost per 1,000 gained' })).toBeVisible();
  await page.getByLabel('Measured by').selectOption('AUC');
  await expect(table.getByRole('columnheader', { name: 'AUC lost' })).toBeVisible();
  // The most worth first.
  const values = (await table.getByRole('row').getByRole('cell').allInnerTexts())
    .filter((_, i) => i % 2 === 0)
    .map((text) => Number(text.replace('−', '-')));
  expect(values).toEqual(values.toSorted((a, b) => b - a));
  await page.getByText('Move predictors together').click();
  await page.getByRole('group', { name: 'Predictors to be moved together' }).waitFor();
  await page.getByLabel('Age', { exact: true }).check();
  await page.getByLabel('Smoke', { exact: true }).check();
  await page.getByRole('button', { name: 'Move these 2 together' }).press('Enter');
  await expect(table.getByRole('rowheader', { name: / \+ / })).toBeVisible({ timeout: 60_000 });
  expect((await new AxeBuilder({ page }).include('main').analyze()).violations).toEqual([]);

  await page.getByRole('combobox', { name: 'Candidate' }).selectOption({ label: bayes.name });
  await page.getByRole('button', { name: 'Work it out' }).press('Enter');
  await expect(table.getByRole('columnheader', { name: logistic.name })).toBeVisible({
    timeout: 60_000,
  });
  // Places of the other: each once.
  const places = (await table.getByRole('row').getByRole('cell').allInnerTexts())
    .filter((_, i) => i % 3 === 2)
    .map(Number);
  expect(new Set(places).size).toBe(places.length);
});

test('how it acts is drawn for numbers and levels, and one patient’s reasons add up', async ({
  page,
}) => {
  const { open } = await madeStudy('Acts');
  await open(page, 'reasons');
  await page.getByLabel('Predictor', { exact: true }).selectOption('lwt');
  const bands = page.getByRole('table', { name: /^Said and observed by/ });
  await expect(bands.getByRole('row')).toHaveCount(9);
  const counts = async () =>
    (await bands.getByRole('row').getByRole('cell').allInnerTexts())
      .filter((_, i) => i % 3 === 0)
      .map(Number);
  expect((await counts()).reduce((sum, one) => sum + one, 0)).toBe(142);
  await expect(
    page.getByRole('figure').filter({ hasText: 'accumulated local effects' }),
  ).toBeVisible();
  await page.getByLabel('Predictor', { exact: true }).selectOption('race');
  await expect(bands.getByRole('row')).toHaveCount(4);
  expect((await counts()).reduce((sum, one) => sum + one, 0)).toBe(142);
  await expect(page).toHaveURL(/predictor=race/);

  const row = page.getByRole('textbox', { name: 'Row of the patient' });
  await row.fill('1');
  await page.keyboard.press('Enter');
  const added = page.getByRole('table', { name: 'What each predictor adds' });
  const refused = page.getByText('nobody has looked at this fit yet');
  // Held out or not: of the first development patient there are reasons.
  for (let i = 0; i < 20; i++) {
    await expect(added.or(refused)).toBeVisible();
    if (await added.isVisible()) break;
    await page.getByRole('button', { name: 'Next' }).press('Enter');
    await expect(row).toHaveValue(String(i + 2));
  }
  const said = /says ([\d.]+): .* It begins with ([\d.]+),/.exec(
    await page.getByText(/^Of .*It begins with/).innerText(),
  )!;
  const steps = (await added.getByRole('row').getByRole('cell').allInnerTexts())
    .filter((text) => /^[+−]?\d\.\d{3}$/.test(text))
    .map((text) => Number(text.replace('−', '-').replace('+', '')));
  const sum = steps.reduce((total, one) => total + one, Number(said[2]));
  expect(Math.abs(sum - Number(said[1]))).toBeLessThan(0.008);
  await expect(
    page.getByRole('table', { name: 'Most similar patients' }).getByRole('row'),
  ).toHaveCount(11);
  expect((await new AxeBuilder({ page }).include('main').analyze()).violations).toEqual([]);
});

test('from a patient who was called wrongly one press leads to the reasons', async ({ page }) => {
  const { open } = await madeStudy('Why');
  await open(page, 'held-out-check');
  await lookFirst(page);
  const list = page.getByRole('table', { name: 'Patients who are called wrongly' });
  await list.getByRole('row').nth(1).click();
  const dialog = page.getByRole('dialog', { name: /^Patient / });
  const name = /^Patient (.+)$/.exec(
    (await dialog.getByRole('heading').first().innerText()).trim(),
  )![1];
  await dialog.getByRole('link', { name: 'Why?' }).press('Enter');
  await expect(page.getByText(new RegExp(`^Of ${name} \\(held out\\)`))).toBeVisible();
});

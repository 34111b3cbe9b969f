import { expect, test } from '../support/browser-test.ts';
import type { FewerPlan } from '@rook-scale/core/search';
import { barriersOf } from '../support/barriers.ts';
import { madeStudy } from '../support/browser-study.ts';
import { searching } from '../support/searching.ts';

test('predictors are selected by keys, and a candidate with three is made from the curve', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Fewer');
  await open(page, 'candidates');
  const dialog = page.getByRole('dialog', { name: 'Add candidate' });
  await page.getByRole('button', { name: 'Add candidate' }).press('Enter');
  await dialog.getByRole('radio', { name: /^Fewer predictors/ }).press('Space');
  await expect(dialog.getByRole('status')).toHaveText(
    /8 numbers of predictors in 5 folds and 50 half samples/,
  );
  await dialog.getByLabel('Half samples').fill('many');
  await expect(dialog.getByRole('status')).toHaveText(/a whole number from 0 to 200/);
  await expect(dialog.getByRole('button', { name: 'Select' })).toBeDisabled();
  await dialog.getByLabel('Half samples').fill('10');
  await dialog.getByRole('checkbox', { name: 'ht' }).press('Space');
  await expect(dialog.getByRole('group', { name: 'Pinned: 1 of 8' })).toBeVisible();
  await dialog.getByLabel('Compared by').selectOption('AUC');
  await dialog.getByRole('button', { name: 'How long will it take?' }).press('Enter');
  await expect(dialog.getByRole('status')).toHaveText(/One fit took [\d.]+ s: about/);
  expect(await barriersOf(page, 'dialog')).toEqual([]);
  await dialog.getByRole('button', { name: 'Select', exact: true }).press('Enter');
  await expect(dialog).toBeHidden();

  const opened = page.getByRole('region', { name: 'Logistic regression 2, selection' });
  await expect(opened.getByRole('status').first()).toHaveText('8 numbers of predictors compared.');
  await opened.getByRole('button', { name: /^3 predictors: AUC/ }).press('Enter');
  const picked = opened.getByRole('row', { name: /^Picked/ });
  await expect(picked).toContainText('3 predictors: ');
  await expect(picked).toContainText('Ht');
  await expect(
    opened.getByRole('heading', { name: 'How steady the selection of 3 predictors is' }),
  ).toBeVisible();
  await expect(opened.getByText(/With 3 predictors, .* in all of 10 half samples/)).toBeVisible();
  await expect(opened.getByText('Ht (pinned)')).toBeVisible();
  expect(await barriersOf(page, 'main')).toEqual([]);

  await picked.getByRole('button', { name: 'Make it a candidate' }).press('Enter');
  await expect(page.getByRole('button', { name: /^Logistic regression 3/ }).first()).toBeVisible();
  const made = (await client.fitted(study)).at(-1)!;
  expect(made.uses).toHaveLength(3);
  expect(made.uses).toContain('ht');
  await expect(
    page.getByText(/with the selection inside each fold, AUC was 0\.\d+ ± 0\.\d+\./),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Logistic regression 2, selection' }).last().click();
  await expect(picked).toHaveCount(0);
  await opened.getByRole('button', { name: /^3 predictors: AUC/ }).click();
  await expect(picked.getByRole('button', { name: `It is ${made.name}` })).toBeVisible();
});

test('sets of one’s own are compared, and a candidate has predictors of its own', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Own predictors');
  await open(page, 'candidates');
  const dialog = page.getByRole('dialog', { name: 'Add candidate' });
  await page.getByRole('button', { name: 'Add candidate' }).click();
  await dialog.getByRole('radio', { name: /^Fewer predictors/ }).check();
  await dialog.getByLabel('Selected', { exact: true }).selectOption('sets of your own');
  await expect(dialog.getByRole('status')).toHaveText('Give two sets at least, to compare them.');
  await dialog.getByRole('button', { name: 'Add all' }).click();
  await dialog.getByRole('button', { name: 'Add a set' }).click();
  await expect(dialog.getByRole('status')).toHaveText('Tick the predictors of “Set 2”.');
  await dialog.getByLabel('Name of set 2').fill('history');
  const history = dialog.getByRole('group', { name: /^history/ });
  for (const name of ['ptl', 'ui']) await history.getByRole('checkbox', { name }).check();
  await expect(dialog.getByRole('status')).toHaveText(/^2 sets in 5 folds: 10 fits\./);
  await dialog.getByRole('button', { name: 'Select', exact: true }).click();
  const opened = page.getByRole('region', { name: 'Logistic regression 2, selection' });
  await expect(opened.getByRole('status').first()).toHaveText('2 sets compared.');
  await expect(opened.getByRole('row', { name: /history/ }).first()).toContainText('Ptl, Ui');

  // A changed copy keeps to its own; without any it cannot be fitted.
  await page.getByRole('button', { name: 'Add candidate' }).click();
  await dialog.getByLabel('Predictors', { exact: true }).selectOption('some of its own');
  const picks = dialog.getByRole('group', { name: /^Predictors of its own/ });
  await picks.getByRole('button', { name: 'None' }).click();
  await expect(dialog.getByRole('button', { name: 'Fit it' })).toBeDisabled();
  await picks.getByRole('checkbox', { name: 'lwt' }).check();
  await dialog.getByRole('button', { name: 'Fit it' }).click();
  await expect(dialog).toBeHidden();
  expect((await client.fitted(study)).at(-1)!.uses).toEqual(['lwt']);
  await expect(page.getByRole('row', { name: /Logistic regression 3.*1 predictor/ })).toBeVisible();
  await page.getByRole('button', { name: 'Change a copy' }).click();
  const copy = page.getByRole('dialog', { name: /^Change a copy/ });
  await expect(copy.getByRole('group', { name: 'Predictors of its own: 1 of 8' })).toBeVisible();
});

test('a selection is one line of the table, and opens in place', async ({ page }) => {
  const { client, study, open } = await madeStudy('Selected by a path');
  const own = searching(client, study);
  const fewer: FewerPlan = { way: 'path', pinned: [], sets: [], halves: 4 };
  const { body } = await own.search({ fewer }, 'logistic');
  await own.done(body.id);
  await open(page, `candidates?search=${body.id}`);
  const opened = page.getByRole('region', { name: 'Logistic regression 2, selection' });
  // All that it compares is in one table, with what each has.
  const table = opened.getByRole('table', { name: /^All that/ });
  await expect(table.getByText('all of them')).toBeVisible();
  await expect(page.getByRole('row', { name: /^Logistic regression 2, selection/ })).toContainText(
    /8 numbers of predictors compared; best: AUC 0\.\d+ with \d predictors?/,
  );
});

test('more patients are asked about, and what twice as many would bring is said', async ({
  page,
}) => {
  const { open } = await madeStudy('More patients');
  await open(page, 'candidates');
  const dialog = page.getByRole('dialog', { name: 'Add candidate' });
  await page.getByRole('button', { name: 'Add candidate' }).press('Enter');
  await dialog.getByRole('radio', { name: /^More patients/ }).press('Space');
  await expect(dialog.getByRole('status')).toHaveText(
    /7 numbers of patients, from few to all, in 5 folds: 35 fits\./,
  );
  await dialog.getByLabel('Compared by').selectOption('AUC');
  await dialog.getByRole('button', { name: 'Draw the curve' }).press('Enter');
  const opened = page.getByRole('region', { name: 'Logistic regression 2, learning curve' });
  await expect(opened.getByRole('status').first()).toHaveText('7 numbers of patients compared.');
  await expect(
    opened.getByText(/Twice as many would be expected to change it by −?0\.\d+ \(/),
  ).toBeVisible();
  await expect(
    opened.getByRole('heading', { name: 'AUC along Patients learned from' }),
  ).toBeVisible();
  await expect(opened.getByRole('button', { name: 'Make it a candidate' })).toHaveCount(0);
  expect(await barriersOf(page, 'main')).toEqual([]);
});

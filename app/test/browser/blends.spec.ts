import { expect, test } from '../support/browser-test.ts';
import type { ArrangedStep } from '@rook-scale/core/preparation';
import { barriersOf } from '../support/barriers.ts';
import { madeStudy } from '../support/browser-study.ts';

test('a blend is made of those on the charts, shows its weights, and is changed in a copy', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Blending');
  for (const family of ['naive-bayes', 'decision-tree'])
    await client.send('POST', `/api/studies/${study}/candidates`, { family, settings: {} });
  await client.fitted(study);
  await open(page, 'candidates');
  for (const name of ['Logistic regression 1', 'Naive Bayes 2'])
    await page
      .getByRole('button', { name: `Draw ${name} on the charts of several` })
      .press('Enter');
  await page.getByRole('button', { name: 'Blend these 2' }).press('Enter');
  const dialog = page.getByRole('dialog', { name: 'Add candidate' });
  for (const [name, isPart] of [
    [/^Logistic regression 1/, true],
    [/^Naive Bayes 2/, true],
    [/^Decision tree 3/, false],
  ] as const)
    await expect(dialog.getByRole('checkbox', { name })).toBeChecked({ checked: isPart });
  // The reference can be no part of it.
  await expect(dialog.getByRole('checkbox', { name: /^Reference/ })).toHaveCount(0);
  expect(await barriersOf(page, '[role=dialog], dialog')).toEqual([]);
  await dialog.getByRole('button', { name: 'Blend 2 candidates' }).press('Enter');
  await expect(dialog).toBeHidden();
  const table = page.getByRole('table', { name: 'Parts and weights' });
  await expect(table).toBeVisible();
  const weights = await Promise.all(
    ['Logistic regression 1', 'Naive Bayes 2'].map(async (name) => {
      const row = table.getByRole('row', { name: new RegExp(`^${name}`) });
      return parseFloat(await row.getByRole('cell').nth(1).innerText());
    }),
  );
  expect(weights[0] + weights[1]).toBeGreaterThanOrEqual(99);
  expect(weights[0] + weights[1]).toBeLessThanOrEqual(101);
  await page.getByRole('button', { name: 'Change a copy' }).click();
  const copy = page.getByRole('dialog', { name: 'Change a copy of Blend 4' });
  await expect(copy.getByRole('checkbox', { name: /^Naive Bayes 2/ })).toBeChecked();
  await copy.getByRole('checkbox', { name: /^Naive Bayes 2/ }).press('Space');
  await expect(copy.getByRole('button', { name: 'Blend them' })).toBeDisabled();
  await copy.getByRole('checkbox', { name: /^Decision tree 3/ }).press('Space');
  await copy.getByLabel('Weights').selectOption({ label: 'the same for all' });
  await copy.getByRole('button', { name: 'Blend 2 candidates' }).click();
  await expect(copy).toBeHidden();
  const row = page.getByRole('row', { name: /Blend 5/ });
  await expect(row.getByText('2 parts')).toBeVisible();
  const line = (await client.fitted(study)).at(-1)!;
  expect(line).toMatchObject({ name: 'Blend 5', settings: { weights: 'equal' } });
  expect(line.parts!.map(({ name }) => name)).toEqual(['Logistic regression 1', 'Decision tree 3']);
});

test('a blend needs two candidates, and says so', async ({ page }) => {
  const { open } = await madeStudy('Nothing to blend');
  await open(page, 'candidates');
  await page.getByRole('button', { name: 'Add candidate' }).click();
  const dialog = page.getByRole('dialog', { name: 'Add candidate' });
  await dialog.getByRole('radio', { name: 'Blend' }).check();
  await expect(dialog.getByText(/made of two candidates or more/)).toBeVisible();
  await dialog.getByRole('button', { name: 'Close', exact: true }).last().click();
  await expect(dialog).toBeHidden();
});

test('a candidate leaves out a step of the preparation, and the table says how large models are', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Steps of its own');
  const clip: ArrangedStep = { step: 'clip', columns: ['lwt'], to: 'quantiles', share: 0.05 };
  const reshape: ArrangedStep = { step: 'reshape', columns: ['lwt'], how: 'log', lambda: null };
  await client.changeDesign(study, { preparation: [clip, reshape] });
  await client.fitted(study);
  await open(page, 'candidates');
  await page.getByRole('button', { name: 'Add candidate' }).click();
  const dialog = page.getByRole('dialog', { name: 'Add candidate' });
  await dialog.getByLabel('Preparation').selectOption({ label: 'some of these steps' });
  await expect(dialog.getByText('Steps of its own: 2 of 2')).toBeVisible();
  await dialog.getByRole('checkbox', { name: /by log/ }).press('Space');
  await dialog.getByRole('button', { name: 'Fit it' }).click();
  await expect(dialog).toBeHidden();
  const row = page.getByRole('row', { name: /Logistic regression 2/ });
  await expect(row.getByText('1 step')).toBeVisible();
  expect((await client.fitted(study)).at(-1)!.basis).toEqual({ steps: [clip] });
  await page.getByRole('button', { name: 'Columns of the table' }).click();
  const columns = page.getByRole('dialog', { name: 'Columns of the table' });
  for (const name of [/^Inputs/, /^Degrees of freedom/, /^Score time/])
    await columns.getByRole('checkbox', { name }).check();
  await columns.getByRole('button', { name: 'Done' }).click();
  const { size } = (await client.fitted(study)).at(-1)!;
  await expect(
    row.getByRole('cell', { name: String(size!.degrees), exact: true }).first(),
  ).toBeVisible();
  await expect(row.getByRole('cell', { name: /ms$/ }).first()).toBeVisible();
});

import { expect, test } from '../support/browser-test.ts';
import { barriersOf } from '../support/barriers.ts';
import { madeStudy } from '../support/browser-study.ts';

test('a search is asked for by keys, watched, stopped, gone on with, looked closer at and chosen from', async ({
  page,
}) => {
  // A hundred fits, on a machine that may be shared.
  const { client, study, open } = await madeStudy('Searched');
  await open(page, 'candidates');
  await page.getByRole('button', { name: 'Add candidate' }).press('Enter');
  const dialog = page.getByRole('dialog', { name: 'Add candidate' });
  await dialog.getByRole('radio', { name: 'Random forest' }).check();
  await dialog.getByRole('radio', { name: /^Search/ }).press('Space');
  await expect(dialog.getByRole('status')).toHaveText(/at least one setting/);
  await expect(dialog.getByRole('button', { name: 'Search', exact: true })).toBeDisabled();
  // A range by ratio, and a list with a word in it.
  await dialog.getByLabel('Trees: how it is given').selectOption('range');
  await dialog.getByLabel('Trees: from').fill('50');
  await dialog.getByLabel('Trees: to').fill('800');
  await expect(dialog.getByText(/5 values: 50, 100, 200, 400, 800/)).toBeVisible();
  await dialog.getByLabel('Patients in a leaf: how it is given').selectOption('list');
  const leaves = dialog.getByRole('textbox', { name: 'Patients in a leaf', exact: true });
  await leaves.fill('2, five');
  await expect(dialog.getByRole('alert')).toHaveText(/from 1 to/);
  await leaves.fill(Array.from({ length: 20 }, (_, i) => i + 2).join(' '));
  await expect(dialog.getByRole('status')).toHaveText(
    /100 combinations in 5 folds: 100 fits, for one fit gives several values of “Trees”/,
  );
  await dialog.getByRole('button', { name: 'How long will it take?' }).press('Enter');
  await expect(dialog.getByRole('status')).toHaveText(/One fit took [\d.]+ s: about [\d.]+ \w+ on/);
  await dialog.getByLabel('Compared by').selectOption('AUC');
  await expect(dialog.getByRole('button', { name: 'How long will it take?' })).toBeVisible();
  await dialog.getByRole('button', { name: 'Search', exact: true }).press('Enter');
  await expect(dialog).toBeHidden();

  const opened = page.getByRole('region', { name: 'Random forest 2, search' });
  await opened.getByRole('button', { name: 'Stop, and keep what there is' }).click();
  await expect(opened.getByRole('status').first()).toHaveText(/stopped with/);
  await opened.getByRole('button', { name: 'Go on' }).click();
  await expect(opened.getByRole('status').first()).toHaveText('100 combinations compared.');
  await expect(
    opened.getByText(/Chosen on patients drawn anew and judged on those left out, AUC is 0\.\d+/),
  ).toBeVisible();

  // A cell is picked by keys, and drawn as lines by another measure.
  const cells = opened.getByRole('button', { name: /trees 200, patients in a leaf 9: AUC/ });
  // From the cell before it, by an arrow key.
  await opened.getByRole('button', { name: /trees 200, patients in a leaf 8: AUC/ }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(cells).toBeFocused();
  await cells.press('Enter');
  const picked = opened.getByRole('row', { name: /^Picked/ });
  await expect(picked).toContainText('trees 200, patients in a leaf 9');
  await opened.getByLabel('Drawn as').selectOption('lines');
  await opened.getByLabel('Compared by').selectOption('Brier score');
  await expect(opened.getByRole('heading', { name: /^Brier score along/ })).toBeVisible();
  expect(await barriersOf(page, 'main')).toEqual([]);
  await opened.getByLabel('Compared by').selectOption('AUC');

  await opened
    .getByRole('row', { name: /^Best/ })
    .getByRole('button', { name: 'Look closer' })
    .click();
  await expect(opened.getByRole('status').first()).toHaveText(/^10[1-9] combinations compared\.$/);
  const simplest = opened.getByRole('row', { name: /^(Simplest|Best, and the simplest)/ });
  const settings = await simplest.getByRole('cell').first().textContent();
  await simplest.getByRole('button', { name: 'Make it a candidate' }).click();
  await expect(page.getByRole('button', { name: 'Random forest 3', exact: true })).toBeVisible();
  const made = (await client.fitted(study)).at(-1)!;
  expect(
    `trees ${String(made.settings.trees)}, patients in a leaf ${String(made.settings.leastLeaf)}`,
  ).toBe(settings);
  await expect(page.getByRole('button', { name: made.name, exact: true })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  // It remembers its search, and the way back leads there.
  await page.getByRole('button', { name: 'Random forest 2, search' }).last().click();
  await expect(simplest.getByRole('button', { name: `It is ${made.name}` })).toBeVisible();
  await page.goBack();
  await expect(page.getByText(/Chosen as the/)).toBeVisible();
});

test('the choice of a search is checked inside every fold; it is deleted, and brought back', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Search away');
  const plan = {
    tried: { neighbours: [3, 9, 15] },
    fixed: { neighboursBy: 'given' },
    way: { kind: 'all' },
    measure: 'brier',
  };
  await client.send('POST', `/api/studies/${study}/searches`, { family: 'nearest-patients', plan });
  await open(page, 'candidates');
  const row = page.getByRole('row', { name: /^Nearest patients 2, search/ });
  await expect(row).toContainText(/3 combinations compared; best: Brier score 0\.\d+ with/);
  await row.getByRole('button', { name: 'Nearest patients 2, search', exact: true }).click();
  await expect(page.getByRole('heading', { name: /^Brier score along/ })).toBeVisible();
  await page
    .getByRole('button', { name: 'Check the choice by nested cross-validation' })
    .press('Enter');
  await expect(
    page.getByText(
      /^Chosen anew inside every fold and judged on it, Brier score is 0\.\d+ ± 0\.\d+\. Chosen: .* in \d folds?/,
    ),
  ).toBeVisible();
  await row.getByRole('button', { name: 'Delete Nearest patients 2, search' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Delete' }).click();
  await expect(row).toBeHidden();
  await page.getByRole('button', { name: 'Bring it back' }).click();
  await expect(row).toBeVisible();
});

import { expect, test } from '../support/browser-test.ts';
import { barriersOf } from '../support/barriers.ts';
import { madeStudy } from '../support/browser-study.ts';

test('several families are fitted in one act, by keys', async ({ page }) => {
  const { client, study, open } = await madeStudy('At once');
  await open(page, 'candidates');
  const dialog = page.getByRole('dialog', { name: 'Add candidate' });
  await page.getByRole('button', { name: 'Add candidate' }).press('Enter');
  await dialog.getByRole('checkbox', { name: /^Several at once/ }).press('Space');
  await expect(dialog.getByRole('button', { name: 'Fit them' })).toBeDisabled();
  await dialog.getByRole('checkbox', { name: /^Naive Bayes/ }).press('Space');
  await dialog.getByRole('checkbox', { name: /^Decision tree/ }).press('Space');
  await dialog.getByRole('button', { name: 'Fit 2 candidates' }).press('Enter');
  await expect(dialog).toBeHidden();
  for (const name of ['Decision tree 2', 'Naive Bayes 3'])
    await expect(page.getByRole('button', { name, exact: true })).toBeVisible();
  const families = (await client.fitted(study)).map(({ family }) => family);
  expect(families).toEqual(['reference', 'logistic', 'decision-tree', 'naive-bayes']);
  // Every one of them and none, but not what is written by itself.
  await page.getByRole('button', { name: 'Add candidate' }).click();
  await dialog.getByRole('checkbox', { name: /^Several at once/ }).check();
  await dialog.getByRole('button', { name: /^All \d+$/ }).click();
  await expect(dialog.getByRole('checkbox', { name: /^Today/ })).toHaveCount(0);
  await dialog.getByRole('button', { name: 'None of them' }).click();
  await expect(dialog.getByRole('button', { name: 'Fit them' })).toBeDisabled();
});

test('a candidate is named, noted on and changed in a copy', async ({ page }) => {
  const { client, study, open } = await madeStudy('Words');
  await client.send('POST', `/api/studies/${study}/candidates`, {
    family: 'decision-tree',
    settings: { leastLeaf: 7 },
  });
  await client.fitted(study);
  await open(page, 'candidates');
  await page.getByRole('button', { name: 'Decision tree 2', exact: true }).click();
  await page.getByRole('button', { name: 'Name, group and note' }).click();
  const words = page.getByRole('dialog', { name: 'Name, group and note' });
  await words.getByLabel('Name').fill('Logistic regression 1');
  await words.getByLabel('Note').fill('For the ward round.');
  await words.getByRole('button', { name: 'Keep it' }).click();
  await expect(words.getByText(/Another candidate of this study is called/)).toBeVisible();
  await words.getByLabel('Name').fill('The simple tree');
  await words.getByLabel('Name').press('Enter');
  await expect(words).toBeHidden();
  const row = page.getByRole('row', { name: /The simple tree/ });
  await expect(row.getByRole('img', { name: 'It has a note' })).toBeVisible();
  await expect(page.getByText('For the ward round.')).toBeVisible();
  await page.reload();
  await expect(page.getByText('For the ward round.')).toBeVisible();
  await page.getByRole('button', { name: 'Change a copy' }).click();
  const copy = page.getByRole('dialog', { name: 'Change a copy of The simple tree' });
  const leaf = copy.getByRole('spinbutton', { name: 'Patients in a leaf' });
  await expect(leaf).toHaveValue('7');
  await leaf.fill('12');
  await copy.getByRole('button', { name: 'Fit it' }).click();
  await expect(copy).toBeHidden();
  const [first, second] = (await client.fitted(study)).slice(-2);
  expect([first.settings.leastLeaf, second.settings.leastLeaf]).toEqual([7, 12]);
  const { leastLeaf: _, ...others } = first.settings;
  expect(second.settings).toEqual({ ...others, leastLeaf: 12 });
});

test('candidates stand together in groups, by keys, and each group is sorted by itself', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Groups');
  for (const family of ['decision-tree', 'naive-bayes'])
    await client.send('POST', `/api/studies/${study}/candidates`, { family, settings: {} });
  await client.fitted(study);
  await open(page, 'candidates');
  const words = page.getByRole('dialog', { name: 'Name, group and note' });
  const put = async (name: string, group: string) => {
    await page.getByRole('button', { name, exact: true }).press('Enter');
    await page.getByRole('button', { name: 'Name, group and note' }).press('Enter');
    await words.getByLabel('Group').fill(group);
    await words.getByLabel('Group').press('Enter');
    await expect(words).toBeHidden();
  };
  await put('Naive Bayes 3', 'quick ones');
  await put('Logistic regression 1', 'quick ones');
  const head = page.getByRole('rowheader', { name: 'quick ones 2' });
  await expect(head).toBeVisible();
  const table = page.getByRole('table', { name: /^Cross-validated/ });
  const names = () => table.getByRole('rowheader').allTextContents();
  // Those in no group come first, in the order of their numbers.
  expect((await names()).map((text) => text.replace(/ \d+ .*/, ''))).toEqual([
    'Reference',
    expect.stringMatching(/^Decision tree/),
    expect.stringMatching(/^quick ones/),
    expect.stringMatching(/^Logistic regression/),
    expect.stringMatching(/^Naive Bayes/),
  ]);
  await page.getByRole('button', { name: 'Candidate', exact: true }).click();
  await page.getByRole('button', { name: 'Candidate', exact: true }).click();
  await expect
    .poll(async () => (await names()).map((text) => text.slice(0, 5)))
    .toEqual(['Refer', 'Decis', 'quick', 'Naive', 'Logis']);
  await page.reload();
  await expect(head).toBeVisible();
  await put('Naive Bayes 3', '');
  await expect(page.getByRole('rowheader', { name: 'quick ones 1' })).toBeVisible();
  await page.getByRole('button', { name: 'Name, group and note' }).click();
  await words.getByLabel('Group').fill('x'.repeat(61));
  await words.getByRole('button', { name: 'Keep it' }).click();
  await expect(words.getByText('A group has at most 60 characters.')).toBeVisible();
});

test('two candidates are compared on the same patients, and what they differ in is said', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Beside');
  await client.changeDesign(study, {
    predictorSets: [{ name: 'two', predictors: ['age', 'lwt'] }],
  });
  await client.send('POST', `/api/studies/${study}/candidates`, {
    family: 'logistic',
    settings: {},
    basis: { predictors: 'two' },
  });
  await client.fitted(study);
  await open(page, 'candidates');
  await page.getByRole('button', { name: 'Logistic regression 2', exact: true }).click();
  const section = page.getByRole('region', { name: 'Logistic regression 2 compared' });
  await page.getByLabel('Compared with').selectOption('Logistic regression 1');
  const table = section.getByRole('table');
  await expect(table.getByRole('row', { name: /^Cost per 1,000/ })).toBeVisible();
  await expect(
    section.getByText(/^Logistic regression 2 costs \d+ per 1,000 and Logistic regression 1 costs/),
  ).toBeVisible();
  await expect(section.getByText(/^Only Logistic regression 1: .*smoke/i)).toBeVisible();
  await expect(table.getByRole('row')).toHaveCount(6);
  // The address keeps it, and another click takes it away.
  await page.reload();
  await expect(section.getByRole('table')).toBeVisible();
  expect(await barriersOf(page)).toEqual([]);
  await page.getByLabel('Compared with').selectOption('no other');
  await expect(section.getByRole('table')).toHaveCount(0);
});

test('several candidates are drawn on one chart each by keys, and who differs is listed', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Side by side');
  for (const family of ['naive-bayes', 'decision-tree'])
    await client.send('POST', `/api/studies/${study}/candidates`, { family, settings: {} });
  const lines = await client.fitted(study);
  await open(page, 'candidates');
  const letter = (name: string) =>
    page.getByRole('button', { name: `Draw ${name} on the charts of several` });
  const section = page.getByRole('region', { name: 'Candidates side by side' });
  await letter('Logistic regression 1').press('Enter');
  // One alone is not beside anything.
  await expect(section).toHaveCount(0);
  await letter('Naive Bayes 2').press('Space');
  await letter('Decision tree 3').press('Enter');
  for (const title of ['ROC', 'Precision and recall', 'Cost curve', 'Calibration'])
    await expect(section.getByRole('heading', { name: title, exact: true })).toBeVisible();
  await expect(section.getByText(/Least: A \d+, B \d+, C \d+\./)).toBeVisible();
  const least = lines.slice(1).map(({ results }) => Math.round(results!.costPerThousand));
  await expect(
    section.getByText(`Least: A ${least[0]}, B ${least[1]}, C ${least[2]}.`),
  ).toBeVisible();
  const differences = section.getByRole('table', { name: /^Each less A/ });
  await expect(differences.getByRole('row', { name: /^B Naive Bayes 2/ })).toContainText('p ');
  await expect(differences.getByRole('row')).toHaveCount(4);

  const who = section.getByRole('region', { name: 'Who differs' });
  await expect(who.getByText(/^Of 4\d cases both find \d+, only A \d+, only B/)).toBeVisible();
  await who.getByLabel('and', { exact: true }).selectOption('C Decision tree 3');
  const list = who.getByRole('table', { name: /Decision tree 3 calls in/ });
  const first = list.getByRole('row').nth(1);
  await expect(first).toContainText(/only [AC]/);
  await first.click();
  const dialog = page.getByRole('dialog', { name: /^Patient row \d+/ });
  await expect(
    dialog.getByText(/case\. Only [AC], .* calls them in: A gave 0\.\d+, C 0\.\d+/),
  ).toBeVisible();
  await expect(dialog.getByRole('row', { name: /\(outcome\)/ })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(dialog).toBeHidden();
  expect(await barriersOf(page, 'main')).toEqual([]);

  // The address keeps them; one is taken off, and the base goes to the next.
  await page.reload();
  await page.getByRole('button', { name: /^Logistic regression 1 is A on the charts/ }).click();
  await expect(
    section
      .getByRole('table', { name: /^Each less A/ })
      .getByRole('row')
      .nth(1),
  ).toContainText('Naive Bayes 2');
});

test('candidates are sorted by what is pressed, the best first, and so when the page is opened anew', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Sorted');
  await client.send('POST', `/api/studies/${study}/candidates/several`, {
    families: ['naive-bayes', 'decision-tree'],
  });
  const lines = await client.fitted(study);
  await open(page, 'candidates');
  const table = page.getByRole('table', { name: /^Cross-validated results/ });
  const names = () => table.locator('tbody th [data-candidate]').allTextContents();
  // Who cost the same stand as they were made, whichever way.
  const byCost = (way: number) =>
    lines
      .toSorted((a, b) => way * (a.results!.costPerThousand - b.results!.costPerThousand))
      .map(({ name }) => name);
  const made = lines.map(({ name }) => name);
  expect(await names()).toEqual(made);
  const head = table.getByRole('columnheader', { name: /^Cost per 1,000/ });
  await head.getByRole('button').click();
  expect(await names()).toEqual(byCost(1));
  await expect(head).toHaveAttribute('aria-sort', 'ascending');
  await page.reload();
  expect(await names()).toEqual(byCost(1));
  await head.getByRole('button').press('Enter');
  expect(await names()).toEqual(byCost(-1));
  await head.getByRole('button').press('Enter');
  expect(await names()).toEqual(made);
  await table.getByRole('columnheader', { name: /^AUC/ }).getByRole('button').click();
  const areas = lines.toSorted((a, b) => b.results!.area!.mean - a.results!.area!.mean);
  expect((await names())[0]).toBe(areas[0].name);
  // What was fitted on another design stands behind, however good it was.
  await client.changeDesign(study, { seed: 77 });
  await client.fitted(study);
  await head.getByRole('button').click();
  await expect(table.getByText('out of date')).toHaveCount(3);
  expect((await names())[0]).toBe('Reference');
});

test('columns of the table are chosen by keys, sorted by, and kept', async ({ page }) => {
  const { client, study, open } = await madeStudy('Columns');
  await open(page, 'candidates');
  const heads = () => page.locator('thead').getByRole('button').allTextContents();
  const usual = [
    'Candidate',
    'Cost per 1,000',
    'Sensitivity',
    'Specificity',
    'AUC',
    'Accuracy',
    'Cutoff',
    '',
  ];
  expect(await heads()).toEqual(usual);
  await page.getByRole('button', { name: 'Columns of the table' }).press('Enter');
  const dialog = page.getByRole('dialog', { name: 'Columns of the table' });
  await dialog.getByRole('checkbox', { name: /^Called in per 1,000/ }).press('Space');
  await dialog.getByRole('checkbox', { name: /^AUC in those learned from/ }).press('Space');
  for (const name of [/^Sensitivity/, /^Specificity/, /^Accuracy/])
    await dialog.getByRole('checkbox', { name }).press('Space');
  await dialog.getByRole('button', { name: 'Done' }).press('Enter');
  const chosen = ['Candidate', 'Cost per 1,000', 'AUC', 'Cutoff', 'Called in per 1,000'];
  expect(await heads()).toEqual([...chosen, 'AUC in those learned from', '']);
  const [, line] = await client.fitted(study);
  const { found, missed, falseAlarms, rightlyLeft } = line.results!.table;
  const called = (1000 * (found + falseAlarms)) / (found + missed + falseAlarms + rightlyLeft);
  const cells = page.getByRole('row', { name: /^Logistic regression 1/ }).getByRole('cell');
  await expect(cells.nth(3)).toHaveText(String(Math.round(called)));
  await expect(cells.nth(4)).toHaveText(line.apparentArea!.toFixed(2));
  await page.getByRole('button', { name: 'Called in per 1,000' }).click();
  await expect(page.getByRole('columnheader', { name: 'Called in per 1,000' })).toHaveAttribute(
    'aria-sort',
    'ascending',
  );
  await page.reload();
  await expect(page.getByRole('columnheader', { name: 'Called in per 1,000' })).toBeVisible();
  await page.getByRole('button', { name: 'Columns of the table' }).click();
  await dialog.getByRole('button', { name: 'As usual' }).click();
  await dialog.getByRole('button', { name: 'Done' }).click();
  await expect.poll(heads).toEqual(usual);
});

test('of many candidates the table scrolls by itself, with the open one in sight', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Many');
  for (let added = 1; added <= 15; added++)
    await client.send('POST', `/api/studies/${study}/candidates`, {
      family: 'naive-bayes',
      settings: { added },
    });
  await client.fitted(study);
  await open(page, 'candidates');
  const last = page.getByRole('button', { name: 'Naive Bayes 16', exact: true });
  const head = page.getByRole('columnheader', { name: 'Candidate' });
  await expect(last).toHaveAttribute('aria-pressed', 'true');
  await expect(last).toBeInViewport();
  await expect(head).toBeInViewport();
  const first = page.getByRole('button', { name: 'Logistic regression 1', exact: true });
  await expect(first).not.toBeInViewport();
  await first.press('Enter');
  // What is opened lies below the table, which keeps its height.
  await expect(
    page.getByRole('heading', { name: 'Logistic regression 1: coefficients' }),
  ).toBeInViewport();
  await page.reload();
  await expect(first).toBeInViewport();
  await expect(last).not.toBeInViewport();
});

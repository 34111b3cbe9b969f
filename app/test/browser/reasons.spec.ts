import { expect, test } from '../support/browser-test.ts';
import { barriersOf } from '../support/barriers.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { lookFirst, madeStudy, ready } from '../support/browser-study.ts';

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
  await expect(table).toBeVisible();
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
  await expect(table.getByRole('rowheader', { name: / \+ / })).toBeVisible();
  expect(await barriersOf(page, 'main')).toEqual([]);

  await page.getByRole('combobox', { name: 'Candidate' }).selectOption({ label: bayes.name });
  await page.getByRole('button', { name: 'Work it out' }).press('Enter');
  await expect(table.getByRole('columnheader', { name: logistic.name })).toBeVisible();
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
  const said = /says ([\d.]+):/.exec(await page.getByText(/^Of row \d+ .* says/).innerText())!;
  const base = /^It begins with ([\d.]+), where the mean log-odds/.exec(
    await page.getByText(/^It begins with/).innerText(),
  )!;
  const steps = (await added.getByRole('row').getByRole('cell').allInnerTexts())
    .filter((text) => /^[+−]?\d\.\d{3}$/.test(text))
    .map((text) => Number(text.replace('−', '-').replace('+', '')));
  const odds = (risk: number) => Math.log(risk / (1 - risk));
  const sum = steps.reduce((total, one) => total + one, odds(Number(base[1])));
  expect(Math.abs(1 / (1 + Math.exp(-sum)) - Number(said[1]))).toBeLessThan(0.008);
  await expect(
    page.getByRole('table', { name: 'Most similar patients' }).getByRole('row'),
  ).toHaveCount(11);
  expect(await barriersOf(page, 'main')).toEqual([]);
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

test('two predictors are shaded with their patients, those that act together are one press away, and components follow', async ({
  page,
}) => {
  const { open } = await madeStudy('Two at once');
  await open(page, 'reasons');
  const together = page.getByRole('table', { name: 'Predictors that act together' });
  const pair = together.getByRole('button').nth(1);
  const words = await pair.innerText();
  await pair.press('Enter');
  const [one, other] = words.split(' and ');
  const figure = page.getByRole('figure').filter({ hasText: words });
  await expect(figure.getByText(/larger the \d+ who are called wrongly/)).toBeVisible();
  await expect(page.getByLabel('Across').locator('option:checked')).toHaveText(one);
  await expect(page.getByLabel('Up', { exact: true }).locator('option:checked')).toHaveText(other);
  expect(await figure.locator('circle').count()).toBeGreaterThan(100);
  await page.getByLabel('Across').selectOption('principal components');
  await expect(
    page.getByText(/^First component, \d+% of all that numbers vary: more /),
  ).toBeVisible();
  await expect(page.getByLabel('Up', { exact: true })).toHaveCount(0);
  await expect(page).toHaveURL(/across=components/);
  expect(await barriersOf(page, 'main')).toEqual([]);
});

test('rules that follow the candidate are as many as asked for, and say how far they do', async ({
  page,
}) => {
  const { open } = await madeStudy('Rules');
  await open(page, 'reasons');
  const rules = page.getByRole('table', { name: 'Leaves of the tree as rules' });
  await expect(rules.getByRole('row').nth(1)).toBeVisible();
  const asked = page.getByRole('textbox', { name: 'Rules at most' });
  await asked.fill('3');
  await asked.press('Enter');
  await expect(rules.getByRole('row')).toHaveCount(4);
  await expect(page.getByText(/^3 rules: of 142 patients .* called alike/)).toBeVisible();
  // The greatest mean is first, and every patient is under one rule.
  const cells = await rules.getByRole('row').getByRole('cell').allInnerTexts();
  const counts = cells.filter((_, i) => i % 3 === 0).map(Number);
  expect(counts.reduce((sum, one) => sum + one, 0)).toBe(142);
  const means = cells.filter((_, i) => i % 3 === 1).map(Number);
  expect(means).toEqual(means.toSorted((a, b) => b - a));
  const tree = page.getByRole('tree', { name: 'The tree, one question after another' });
  await tree.getByRole('treeitem').first().focus();
  await page.keyboard.press('ArrowRight');
  await expect(tree.getByRole('treeitem', { selected: true })).toHaveAttribute('aria-level', '2');
});

test('what is marked in Design as fixed stays where changes of a patient are looked for', async ({
  page,
}) => {
  const { open } = await madeStudy('Fixed');
  await open(page, 'reasons?row=1');
  const turns = page.getByRole('list', { name: 'Smallest changes that turn the call' });
  // Of the first development patient there are some.
  const refused = page.getByText('nobody has looked at this fit yet');
  for (let row = 2; row < 12; row++) {
    await expect(page.getByText(`Most like row ${row - 1}`).or(refused)).toBeVisible();
    if (await turns.isVisible()) break;
    await page.getByRole('button', { name: 'Next' }).press('Enter');
    await expect(page).toHaveURL(new RegExp(`row=${row}`));
  }
  const first = /^(.+?) \S+ (?:\S+ )?instead of/.exec(
    await turns.getByRole('listitem').first().innerText(),
  )![1];
  const address = page.url();
  await page.getByRole('link', { name: 'Mark in Design what cannot be changed.' }).click();
  await page.waitForURL(/\/design/);
  await ready(page);
  await page.getByRole('button', { name: `${first} cannot be changed` }).click();
  await expect(page.getByRole('button', { name: `${first} cannot be changed` })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await page.goto(address);
  await expect(page.getByText(`${first} stays.`)).toBeVisible();
  await expect(turns.getByText(new RegExp(`^${first} `))).toHaveCount(0);
});

test('where what is said turns back, a note says so and fits one that may not', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Turns');
  await client.send('POST', `/api/studies/${study}/candidates`, {
    family: 'boosted-trees',
    settings: { until: 'all', trees: 60, learningRate: 0.3 },
  });
  const boosted = (await client.fitted(study)).at(-1)!;
  await open(page, `reasons?candidate=${boosted.id}&predictor=age`);
  const note = page.getByRole('complementary', { name: 'Margin notes' });
  await expect(
    note.getByRole('heading', { name: 'What is said turns back along Age' }),
  ).toBeVisible();
  await note.getByRole('button', { name: /^Fit one that never (falls|rises) with it/ }).click();
  await expect(page.getByText('A candidate with that direction is being fitted')).toBeVisible();
  const forced = (await client.fitted(study)).at(-1)!;
  const { rising, falling } = forced.settings as { rising: string[]; falling: string[] };
  expect([...rising, ...falling]).toEqual(['age']);
  await open(page, `reasons?candidate=${forced.id}&predictor=age`);
  await expect(page.getByRole('table', { name: /^Said and observed by/ })).toBeVisible();
  await expect(note.getByRole('heading', { name: /turns back/ })).toHaveCount(0);
});

test('a list tells the strongest reasons of each patient, who opens with all of them', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Reasons in a list');
  const [, logistic] = await client.fitted(study);
  const list = await client.bringIn(study, birthWeight, 'screening', asPublished);
  await client.send('POST', `/api/studies/${study}/screenings`, {
    ...{ cohort: list.body.id, candidate: logistic.id, accept: true, unchecked: true },
  });
  await open(page, `screening?candidate=${logistic.id}`);
  const table = page.getByRole('table', { name: /^Call-in list/ });
  const row = table.getByRole('row').nth(1);
  await expect(row.getByText(/^[+−] .+, [+−] .+, [+−] .+/)).toBeVisible();
  const [first] = (await row.getByText(/^[+−] /).innerText()).split(',');
  await row.click();
  await page.getByRole('button', { name: 'Why?' }).press('Enter');
  const dialog = page.getByRole('dialog', { name: /^Why Logistic regression/ });
  const added = dialog.getByRole('table', { name: 'What each predictor adds' });
  const strongest = added.getByRole('row').nth(1);
  await expect(strongest.getByRole('rowheader')).toHaveText(first.slice(2));
  await expect(strongest).toContainText(first[0] === '+' ? '+' : '−');
  await expect(
    dialog.getByRole('table', { name: 'Most similar patients' }).getByRole('row'),
  ).toHaveCount(11);
  expect(await barriersOf(page, 'dialog')).toEqual([]);
  await page.keyboard.press('Escape');
  await expect(dialog).toBeHidden();
});

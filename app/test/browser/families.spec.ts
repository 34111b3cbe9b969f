import { expect, test, type Page } from '../support/browser-test.ts';
import { facetOf, type FacetKind, type FacetsOf } from '@rook-scale/core/families';
import type { CandidateDetail } from '../../src/contract/candidates.ts';
import { barriersOf } from '../support/barriers.ts';
import type { Client } from '../support/client.ts';
import { addCandidate as add, madeStudy } from '../support/browser-study.ts';

const lastLine = async (client: Client, study: string) => (await client.fitted(study)).at(-1)!;

async function shownBy<K extends FacetKind>(
  client: Client,
  id: string,
  kind: K,
): Promise<FacetsOf[K]> {
  const { facets } = await client.get<CandidateDetail>(`/api/candidates/${id}`);
  return facetOf(facets, kind)!;
}

const withoutSeriousFaults = async (page: Page) => {
  expect(await barriersOf(page)).toEqual([]);
};

test('a penalised regression shows its path, and a strength is picked from it by keys and by pointer', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Penalised');
  // With this seed the least loss lies within the path, not at its strong end.
  await client.changeDesign(study, { seed: 4 });
  await open(page, 'candidates');
  await add(page, /^Penalised regression/);
  const figure = page
    .getByRole('figure')
    .filter({ has: page.getByRole('heading', { name: 'Path of coefficients' }) });
  await expect(figure).toBeVisible();
  const line = await lastLine(client, study);
  const path = await shownBy(client, line.id, 'path');
  const { best, simplest } = path.tried;
  expect(best).toBeGreaterThan(0);
  const inputs = (count: number) => `${count} ${count === 1 ? 'input' : 'inputs'}`;
  await expect(figure).toContainText(`With ${inputs(path.counts[best])} the log loss is least`);
  await expect(figure.getByText('simplest as good')).toBeVisible();
  const table = page
    .getByRole('table')
    .filter({ has: page.getByRole('columnheader', { name: 'Per SD' }) });
  const rows = table.locator('tbody tr');
  await expect(rows).toHaveCount(path.counts[best] + 1);

  // The marker by keys: one strength weaker, then back to the strongest, where nothing is left.
  const marker = page.getByRole('slider', { name: 'Strength' });
  await marker.focus();
  await page.keyboard.press('ArrowRight');
  await expect(rows).toHaveCount(path.counts[best + 1] + 1);
  await page.keyboard.press('Home');
  await expect(rows).toHaveCount(1);
  await expect(page.getByText('Left out:')).toBeVisible();
  await page.getByRole('button', { name: /^back to the fitted one/ }).click();
  await expect(rows).toHaveCount(path.counts[best] + 1);

  // By pointer: the weak end has everything.
  const drawing = figure.locator('svg');
  await drawing.scrollIntoViewIfNeeded();
  const box = (await drawing.boundingBox())!;
  await page.mouse.click(box.x + box.width * 0.76, box.y + box.height * 0.3);
  await expect(rows).toHaveCount(path.counts.at(-1)! + 1);

  await figure.getByRole('button', { name: 'Copy the numbers' }).click();
  const copied = (await page.evaluate(() => navigator.clipboard.readText())).split('\n');
  expect(copied.length).toBe(path.strengths.length + 1);
  expect(copied[1 + best].split('\t').slice(0, 3).map(Number)).toEqual([
    path.strengths[best],
    path.counts[best],
    path.tried.mean[best],
  ]);
  await withoutSeriousFaults(page);

  // What is picked becomes a candidate with as many inputs.
  await page.getByRole('button', { name: /^simplest as good/ }).click();
  await page.getByRole('button', { name: 'Fit this strength as a candidate' }).click();
  await expect(page.getByText(/, as fitted: /)).toBeVisible();
  await expect(async () => {
    const picked = await lastLine(client, study);
    expect(picked.id).not.toBe(line.id);
    const strength = path.strengths[simplest];
    expect(picked.settings).toMatchObject({ strengthBy: 'given', strength });
    const own = await shownBy(client, picked.id, 'path');
    expect(own.counts[own.chosen]).toBe(path.counts[simplest]);
  }).toPass();
});

test('coefficients are bias-reduced where the outcome is separated, with intervals by profile', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Separated');
  // One mother with three premature labours, and no event.
  await client.changeDesign(study, { predictors: ['age', 'lwt', 'smoke', 'ht', 'ptl'] });
  await open(page, 'candidates');
  await add(page, /^Logistic regression/, async (dialog) => {
    await dialog.getByLabel('Coefficients', { exact: true }).selectOption('reduced');
  });
  const line = await lastLine(client, study);
  expect(line.settings).toMatchObject({ estimates: 'reduced' });
  await expect(
    page.getByRole('heading', { name: /^Logistic regression \d: coefficients/ }),
  ).toBeVisible();
  await expect(page.getByText('penalised log-likelihood')).toBeVisible();
  await expect(page.getByText(/follow the profile of the penalised/)).toBeVisible();
  const { groups, byProfile } = await shownBy(client, line.id, 'coefficients');
  expect(byProfile).toBe(true);
  for (const { estimate, oddsRatioInterval } of groups[0].lines.slice(1)) {
    const [low, high] = oddsRatioInterval!;
    expect(low < Math.exp(estimate!) && Math.exp(estimate!) < high).toBe(true);
  }
});

test('naive Bayes shows how predictors are spread, and a patient about whom nothing is known gets the share of cases', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Naive');
  await open(page, 'candidates');
  await add(page, /^Naive Bayes/, async (dialog) => {
    await dialog.getByLabel('Numbers').selectOption('kernel');
    await expect(dialog.getByRole('spinbutton', { name: 'Share of cases, %' })).toHaveCount(0);
    await dialog.getByLabel('Before anything is known').selectOption('given');
    await dialog.getByRole('spinbutton', { name: 'Share of cases, %' }).fill('20');
  });
  const table = page.getByRole('table', { name: 'Spread of predictors' });
  await expect(table).toBeVisible();
  await expect(page.getByText(/A patient begins from a risk of 20%/)).toBeVisible();
  const line = await lastLine(client, study);
  const { inputs } = await shownBy(client, line.id, 'densities');
  const shown = await table
    .locator('tbody tr')
    .evaluateAll((rows) => rows.map((row) => Number(row.querySelector('td')!.textContent)));
  expect(shown).toEqual(inputs.map(({ apart }) => Number(apart.toFixed(2))));
  expect(shown).toEqual(shown.toSorted((a, b) => b - a));
  await expect(table.getByRole('img').first()).toBeVisible();
  await withoutSeriousFaults(page);
});

test('discriminants show what parts cases from others', async ({ page }) => {
  const { client, study, open } = await madeStudy('Discriminants');
  await open(page, 'candidates');
  await add(page, /^Discriminants/);
  await expect(page.getByRole('heading', { name: 'What parts the two clouds' })).toBeVisible();
  const line = await lastLine(client, study);
  const { directions, inputs } = await shownBy(client, line.id, 'discriminants');
  const [{ means, weights }] = directions;
  const apart = Math.abs(means[1] - means[0]).toFixed(2);
  await expect(page.getByText(`The means of both clouds lie ${apart} SDs apart`)).toBeVisible();
  const table = page
    .getByRole('table')
    .filter({ has: page.getByRole('columnheader', { name: 'Weight, per SD' }) });
  const shown = await table
    .locator('tbody tr')
    .evaluateAll((rows) =>
      rows.map((row) => Number(row.querySelectorAll('td')[1].textContent.replace('−', '-'))),
    );
  expect(shown.length).toBe(inputs.length);
  expect(shown).toEqual(
    weights
      .toSorted((a, b) => Math.abs(b) - Math.abs(a))
      .map((weight) => Number(weight.toFixed(2))),
  );
  await withoutSeriousFaults(page);
});

test('discriminants of several levels are a map of patients, with borders and a key', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Map of levels');
  await client.changeDesign(study, {
    outcome: 'race',
    kind: 'levels',
    reference: '1',
    cases: ['2', '3'],
    predictors: ['age', 'lwt', 'smoke', 'low'],
  });
  await client.fitted(study);
  await open(page, 'candidates');
  await add(page, /^Discriminants/);
  const map = page.getByRole('img', { name: /development patients; lines: two levels are/ });
  await expect(map).toBeVisible();
  const line = await lastLine(client, study);
  const { patients, borders } = (await shownBy(client, line.id, 'discriminants')).map!;
  expect(borders.length).toBeGreaterThan(0);
  for (const [level, letter] of ['A1', 'B2', 'C3'].entries()) {
    await expect(page.getByText(letter, { exact: true })).toBeVisible();
    expect(patients.some((one) => one.level === level)).toBe(true);
  }
  await page.getByRole('button', { name: 'Copy the numbers' }).first().click();
  const copied = await page.evaluate(() => navigator.clipboard.readText());
  expect(copied.trim().split('\n').length).toBe(1 + patients.length);
  await withoutSeriousFaults(page);
});

test('an additive model shows what each number adds, straight or bent, and what levels add', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Additive');
  await open(page, 'candidates');
  await add(page, /^Additive model/);
  const figure = page
    .getByRole('figure')
    .filter({ has: page.getByRole('heading', { name: 'What each number adds' }) });
  await expect(figure).toBeVisible();
  const line = await lastLine(client, study);
  const { curves, lines } = await shownBy(client, line.id, 'terms');
  await expect(figure.getByRole('img', { name: /: adds .* df · p / })).toHaveCount(curves.length);
  const table = page.getByRole('table', { name: 'Straight lines and levels' });
  await expect(table.locator('tbody tr')).toHaveCount(lines.length);
  await figure.getByRole('button', { name: 'Copy the numbers' }).click();
  const copied = (await page.evaluate(() => navigator.clipboard.readText())).split('\n');
  expect(copied.length).toBe(1 + curves.reduce((sum, { at }) => sum + at.length, 0));
  // Age as it is in the file, not per SD.
  const ages = copied.filter((row) => row.startsWith(`${copied[1].split('\t')[0]}\t`));
  expect(Number(ages[0].split('\t')[1])).toBeGreaterThan(10);
  await withoutSeriousFaults(page);
});

test('nearest patients show loss by how many are asked, and whom one patient is judged by', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Nearest');
  await open(page, 'candidates');
  await add(page, /^Nearest patients/, async (dialog) => {
    await dialog.getByLabel('How many are asked').selectOption('given');
    await dialog.getByRole('spinbutton', { name: 'Patients asked' }).fill('9');
  });
  await expect(page.getByRole('heading', { name: 'Loss by how many are asked' })).toBeVisible();
  await expect(page.getByText(/in the patients watched asking 9 patients/)).toBeVisible();
  const line = await lastLine(client, study);
  await open(page, `screening?candidate=${line.id}&view=patient`);
  const table = page.getByRole('region', { name: 'Nearest patients' }).getByRole('table');
  await expect(table.locator('tbody tr')).toHaveCount(10);
  const said = await table
    .locator('tbody tr')
    .evaluateAll((rows) =>
      rows.slice(1).map((row) => [...row.querySelectorAll('td')].map((cell) => cell.textContent)),
    );
  const distances = said.map(([distance]) => Number(distance));
  expect(distances).toEqual(distances.toSorted((a, b) => a - b));
  const cases = said.filter(([, outcome]) => outcome.includes('yes')).length;
  await expect(page.getByText(`Judged by the 9 nearest patients`)).toContainText(`${cases} (`);
  await withoutSeriousFaults(page);
});

test('support vectors show their margin and how many patients it rests on', async ({ page }) => {
  const { client, study, open } = await madeStudy('Supports');
  await open(page, 'candidates');
  await add(page, /^Support vectors/, async (dialog) => {
    await expect(dialog.getByText('it sets the cutoff alone')).toBeVisible();
    await dialog.getByLabel('Cost of each side').selectOption('error costs');
    await expect(dialog.getByText('enters this fit, and sets the cutoff')).toBeVisible();
  });
  await expect(page.getByRole('heading', { name: 'Margin' })).toBeVisible();
  const line = await lastLine(client, study);
  const { machines } = await shownBy(client, line.id, 'margin');
  const { supports, patients } = machines[0];
  await expect(page.getByText(`${supports} of ${patients} patients (`)).toBeVisible();
  await expect(page.getByText(/0 is the border, from −1 to 1 the margin/)).toBeVisible();
  await withoutSeriousFaults(page);
});

test('a neural network is drawn, and a unit pressed tells its weights', async ({ page }) => {
  const { client, study, open } = await madeStudy('Network');
  await open(page, 'candidates');
  await add(page, /^Neural network/, async (dialog) => {
    await dialog.getByRole('spinbutton', { name: 'Units in a hidden layer' }).fill('4');
    // Slowly enough to be watched: by steps that are small, so that the best comes late.
    await dialog.getByRole('spinbutton', { name: 'Starts' }).fill('12');
    await dialog.getByRole('spinbutton', { name: 'Epochs at most' }).fill('2000');
    await dialog.getByText('More settings').click();
    await dialog.getByRole('spinbutton', { name: 'Learning rate' }).fill('0.0001');
  });
  await expect(page.getByText('Loss along the epochs so far')).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Network', exact: true })).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Loss along the epochs' })).toBeVisible();
  const line = await lastLine(client, study);
  const { sizes, parameters } = await shownBy(client, line.id, 'network');
  expect(sizes[1]).toBe(4);
  // By keys: the third hidden unit, whose weights stand behind those of two others.
  await page.getByRole('button', { name: 'Weights of hidden unit 3' }).focus();
  await page.keyboard.press('Enter');
  const table = page.getByRole('table', { name: /^Weights of hidden unit 3/ });
  const shown = await table
    .locator('tbody tr')
    .evaluateAll((rows) =>
      rows.map((row) => Number(row.querySelector('td')!.textContent.replace('−', '-'))),
    );
  const begin = 2 * (sizes[0] + 1) + 1;
  const weights = parameters.slice(begin, begin + sizes[0]);
  expect(shown).toEqual(
    weights
      .toSorted((a, b) => Math.abs(b) - Math.abs(a))
      .map((weight) => Number(weight.toFixed(2))),
  );
  await withoutSeriousFaults(page);
});

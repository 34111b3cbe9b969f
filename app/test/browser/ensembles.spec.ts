import { expect, test, type Page } from '../support/browser-test.ts';
import { facetOf } from '@rook-scale/core/families';
import { unpackBytes, unpackNumbers } from '../../src/browser/api.ts';
import type { CandidateDetail, CandidateLine, Predictions } from '../../src/contract/candidates.ts';
import type { ScreenedRow, ScreeningView } from '../../src/contract/screenings.ts';
import { barriersOf } from '../support/barriers.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { addCandidate, madeStudy } from '../support/browser-study.ts';

/** Adds one and waits for its curve. */
async function addGrown(page: Page, family: RegExp, say: Parameters<typeof addCandidate>[2]) {
  await addCandidate(page, family, say);
  await expect(curve(page)).toBeVisible();
}

const curve = (page: Page) =>
  page
    .getByRole('figure')
    .filter({ has: page.getByRole('heading', { name: 'Loss along the trees' }) });
const importance = (page: Page) => page.getByRole('table', { name: 'Importance' });

test('boosted trees are fitted with a direction, and show where they end and what they need', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Boosted');
  await open(page, 'candidates');
  await addGrown(page, /^Boosted trees/, async (dialog) => {
    await dialog.getByRole('spinbutton', { name: 'Trees at most' }).fill('120');
    await dialog.getByText('More settings').click();
    const rising = dialog.getByLabel('Never falls with more of');
    await expect(rising).toBeEnabled();
    await rising.selectOption('lwt');
    await expect(rising.locator('option[value=lwt]')).toHaveCount(0);
    const falling = dialog.getByLabel('Never rises with more of');
    await falling.selectOption('lwt');
    await dialog
      .getByRole('button', { name: /^Take .* away$/ })
      .last()
      .click();
    // A share of none is refused where it stands.
    const share = dialog.getByRole('spinbutton', { name: 'Share of patients a tree' });
    await share.fill('0');
    await dialog.getByRole('button', { name: 'Fit it' }).click();
    await expect(dialog.getByText('Share of patients a tree: from 0.05 to 1.')).toBeVisible();
    await share.fill('0.8');
  });
  const line = (await client.fitted(study)).at(-1)!;
  expect(line).toMatchObject({
    family: 'boosted-trees',
    settings: { trees: 120, rising: ['lwt'], falling: [], rowShare: 0.8 },
    warnings: [],
  });
  // What is kept of the fit, not the curve that is drawn while it learns.
  await expect(importance(page)).toBeVisible();
  await expect(curve(page)).toContainText(
    /^.*Log loss 0\.\d+ in the patients watched with \d+ trees? \(0\.\d+ if all are given what all have\); 0\.\d+ in those learned from \(dashed\)\./,
  );
  await curve(page).getByRole('button', { name: 'Copy the numbers' }).click();
  const copied = (await page.evaluate(() => navigator.clipboard.readText())).split('\n');
  expect(copied[0]).toBe('trees\tlog loss, patients learned from\tlog loss, patients watched');
  const chosen = Number(/with (\d+) trees?/.exec((await curve(page).textContent())!)![1]);
  const watched = copied.slice(1).map((row) => Number(row.split('\t')[2]));
  expect(watched.indexOf(Math.min(...watched))).toBe(chosen);

  const rows = importance(page).locator('tbody tr');
  const rises = await rows.evaluateAll((all) =>
    all.map((row) => Number(row.querySelector('td')!.textContent.replace('−', '-'))),
  );
  expect(rises).toEqual(rises.toSorted((a, b) => b - a));
  expect(await barriersOf(page)).toEqual([]);
});

test('a random forest is fitted on balanced samples and judged out of bag', async ({ page }) => {
  const { client, study, open } = await madeStudy('Forest');
  await open(page, 'candidates');
  await addGrown(page, /^Random forest/, async (dialog) => {
    await expect(dialog.getByRole('spinbutton', { name: 'So many' })).toHaveCount(0);
    await dialog.getByLabel('Predictors tried at a question').selectOption('given');
    await dialog.getByRole('spinbutton', { name: 'So many' }).fill('2');
    await dialog.getByRole('spinbutton', { name: 'Trees' }).fill('60');
    await dialog.getByLabel('Patients of a tree').selectOption('balanced');
  });
  const lines = await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
  expect(lines.at(-1)).toMatchObject({
    family: 'random-forest',
    settings: { trees: 60, triesBy: 'given', tries: 2, drawnBy: 'balanced' },
  });
  await expect(curve(page)).toContainText(
    /Brier score 0\.\d+ in the patients out of bag with 60 trees \(0\.\d+ if all are given what all have\); 0\.\d+ with half as many\./,
  );
  await expect(importance(page)).toBeVisible();
  await expect(
    page.getByText(/each judged by the trees that did not learn from them/),
  ).toBeVisible();
  // The note that says how much better it knows its own patients is not for forests.
  await expect(page.getByText('Much better where it was fitted')).toHaveCount(0);
});

test('a model of two predictors is drawn as regions, with the patients counted by hand', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Regions');
  await client.changeDesign(study, {
    predictorSets: [{ name: 'weight and race', predictors: ['lwt', 'race'] }],
  });
  await client.send('POST', `/api/studies/${study}/candidates`, {
    family: 'decision-tree',
    settings: {},
    basis: { predictors: 'weight and race' },
  });
  const { id, results } = (await client.fitted(study)).at(-1)!;
  const { facets } = await client.get<CandidateDetail>(`/api/candidates/${id}`);
  const { patients, outside, of } = facetOf(facets, 'regions')!;
  const said = await client.get<Predictions>(`/api/candidates/${id}/predictions`);
  const risks = unpackNumbers(said.risks);
  const events = unpackBytes(said.events);
  const wrongAt = (cutoff: number) =>
    patients.place.filter((place) => (events[place] === 1) !== risks[place] >= cutoff).length;
  const figure = page
    .getByRole('figure')
    .filter({ has: page.getByRole('heading', { name: 'Regions' }) });

  await open(page, `candidates?candidate=${id}`);
  await expect(figure).toContainText(
    `${patients.place.length} patients of ${of}: filled if a case (the event), larger the ${wrongAt(results!.cutoff)} who are called wrongly out of fold.`,
  );
  await expect(figure).toContainText(`${outside} patient`);
  await expect(figure.locator('svg circle')).toHaveCount(patients.place.length);
  const texts = await figure.locator('svg text').allTextContents();
  expect(texts).toEqual(expect.arrayContaining(['1', '2', '3', 'Lwt', 'Race']));

  await open(page, `candidates?candidate=${id}&cutoff=0`);
  await expect(figure).toContainText('Everybody is on one side of the cutoff, 0.00.');
  await expect(figure).toContainText(`larger the ${wrongAt(0)} who`);
  await figure.getByRole('button', { name: 'Copy the numbers' }).waitFor();
  expect(await barriersOf(page, 'figure')).toEqual([]);
});

test('patients of a list who are unlike the development patients are marked, and counted in the margin', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Unlike');
  const candidate = (await client.fitted(study)).at(-1)!.id;
  const [head, ...mothers] = birthWeight.trim().split('\n');
  // Four of eight have three values each that hardly anybody has, none of them beyond what somebody had.
  const columns = head.split(',');
  const strange = mothers.slice(0, 8).map((line, i) => {
    const cells = line.split(',');
    const set = { age: '45', lwt: '250', ptl: '3', ftv: '6', ht: '1', ui: '1' };
    if (i < 4) for (const [name, cell] of Object.entries(set)) cells[columns.indexOf(name)] = cell;
    return cells.join(',');
  });
  const list = await client.bringIn(study, [head, ...strange].join('\n'), 'screening', asPublished);
  const { body } = await client.send<{ id: string }>('POST', `/api/studies/${study}/screenings`, {
    cohort: list.body.id,
    candidate,
    accept: true,
    unchecked: true,
  });
  const { unusual } = await client.get<ScreeningView>(`/api/screenings/${body.id}`);
  const { rows } = await client.get<{ rows: ScreenedRow[] }>(
    `/api/screenings/${body.id}/rows?from=0&count=8`,
  );
  const marked = rows.filter((row) => row.unusual! > unusual!.from);
  expect(marked.map(({ row }) => row).toSorted((a, b) => a - b)).toEqual([0, 1, 2, 3]);
  await open(page, `screening?list=${list.body.id}&candidate=${candidate}`);
  const table = page.getByRole('table', { name: /^Call-in list/ });
  await expect(table.getByRole('columnheader', { name: 'Unusual' })).toBeVisible();
  const lines = table.getByRole('row', { name: /More unusual, all predictors together/ });
  await expect(lines).toHaveCount(4);
  for (const { rank, unusual: score } of marked)
    await expect(lines.filter({ hasText: `≠ ${score!.toFixed(2)}` }).first()).toContainText(
      String(rank),
    );
  await expect(page.getByRole('heading', { name: '4 unusual patients' })).toBeVisible();
});

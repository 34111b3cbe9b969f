import { expect, test, type Page } from '../support/browser-test.ts';
import Papa from 'papaparse';
import { facetOf } from '@rook-scale/core/families';
import type { CandidateDetail, CandidateLine } from '../../src/contract/candidates.ts';
import { barriersOf } from '../support/barriers.ts';
import { birthWeight } from '../support/birth-weight.ts';
import { addCandidate, madeStudy } from '../support/browser-study.ts';

const strata = (page: Page) => page.getByRole('tree', { name: /^The tree/ });
const leaves = (page: Page) => page.getByRole('table', { name: 'Leaves of the tree as rules' });

async function addTree(page: Page, say: Parameters<typeof addCandidate>[2]) {
  await addCandidate(page, /^Decision tree/, say);
  await expect(strata(page)).toBeVisible();
}

test('a tree is fitted, read question by question, pruned by its ruler and fitted at another size', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Tree');
  await open(page, 'candidates');
  await addTree(page, async (dialog) => {
    await dialog.getByLabel('Size', { exact: true }).selectOption('leaves');
    await dialog.getByRole('spinbutton', { name: 'Leaves at most' }).fill('12');
    await dialog.getByLabel('Compared by').selectOption('Brier score');
    await dialog.getByRole('spinbutton', { name: 'Patients in a leaf' }).fill('4');
  });
  const rows = leaves(page).locator('tbody tr');
  const count = await rows.count();
  expect(count).toBeGreaterThan(4);
  expect(count).toBeLessThanOrEqual(12);
  // Every patient ends in one leaf, and most cases come first.
  // Another tree of this study is told from it by what was said of it.
  await expect(page.getByRole('row', { name: /^Decision tree 2/ })).toContainText(
    'leaves at most 12, Brier score of the risks, patients in a leaf 4',
  );
  const cells = await rows.evaluateAll((all) =>
    all.map((row) => [...row.querySelectorAll('td')].map((cell) => cell.textContent)),
  );
  const patients = cells.map(([own]) => Number(own));
  const { development } = (
    await client.get<{ counts: { development: { patients: number; events: number } } }>(
      `/api/studies/${study}/design`,
    )
  ).counts;
  expect(patients.reduce((a, b) => a + b)).toBe(development.patients);
  expect(cells.reduce((sum, [, own]) => sum + Number(own), 0)).toBe(development.events);
  // Each leaf is called in from the cutoff on; what its errors cost then is counted by hand.
  const { results } = (await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`)).at(
    -1,
  )!;
  const usual = development.events / development.patients;
  for (const [all, own, , , call, cost] of cells) {
    const given = (Number(own) + usual) / (Number(all) + 1);
    const isCalled = given >= results!.cutoff;
    expect(call).toBe(isCalled ? 'call in' : 'leave alone');
    // A missed case costs 4, a false alarm 1.
    expect(Number(cost)).toBe(isCalled ? Number(all) - Number(own) : 4 * Number(own));
  }
  const { patients: everybody, events: having } = development;
  await expect(
    page.getByText(`Called in they cost ${everybody - having}, left alone ${4 * having}.`),
  ).toBeVisible();
  const risks = cells.map(([, , own]) => parseFloat(own));
  expect(risks).toEqual(risks.toSorted((a, b) => b - a));

  expect(await barriersOf(page)).toEqual([]);

  // By keyboard: into the first question's answer, and out again.
  const all = strata(page).getByRole('treeitem', { name: /^All:/ });
  await all.focus();
  await page.keyboard.press('ArrowRight');
  const firstAnswer = strata(page).locator('[aria-selected="true"]');
  await expect(firstAnswer).toBeFocused();
  await expect(firstAnswer).toHaveAttribute('aria-level', '2');
  await page.keyboard.press('ArrowDown');
  await expect(strata(page).locator('[aria-selected="true"]')).toHaveAttribute('aria-level', '2');
  await page.keyboard.press('ArrowLeft');
  await expect(all).toBeFocused();

  // A rule of the table is the way in the drawing.
  await rows.first().getByRole('button').click();
  await expect(strata(page).locator('[aria-selected="true"]')).toHaveCount(1);
  await expect(strata(page).locator('[aria-selected="true"]')).not.toHaveAttribute(
    'aria-level',
    '1',
  );

  // What is beneath a question folds up into one leaf, and unfolds.
  const items = strata(page).getByRole('treeitem');
  const before = await items.count();
  const question = strata(page).locator('[aria-expanded="true"][aria-level="2"]').first();
  await question.focus();
  await question.click();
  await page.getByRole('button', { name: 'Fold up what is beneath' }).click();
  await expect(strata(page).locator('[aria-expanded="false"][aria-level="2"]')).toHaveCount(1);
  expect(await items.count()).toBeLessThan(before);
  await expect(rows).toHaveCount(((await items.count()) + 1) / 2);
  await page.getByRole('button', { name: 'Unfold all' }).click();
  await expect(items).toHaveCount(before);
  await expect(rows).toHaveCount(count);

  // One question fills the drawing, and lets go again.
  const inner = strata(page).locator('[aria-expanded="true"][aria-level="2"]').first();
  await inner.focus();
  await page.keyboard.press('Enter');
  await expect(strata(page).locator('[aria-level="1"]')).not.toHaveAccessibleName(/^All:/);
  await page.getByRole('button', { name: 'The whole tree' }).click();
  await expect(strata(page).locator('[aria-level="1"]')).toHaveAccessibleName(/^All:/);

  // Questions about one predictor.
  const sought = page.getByLabel('Questions about');
  const asked = await sought.locator('option').allTextContents();
  await sought.selectOption({ index: 1 });
  await expect(page.getByText(/^\d+ questions?, outlined$/)).toBeVisible();
  expect(asked.length).toBeGreaterThan(2);

  // The way of one patient, by hand from what the file says of her.
  const line = (await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`)).at(-1)!;
  const { facets } = await client.get<CandidateDetail>(`/api/candidates/${line.id}`);
  const tree = facetOf(facets, 'tree')!;
  const mothers = Papa.parse<Record<string, string>>(birthWeight, { header: true }).data;
  for (const row of [7, 100, 181]) {
    let node = tree.nodes[0];
    while (node.left !== undefined && node.from! > tree.chosen) {
      const cell = mothers[row - 1][node.input!];
      // Yes and no are 1 and 0 in the file.
      const isLeft = node.levels
        ? node.levels.includes(node.input === 'race' ? cell : cell === '1' ? 'yes' : 'no')
        : Number(cell) < node.below!;
      node = tree.nodes[isLeft ? node.left : node.right!];
    }
    await page.getByLabel('Way of patient').fill(String(row));
    await page.keyboard.press('Enter');
    await expect(page.getByText(`Row ${row}:`)).toBeVisible();
    await expect(strata(page).locator('[aria-selected="true"]')).toHaveAccessibleName(
      new RegExp(`% of ${node.patients}$`),
    );
  }
  await page.getByLabel('Way of patient').fill('999');
  await page.keyboard.press('Enter');
  await expect(page.getByText('No patient “999” here.')).toBeVisible();

  // Pruned by the ruler: fewer leaves, the same patients.
  const ruler = page.getByRole('slider', { name: 'Leaves' });
  await ruler.focus();
  await page.keyboard.press('Home');
  await expect(rows).toHaveCount(1);
  await expect(rows.first()).toContainText('All patients');
  await page.keyboard.press('ArrowRight');
  await expect(rows).not.toHaveCount(1);
  const smaller = await rows.count();
  await page.getByRole('button', { name: `Fit ${smaller} leaves as a candidate` }).click();
  await expect
    .poll(
      async () => (await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`)).length,
    )
    .toBe(4);
  const lines = await client.fitted(study);
  expect(lines.at(-1)).toMatchObject({
    family: 'decision-tree',
    settings: { size: 'leaves', leaves: smaller },
    state: 'fitted',
  });
  await expect(page.getByRole('heading', { name: lines.at(-1)!.name })).toBeVisible();
  await expect(rows).toHaveCount(smaller);
});

test('a tree of hundreds of leaves is drawn whole, read in parts, and its sizes compared', async ({
  page,
}) => {
  const { client, study, cohort, open } = await madeStudy('Large tree');
  await client.mend(cohort, (dictionary) => {
    for (const entry of dictionary) {
      if (entry.name === 'low') entry.role = 'set aside';
      if (entry.name === 'bwt') entry.role = 'outcome';
    }
  });
  await client.changeDesign(study, {
    outcome: 'bwt',
    kind: 'number',
    caseFrom: 2500,
    caseSide: 'up to',
  });
  await open(page, 'candidates');
  await addTree(page, async (dialog) => {
    await dialog.getByLabel('Size', { exact: true }).selectOption('all');
    await dialog.getByRole('spinbutton', { name: 'Patients in a leaf' }).fill('1');
    await dialog.getByText('More settings').click();
    await dialog.getByRole('spinbutton', { name: 'Patients to split' }).fill('2');
    await dialog.getByRole('spinbutton', { name: 'Questions in a row' }).fill('30');
  });
  const shown = leaves(page).locator('tbody tr');
  await expect(shown).toHaveCount(25);
  const more = page.getByRole('button', { name: /^Show all \d+ leaves$/ });
  const count = Number(/\d+/.exec((await more.textContent())!)![0]);
  expect(count).toBeGreaterThan(100);
  await expect(strata(page).getByRole('treeitem')).toHaveCount(2 * count - 1);
  // A part of it fills the drawing, and stands framed in the whole, which leads elsewhere.
  const overview = page.getByRole('img', { name: /^The whole tree, \d+ leaves; framed, / });
  await expect(overview).toHaveCount(0);
  const first = strata(page).getByRole('treeitem').nth(1);
  const place = await first.getAttribute('data-node');
  await first.press('Enter');
  await expect(overview).toHaveAccessibleName(/at question 2$/);
  await expect(overview).toHaveAccessibleName(new RegExp(`^The whole tree, ${count} leaves`));
  await expect(overview.locator('[data-node]')).toHaveCount(2 * count - 1);
  const parts = await strata(page).getByRole('treeitem').count();
  expect(parts).toBeLessThan(2 * count - 1);
  await overview
    .locator(`[data-node="${Number(place)}"]`)
    .first()
    .click({ position: { x: 4, y: 4 } });
  await expect(strata(page).getByRole('treeitem')).toHaveCount(parts);
  await overview.locator('[data-node="0"]').click({ position: { x: 4, y: 4 } });
  await expect(overview).toHaveCount(0);
  await expect(strata(page).getByRole('treeitem')).toHaveCount(2 * count - 1);
  await more.click();
  await expect(shown).toHaveCount(count);
  await page.getByRole('button', { name: /^best: \d+$/ }).click();
  const best = Number(
    /\d+/.exec((await page.getByRole('button', { name: /^best:/ }).textContent())!)![0],
  );
  await expect(shown).toHaveCount(best);
  expect(best).toBeLessThan(count);
  await page.getByRole('button', { name: 'back to the fitted one' }).click();
  await expect(shown).toHaveCount(count);
  // Nothing of it reaches beyond the page.
  expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(
    true,
  );
});

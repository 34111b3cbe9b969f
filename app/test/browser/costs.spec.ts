import { expect, test, type Page } from '../support/browser-test.ts';
import type { CandidateLine } from '../../src/contract/candidates.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import { lookFirst, madeStudy } from '../support/browser-study.ts';

const section = (page: Page) => page.getByRole('region', { name: 'What errors cost' });
const costIn = async (page: Page, name: RegExp) =>
  Number(
    /([\d,.]+)$/
      .exec((await section(page).getByRole('row', { name }).innerText()).trim())![1]
      .replaceAll(',', ''),
  );

test('each patient’s errors cost what a column says, from the design to the held-out check', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Own costs');
  await open(page, 'design');
  expect(await costIn(page, /nobody/)).toBeGreaterThan(0);
  const nobody = await costIn(page, /nobody/);
  await section(page).getByLabel('Each patient’s own: a missed case').selectOption('age');
  await expect(section(page)).toContainText('Age is 14 to 45, median 23');
  await expect(section(page)).toContainText('own costs add up to least');
  await expect(page.getByText('missing a case costs each patient’s own.')).toBeVisible();
  // Mothers are older than the four that a missed case cost all.
  await expect.poll(() => costIn(page, /nobody/)).toBeGreaterThan(4 * nobody);
  const reference = Math.min(await costIn(page, /nobody/), await costIn(page, /everybody/));
  expect(await costIn(page, /reference/)).toBe(reference);
  await expect
    .poll(async () => {
      const lines = await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
      return Math.round(lines[0].results!.costPerThousand);
    })
    .toBe(Math.round(reference));

  await open(page, 'held-out-check');
  await lookFirst(page);
  await expect(page.getByRole('heading', { name: /^Errors at cutoff/ })).toBeVisible();
  // No ratio of two costs says where a calibrated model should call in.
  await expect(page.getByText('A cutoff of 0.5 does not fit these costs')).toBeHidden();

  await open(page, 'design');
  await section(page).getByLabel('Each patient’s own: a missed case').selectOption('');
  await expect(section(page)).toContainText('4 false alarms are worth it');
  await expect.poll(() => costIn(page, /nobody/)).toBe(nobody);
});

test('what errors cost is said in the study’s own unit, and what no model costs', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Costs in days');
  await open(page, 'design');
  const costs = page.getByRole('region', { name: 'What errors cost' });
  await costs.getByRole('textbox', { name: 'Unit' }).fill('days');
  await costs.getByRole('textbox', { name: 'Unit' }).press('Enter');
  const { counts } = await client.get<DesignState>(`/api/studies/${study}/design`);
  const { patients, events } = counts!.development;
  const nobody = Math.round((1000 * 4 * events) / patients);
  await expect(costs.getByRole('row', { name: /^Calling nobody in/ })).toContainText(
    `${nobody.toLocaleString('en-GB')} days`,
  );
  await expect(costs.getByRole('row', { name: /^Calling everybody in/ })).toContainText(
    `${Math.round((1000 * (patients - events)) / patients)} days`,
  );
  // Costs move the cutoff alone: no fit is out of date.
  await expect(page.getByRole('button', { name: /^Fit .* again/ })).toBeHidden();
  const missed = costs.getByRole('textbox', { name: 'A missed case' });
  await missed.fill('-1');
  await missed.press('Enter');
  await expect(missed).toHaveAttribute('aria-invalid', 'true');
  await page.reload();
  await expect(missed).toHaveValue('4');
  await expect(costs.getByRole('textbox', { name: 'Unit' })).toHaveValue('days');
});

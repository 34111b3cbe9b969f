import { expect, test, type Page } from '@playwright/test';
import type { CandidateLine } from '../../src/contract/candidates.ts';
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

test('costs are named in a unit, and what they cost without a model is counted', async ({
  page,
}) => {
  const { open } = await madeStudy('Units');
  await open(page, 'design');
  const unit = section(page).getByLabel('Unit');
  await unit.fill('bed days');
  await unit.press('Enter');
  await expect(section(page)).toContainText('In bed days: only the ratio');
  // 44 of 142 mothers for development have the event (a quarter of each outcome is held out).
  const missed = section(page).getByRole('textbox', { name: 'A missed case' });
  await missed.fill('10');
  await missed.press('Enter');
  const row = section(page).getByRole('row', { name: /Calling nobody in/ });
  await expect(row).toContainText(
    `${((1000 * 10 * 44) / 142).toLocaleString('en-GB', { maximumFractionDigits: 0 })} bed days`,
  );
  await missed.fill('-1');
  await missed.press('Enter');
  await expect(section(page)).toContainText(/from|least|above/i);
  await page.reload();
  await expect(missed).toHaveValue('10');
  await expect(unit).toHaveValue('bed days');
});

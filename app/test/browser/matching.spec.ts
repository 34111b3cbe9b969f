import { readFileSync } from 'node:fs';
import { expect, test, type Locator, type Page } from '../support/browser-test.ts';
import { birthWeight } from '../support/birth-weight.ts';
import { agreeUnchecked, bringFile, madeStudy } from '../support/browser-study.ts';

const [header, ...rows] = birthWeight.trim().split('\n');
const names = header.split(',');
/** Forty mothers with an identifier whose zeros count, weights in kilograms under another name. */
const list = [
  ['patient_id', ...names.map((name) => (name === 'lwt' ? 'mothers_weight' : name))],
  ...rows
    .slice(0, 40)
    .map((row, i) => [
      String(i).padStart(5, '0'),
      ...row
        .split(',')
        .map((cell, j) => (names[j] === 'lwt' ? (Number(cell) * 0.45359237).toFixed(3) : cell)),
    ]),
].map((cells) => cells.join(','));

const table = (page: Page) => page.getByRole('table', { name: 'Call-in list, clinic' });

/** The risks of the ten patients most at risk, as shown. */
async function risksOf(list: Locator) {
  await expect(list.getByRole('row').nth(10)).toContainText(/call in|leave alone/);
  const texts = await list.getByRole('row').allInnerTexts();
  return texts.slice(1, 11).map((text) => /0\.\d+/.exec(text)?.[0] ?? text);
}

test('a column under another name and in another unit is matched by hand, scored, and kept', async ({
  page,
}) => {
  const { open, client, cohort } = await madeStudy('Matching');
  await client.mend(cohort, (dictionary) => {
    const entry = dictionary.find(({ name }) => name === 'lwt')!;
    Object.assign(entry, { label: 'Weight', unit: 'lb' });
  });
  await client.fitted((await client.get<{ studyId: string }>(`/api/cohorts/${cohort}`)).studyId);
  await open(page, 'screening');
  await bringFile(page, 'Choose a file', 'clinic.csv', list.join('\n'));
  await expect(page.getByText('1 predictor not in the file')).toBeVisible();

  await test.step('scoring without it is asked about, and can be left', async () => {
    await page.getByRole('button', { name: 'Score 40 patients' }).click();
    await agreeUnchecked(page);
    const asked = page.getByRole('dialog', { name: 'Some risks would rest on too little' });
    await expect(asked).toContainText('40 have what no or hardly any development patient had');
    await asked.getByRole('button', { name: 'Cancel' }).click();
    await expect(table(page)).toBeHidden();
  });

  await test.step('the column is matched, its unit converted', async () => {
    await page.getByRole('button', { name: /^Match (Weight|lwt|Lwt)$/ }).click();
    const dialog = page.getByRole('dialog', { name: /^What stands for/ });
    await dialog.getByLabel('Column of the list').selectOption('mothers_weight');
    await dialog.getByLabel('Unit of the list').selectOption('own');
    await dialog.getByLabel('Times').fill('0');
    await expect(dialog.getByRole('button', { name: 'Use it' })).toBeDisabled();
    await dialog.getByLabel('Times').fill('2.20462');
    await expect(dialog.getByText(/^Median of the list/)).toContainText('here 1');
    await dialog.getByRole('button', { name: 'Use it' }).click();
    await expect(dialog).toBeHidden();
    await expect(page.getByText('column mothers_weight, × 2.2046')).toBeVisible();
  });

  await test.step('it is scored; the focus is on the list, arrows go down it', async () => {
    await page.getByRole('button', { name: 'Score 40 patients' }).click();
    await agreeUnchecked(page);
    await expect(table(page)).toBeVisible();
    await expect(table(page)).toBeFocused();
    // Keys go from row to row once there are rows.
    await expect(table(page).getByRole('row').nth(2)).toContainText(/call in|leave alone/);
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('ArrowDown');
    await expect(table(page).getByRole('row').nth(2)).toBeFocused();
    await page.keyboard.press('ArrowUp');
    await expect(table(page).getByRole('row').nth(1)).toBeFocused();
    const [, , risk] = await table(page)
      .getByRole('row')
      .nth(1)
      .getByRole('cell')
      .allTextContents();
    await page.keyboard.press('Enter');
    await expect(page.getByText(/^\d{5} of clinic/)).toBeVisible();
    // The patient alone is read as the list is: the column matched, its unit converted.
    await expect(page.locator('[aria-live=polite] strong').first()).toHaveText(risk);
    await page.goBack();
  });

  await test.step('the file is asked about where the marker was moved, and says its cutoff', async () => {
    await page.getByRole('slider').focus();
    await page.keyboard.press('ArrowRight');
    await page.getByRole('button', { name: 'Download CSV' }).click();
    const which = page.getByRole('dialog', { name: 'At which cutoff?' });
    const download = page.waitForEvent('download');
    await which.getByRole('button', { name: /as shown$/ }).click();
    const lines = readFileSync(await (await download).path(), 'utf8').split('\r\n');
    expect(lines[0]).toMatch(/^patient,row in file,risk,call,/);
    expect(lines.some((line) => /^00\d{3},\d+,0\.\d+,call in/.test(line))).toBe(true);
    const head = page.waitForEvent('download');
    await page.getByRole('link', { name: 'Head file' }).click();
    const said = readFileSync(await (await head).path(), 'utf8');
    expect(said).toContain('calls of this list,cutoff set for this file');
    expect(said).toMatch(/predictor lwt,"column mothers_weight, × 2\.20462/);
  });

  await test.step('the next list of the same shape needs no word', async () => {
    await bringFile(page, 'Bring in a list', 'next.csv', [list[0], ...list.slice(20)].join('\n'));
    await expect(page.getByText('column mothers_weight, × 2.2046')).toBeVisible();
    await page.getByRole('button', { name: 'Score 21 patients' }).click();
    await agreeUnchecked(page);
    await expect(page.getByRole('table', { name: 'Call-in list, next' })).toBeVisible();
  });
});

test('a list with a suggested match is not scored without a word on it', async ({ page }) => {
  const { open, client, cohort } = await madeStudy('Unmatched');
  await client.fitted((await client.get<{ studyId: string }>(`/api/cohorts/${cohort}`)).studyId);
  await open(page, 'screening');
  const renamed = [header.replace('lwt', 'lwt_lb'), ...rows.slice(0, 30)].join('\n');
  await bringFile(page, 'Choose a file', 'clinic.csv', renamed);
  const score = page.getByRole('button', { name: 'Score 30 patients' });
  const asked = page.getByRole('dialog', { name: '1 predictor is not matched yet' });

  await test.step('what it seems to be is said; as it is, the list is asked about once more', async () => {
    await score.click();
    await expect(asked.getByRole('listitem')).toHaveText(/^lwt_lb for lwt: a name that is alike/i);
    await asked.getByRole('button', { name: 'Score as it is' }).click();
    await agreeUnchecked(page);
    const little = page.getByRole('dialog', { name: 'Some risks would rest on too little' });
    await expect(little).toContainText('30 have what no or hardly any development patient had');
    await little.getByRole('button', { name: 'Cancel' }).click();
    await expect(table(page)).toBeHidden();
  });

  await test.step('matched from there, it is scored as if it had the name of the model', async () => {
    await score.click();
    await asked.getByRole('button', { name: 'Use it' }).click();
    await expect(page.getByText('column lwt_lb')).toBeVisible();
    await expect(asked).toBeHidden();
    await score.click();
    await agreeUnchecked(page);
    await expect(table(page)).toBeVisible();
    const matched = await risksOf(table(page));
    expect(matched.filter((risk) => /^0\.\d+/.test(risk))).toHaveLength(10);
    await bringFile(page, 'Bring in a list', 'same.csv', [header, ...rows.slice(0, 30)].join('\n'));
    await score.click();
    await agreeUnchecked(page);
    const same = page.getByRole('table', { name: 'Call-in list, same' });
    await expect.poll(() => risksOf(same)).toEqual(matched);
  });
});

test('the dictionary is gone through by arrow keys, a new study begins at its title', async ({
  page,
}) => {
  const { open } = await madeStudy('Arrows');
  await open(page, 'records');
  await page.getByRole('button', { name: 'Change Age' }).focus();
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('button', { name: 'Change Lwt' })).toBeFocused();
  await page.keyboard.press('3');
  await expect(page.getByRole('heading', { name: 'Design', level: 1 })).toBeFocused();
  await page.keyboard.press('4');
  await expect(page.getByRole('heading', { name: 'Candidates', level: 1 })).toBeFocused();
});

import ExcelJS from 'exceljs';
import { parquetWriteBuffer } from 'hyparquet-writer';
import { readFile } from 'node:fs/promises';
import { expect, test } from '../support/browser-test.ts';
import type { CohortInfo } from '../../src/contract/cohorts.ts';
import { address, bringFile, madeStudy, ready, type Made } from '../support/browser-study.ts';
import { birthWeight } from '../support/birth-weight.ts';
import { Client } from '../support/client.ts';

let made: Made;
test.beforeAll(async () => {
  made = await madeStudy('Records of mothers');
});

const cohort = () => made.client.get<CohortInfo>(`/api/cohorts/${made.cohort}`);

test('a derived column: faults are shown where they are, rows while it is written, undo', async ({
  page,
}) => {
  await made.open(page, 'records');
  await page.getByRole('button', { name: 'Derive a column' }).click();
  const dialog = page.getByRole('dialog', { name: 'Derive a column' });
  await dialog.getByLabel('Name').fill('Weight in kg');
  const formula = dialog.getByLabel('Formula', { exact: true });
  await formula.fill('lwt / 2.2o46');
  await expect(dialog.getByRole('alert')).toContainText('not expected here');
  await expect(dialog.locator('mark')).toHaveText('o46');
  await expect(dialog.getByRole('button', { name: 'Add the column' })).toBeDisabled();
  await formula.fill('lwt / 2.2046');
  await expect(dialog.getByText(/A number: .* to .*, median/)).toBeVisible();
  await expect(dialog.getByRole('row', { name: /^1 182 82\.55/ })).toBeVisible();
  await dialog.getByRole('button', { name: 'Add the column' }).click();
  await expect(
    page.getByRole('row', { name: /Weight in kg = lwt \/ 2\.2046 number/ }),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Change Weight in kg' }).click();
  await page.getByLabel('Formula', { exact: true }).fill('bands(lwt, 110, 150)');
  await expect(page.getByText(/An ordered category: below 110 \d+%/)).toBeVisible();
  await page.getByRole('button', { name: 'Change the column' }).click();
  await expect(page.getByRole('row', { name: /Weight in kg .* ordered category/ })).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(
    page.getByRole('row', { name: /Weight in kg = lwt \/ 2\.2046 number/ }),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Take Weight in kg away' }).click();
  await expect(page.getByRole('row', { name: /Weight in kg/ })).toHaveCount(0);
});

test('who is in: excluded by choice and by formula, drawn as a flow, taken in again', async ({
  page,
}) => {
  await made.open(page, 'records');
  await page.getByRole('button', { name: 'Who is in' }).click();
  await expect(page.getByRole('img', { name: /All 189 rows/ })).toBeVisible();
  await page.getByRole('combobox', { name: 'Column' }).selectOption({ label: 'Age' });
  await page.getByRole('combobox', { name: 'Comparison' }).selectOption('below');
  await expect(page.getByText('Give a value to compare with.')).toBeVisible();
  await page.getByRole('textbox', { name: 'Value' }).fill('20');
  await expect(page.getByText(/Holds in 51 rows of the file \(27%\)/)).toBeVisible();
  await page.getByRole('button', { name: 'show them first' }).click();
  await expect(page.getByText('51 patients', { exact: true })).toBeVisible();
  await expect(page.getByRole('row').nth(1)).toContainText('19');
  await page.getByLabel('Patients in whom').fill('age < 0');
  await page.keyboard.press('Enter');
  await expect(page.getByText('The condition holds in nobody.')).toBeVisible();
  await page.getByLabel('Patients in whom').fill('agee < 20');
  await page.keyboard.press('Enter');
  await expect(page.getByText('There is no column agee.')).toBeVisible();
  await page.goBack();
  await page.goBack();
  await page.goBack();
  await page.getByRole('combobox', { name: 'Column' }).selectOption({ label: 'Age' });
  await page.getByRole('combobox', { name: 'Comparison' }).selectOption('below');
  await page.getByRole('textbox', { name: 'Value' }).fill('20');
  await page.getByLabel('Reason').fill('under 20 years');
  await page.getByRole('button', { name: 'Exclude them' }).click();
  await expect(
    page.getByRole('img', { name: /51 are taken out and 138 patients remain/ }),
  ).toBeVisible();
  await page.getByRole('button', { name: 'write it as a formula' }).click();
  await page.getByLabel('Condition').fill('ftv > 3 or smoke');
  await page.getByLabel('Reason').fill('smokers, or seen often');
  await page.getByRole('button', { name: 'Exclude them' }).click();
  await expect(
    page.getByRole('listitem').filter({ hasText: 'smokers, or seen often' }),
  ).toBeVisible();
  expect((await cohort()).flow.steps).toHaveLength(2);
  // At once one after the other: the second starts from the first, whatever the page still shows.
  await page.getByRole('button', { name: 'Take them in again: under 20 years' }).click();
  await page.getByRole('button', { name: 'Take every row of the file' }).click();
  await expect.poll(async () => (await cohort()).flow.steps.length).toBe(0);
  await expect(page.getByRole('img', { name: /All 189 rows/ })).toBeVisible();
});

test('one column: plausible range from the built-in table, order of levels by key, a note', async ({
  page,
}) => {
  await made.open(page, 'records');
  await page.getByRole('button', { name: 'Change Age' }).click();
  const dialog = page.getByRole('dialog', { name: 'Age' });
  await dialog.getByLabel('Unit').fill('years');
  await dialog.getByRole('button', { name: 'Take them' }).click();
  await expect(dialog.getByLabel('Plausible to')).toHaveValue('120');
  await dialog.getByLabel('Plausible to').fill('40');
  await dialog.getByLabel('Note').fill('At the last period');
  await dialog.getByRole('button', { name: 'Save' }).click();
  const note = page.getByText('Age goes beyond its plausible range');
  await expect(note).toBeVisible();
  await page.getByRole('button', { name: 'Count values beyond as not known' }).click();
  await expect(note).toHaveCount(0);
  const { dictionary, summaries } = await cohort();
  const place = dictionary.findIndex(({ name }) => name === 'age');
  expect(dictionary[place]).toMatchObject({ unit: 'years', note: 'At the last period' });
  expect(summaries[place].numbers!.greatest).toBeLessThanOrEqual(40);
  await page.getByRole('button', { name: 'Change Race' }).click();
  const first = page
    .getByRole('list', { name: 'Levels in their order' })
    .getByRole('listitem')
    .first();
  await first.focus();
  await page.keyboard.press('ArrowDown');
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  const race = (await cohort()).dictionary.find(({ name }) => name === 'race')!;
  expect(race.levels).toEqual(['2', '1', '3']);
});

test('a change that loses cells asks, and says nothing of the split; Cancel changes nothing', async ({
  page,
}) => {
  const before = await cohort();
  await made.open(page, 'records');
  await page.getByRole('button', { name: 'Mend the dictionary' }).click();
  await page.getByLabel('Kind of age').selectOption('yes/no');
  await page.getByRole('button', { name: 'Read it again' }).click();
  const asked = page.getByRole('dialog', { name: 'Cells would become missing' });
  await expect(asked.locator('p')).toHaveText([/^Read this way, .* known cells of Age/]);
  await asked.getByRole('button', { name: 'Cancel' }).click();
  await expect(asked).toHaveCount(0);
  expect(await cohort()).toEqual(before);
});

test('the dictionary goes out as CSV and into the next extract in one step', async ({ page }) => {
  await made.open(page, 'records');
  const saved = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save the dictionary as CSV' }).click();
  const path = await (await saved).path();
  const text = (await readFile(path, 'utf8')).replace('smoke,Smoke', 'smoke,Smoked while pregnant');
  const study = await made.client.newStudy('Next extract');
  const csv = birthWeight.replace('bwt', 'weight');
  await made.client.bringIn(study, csv, 'development');
  await page.goto(`${address()}/studies/${study}/records`);
  await ready(page);
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Apply a dictionary from CSV' }).click();
  await (
    await chooser
  ).setFiles({ name: 'dictionary.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
  const dialog = page.getByRole('dialog', { name: 'Apply dictionary.csv' });
  await expect(dialog.getByText('In the file only (1)')).toBeVisible();
  await expect(dialog.getByText('In the cohort only, as before (1)')).toBeVisible();
  await dialog.getByRole('button', { name: 'Apply it' }).click();
  await expect(page.getByRole('row', { name: /Smoked while pregnant/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /^Low .*outcome/ })).toBeVisible();
});

test('the patients go out as a file, one side of the split at a time', async ({ page }) => {
  await made.open(page, 'records');
  await page.getByRole('button', { name: 'Save the patients as a file' }).click();
  await page.getByRole('combobox', { name: 'As' }).selectOption('parquet');
  await page.getByRole('combobox', { name: 'Who' }).selectOption('held out');
  const saved = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Save the file' }).click();
  expect((await saved).suggestedFilename()).toBe('Patients, held out.parquet');
});

const header = birthWeight.trim().split('\n')[0].split(',');
const rows = birthWeight
  .trim()
  .split('\n')
  .slice(1)
  .map((line) => line.split(',').map(Number));
const objects = rows.map((row) => Object.fromEntries(row.map((cell, j) => [header[j], cell])));
const formats: Record<string, () => Promise<Buffer>> = {
  'mothers.xlsx': async () => {
    const book = new ExcelJS.Workbook();
    book.addWorksheet('About').addRow(['Mothers']);
    const sheet = book.addWorksheet('Data');
    sheet.addRow(header);
    sheet.addRows(rows);
    return Buffer.from(await book.xlsx.writeBuffer());
  },
  'mothers.parquet': () =>
    Promise.resolve(
      Buffer.from(
        parquetWriteBuffer({
          columnData: header.map((name, j) => ({ name, data: rows.map((row) => row[j]) })),
        }),
      ),
    ),
  'mothers.json': () => Promise.resolve(Buffer.from(JSON.stringify(objects))),
  'mothers.ndjson': () =>
    Promise.resolve(Buffer.from(objects.map((one) => JSON.stringify(one)).join('\n'))),
  'mothers.tsv': () => Promise.resolve(Buffer.from(birthWeight.replaceAll(',', '\t'))),
};

for (const [name, content] of Object.entries(formats))
  test(`${name} is brought in on the page`, async ({ page }) => {
    const study = await new Client(address()).newStudy(name);
    await page.goto(`${address()}/studies/${study}/records`);
    await ready(page);
    await bringFile(page, 'Choose a file', name, await content());
    await expect(page.getByRole('button', { name: 'Bring in 189 patients' })).toBeVisible();
    if (name.endsWith('xlsx')) {
      await expect(page.getByRole('combobox', { name: 'sheet' })).toHaveValue('Data');
      await page.getByRole('combobox', { name: 'names in row' }).selectOption('2');
      await expect(page.getByRole('button', { name: 'Bring in 188 patients' })).toBeVisible();
      await page.getByRole('combobox', { name: 'names in row' }).selectOption('1');
    }
    await page.getByRole('button', { name: 'Bring in 189 patients' }).click();
    await expect(page.getByRole('row', { name: /^Lwt .*80 to 250/ })).toBeVisible();
  });

test('another file is put beside the first before anything is stored', async ({ page }) => {
  const study = await made.client.newStudy('Two files');
  await page.goto(`${address()}/studies/${study}/records`);
  await ready(page);
  await bringFile(page, 'Choose a file', 'a.csv', 'id,age\nA,40\nB,50\nC,61\n');
  await page.getByRole('button', { name: 'Add another file' }).click();
  await bringFile(page, 'Choose the file', 'labs.csv', 'id,crp\nA,4\nB,10\nB,20\n');
  await page.getByLabel(/Its columns stand beside/).check();
  await page.getByRole('button', { name: 'Put together' }).click();
  await expect(
    page.getByText(/1 patient stands more than once in labs\.csv, such as B/),
  ).toBeVisible();
  await page
    .getByRole('combobox', { name: 'Of a patient with several rows there take' })
    .selectOption('mean');
  await page.getByRole('button', { name: 'Put together' }).click();
  await expect(page.getByText('2 of 3 rows of a.csv have a match in labs.csv.')).toBeVisible();
  await page.getByRole('button', { name: 'Bring in 3 patients' }).click();
  await expect(page.getByRole('row', { name: /^Crp .*4 to 15/ })).toBeVisible();
});

import { expect, test, type Page } from '../support/browser-test.ts';
import { developmentCohort, toCsv } from '@rook-scale/demo';
import type { DesignState } from '../../src/contract/designs.ts';
import type { Look } from '../../src/contract/looks.ts';
import { birthWeight } from '../support/birth-weight.ts';
import {
  agreeUnchecked,
  bringFile,
  lookFirst,
  madeStudy,
  ready,
} from '../support/browser-study.ts';
import { Client } from '../support/client.ts';

const note = (page: Page, title: string | RegExp) =>
  page.getByRole('complementary').getByRole('listitem').filter({ hasText: title });

test('the design says what is amiss with it, and each mend is one click', async ({ page }) => {
  const { open, client, study } = await madeStudy('Design notes');
  const choices = async () =>
    (await client.get<DesignState>(`/api/studies/${study}/design`)).choices;
  await client.changeDesign(study, { event: 'no', missedCost: 1 });
  await open(page, 'design');

  await test.step('the event the wrong way round', async () => {
    await expect(note(page, 'Is the event the right way round?')).toContainText(
      'The event is “no”, which 130 of 189 patients have.',
    );
    await page.getByRole('button', { name: 'Make “yes” the event' }).click();
    await expect(note(page, 'Is the event the right way round?')).toBeHidden();
    await expect.poll(async () => (await choices()).event).toBe('yes');
  });

  await test.step('equal costs', async () => {
    await page.getByRole('button', { name: 'Missed case costs 5 ×' }).click();
    await expect(page.getByRole('link', { name: '5 ×' })).toBeVisible();
    await expect(note(page, 'Both errors cost the same')).toBeHidden();
  });

  await test.step('too few held out', async () => {
    await expect(note(page, 'Few held-out events')).toContainText(
      /^Few held-out events15 held-out/,
    );
    await expect(note(page, 'Few cases per parameter')).toContainText(/\d\.\d each/);
    await note(page, 'Few held-out events').getByRole('link', { name: 'Set the share' }).click();
    await page.getByRole('textbox', { name: 'Share' }).fill('99');
    await page.keyboard.press('Enter');
    await expect(page.getByText('A number from 1 to 60, please.')).toBeVisible();
    await page.getByRole('textbox', { name: 'Share' }).fill('40');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('row', { name: 'Held out 76 24 31.6%' })).toBeVisible();
  });

  await test.step('no predictor, and an outcome of one level', async () => {
    await page.getByRole('button', { name: 'none', exact: true }).click();
    await expect(note(page, 'Still to choose')).toContainText('Choose at least one predictor.');
    await page.getByRole('button', { name: 'all', exact: true }).click();
    await expect(note(page, 'Still to choose')).toBeHidden();
    await page.getByRole('combobox', { name: 'Predict' }).selectOption('smoke');
    await expect(page.getByText('Which level is the event, the one to find?')).toBeVisible();
    await page.keyboard.press('Control+z');
    await expect(page.getByRole('combobox', { name: 'Predict' })).toHaveValue('low');
  });
});

test('a candidate with a cutoff of 0.5 is told what its costs ask for', async ({ page }) => {
  const { open } = await madeStudy('Half');
  await open(page, 'candidates?cutoff=0.5');
  await page.getByRole('button', { name: 'Keep 0.50 as the cutoff' }).click();
  const half = note(page, 'A cutoff of 0.5 does not fit these costs');
  await expect(half).toContainText('should call in from 0.20');
  await half.getByRole('button', { name: 'Put it where it costs least' }).click();
  await expect(half).toBeHidden();
  await expect(page.getByRole('button', { name: 'costs least' })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
});

test('a candidate out of date keeps its figures, and one button fits it again', async ({
  page,
}) => {
  const { open, client, study } = await madeStudy('Out of date');
  await open(page, 'candidates');
  const row = page.getByRole('row', { name: /^Logistic regression 1/ });
  const before = await row.getByRole('cell').allTextContents();
  await client.changeDesign(study, { seed: 5 });
  await expect(row).toContainText('out of date');
  await expect(
    page.getByRole('link', { name: /Candidates out of date: 1 out of date/ }),
  ).toBeVisible();
  expect(await row.getByRole('cell').nth(3).textContent()).toBe(before[3]);
  await page.getByRole('button', { name: 'Fit 1 candidate again' }).click();
  await expect(row).not.toContainText('out of date');
  await expect(page.getByRole('link', { name: /Candidates 2 fitted/ })).toBeVisible();
  expect(await row.getByRole('cell').allTextContents()).not.toEqual(before);
});

test('a first look is asked for, counted once a fit and day, and many are remarked on', async ({
  page,
}) => {
  const { open, client, study } = await madeStudy('Looks');
  const looks = async () => (await client.get<Look[]>(`/api/studies/${study}/looks`)).length;
  await open(page, 'held-out-check');
  await expect(page.getByText('Nobody has looked at them so far.')).toBeVisible();
  expect(await looks()).toBe(0);
  await lookFirst(page);
  await expect(page.getByText('First look at these patients')).toBeVisible();
  await page.getByRole('button', { name: 'Reference' }).click();
  await expect(page.getByText('They were looked at once so far.')).toBeVisible();
  await lookFirst(page);
  await expect(page.getByText('2 looks at these patients')).toBeVisible();
  await expect(page.getByText('One risk for all patients: there is no cutoff')).toBeVisible();
  // Back at the first, and read anew, it is the same look.
  await page.goBack();
  await expect(page.getByText('2 looks at these patients')).toBeVisible();
  await page.reload();
  await expect(page.getByText('2 looks at these patients')).toBeVisible();
  await expect(page.getByText(/^Opened \d times in all/)).toBeVisible();
  expect(await looks()).toBe(2);
  const [, line] = await client.fitted(study);
  for (let i = 0; i < 3; i++) {
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [line.id] });
    await client.fitted(study);
    await client.send('POST', `/api/studies/${study}/looks`, { candidate: line.id });
  }
  await open(page, 'held-out-check');
  await expect(note(page, 'Many looks: 5')).toContainText('had a hand in choosing the model');
  await page.getByText('Show all 5 looks').click();
  await expect(page.getByText(/, Reference$/).first()).toBeVisible();
  await page.getByRole('link', { name: 'Compare out of fold' }).click();
  await expect(page).toHaveURL(/\/candidates$/);
});

test('a refit while its held-out figures are open is said, and looked at on demand', async ({
  page,
}) => {
  const { open, client, study } = await madeStudy('Refit');
  await open(page, 'held-out-check');
  await lookFirst(page);
  await expect(page.getByText('First look at these patients')).toBeVisible();
  await client.changeDesign(study, { heldOutShare: 0.3 });
  const [, line] = await client.fitted(study);
  await expect(page.getByText(/was fitted on an earlier design/)).toBeVisible();
  await expect(
    page.getByRole('button', { name: 'Logistic regression 1 (out of date)' }),
  ).toBeVisible();
  await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [line.id] });
  await expect(
    page.getByText('Logistic regression 1 was fitted again since this look.'),
  ).toBeVisible();
  await expect(page.getByText('47 patients the candidates have never seen')).toBeVisible();
  await page.getByRole('button', { name: 'Look at the new fit' }).click();
  await expect(page.getByText('57 patients the candidates have never seen')).toBeVisible();
  // The split is another one: the first look was at other patients.
  await expect(page.getByText('First look at these patients')).toBeVisible();
  await expect(page.getByText('1 look at an earlier split')).toBeVisible();
});

test('a chart gives its numbers and its picture', async ({ page }) => {
  const { open } = await madeStudy('Charts');
  await open(page, 'held-out-check');
  await lookFirst(page);
  const roc = page.getByRole('figure').filter({ hasText: 'ROC AUC' });
  await roc.getByRole('button', { name: 'Copy the numbers' }).click();
  await expect(roc.getByRole('button', { name: 'Copied' })).toBeVisible();
  const text = await page.evaluate(() => navigator.clipboard.readText());
  const rows = text.split('\n').map((row) => row.split('\t'));
  expect(rows.length).toBeGreaterThan(10);
  expect(new Set(rows.map((row) => row.length)).size).toBe(1);
  const download = page.waitForEvent('download');
  await roc.getByRole('button', { name: 'Save as PNG' }).click();
  expect((await download).suggestedFilename()).toMatch(/\.png$/);
});

test('a long fit shows its progress in table and queue, and is cancelled from either', async ({
  page,
}) => {
  // Made first: a connection that idles while this goes on may be closed under the next request.
  const patients = toCsv(developmentCohort(40_000));
  const client = new Client(process.env.PRODUCT_ADDRESS!);
  const study = await client.newStudy('Long fit');
  await client.bringIn(study, patients, 'development', (dictionary) => {
    for (const entry of dictionary) {
      if (entry.name === 'injury_7_days') entry.role = 'outcome';
      if (/^(injury_grade|highest_creatinine|renal_ward_transfer)$/.test(entry.name))
        entry.role = 'set aside';
    }
  });
  await client.changeDesign(study, { event: 'yes' });
  await client.fitted(study);
  await page.goto(`${process.env.PRODUCT_ADDRESS}/studies/${study}/candidates`);
  await ready(page);
  const add = async () => {
    await page.getByRole('button', { name: 'Add candidate' }).click();
    await page.getByRole('button', { name: 'Fit it' }).click();
  };
  await add();
  await add();
  await add();
  const row = (number: number) =>
    page.getByRole('row', { name: new RegExp(`^Logistic regression ${number}`) });
  await expect(row(1).getByRole('progressbar')).toBeVisible();
  await expect(row(1)).toContainText(/[1-5] of 6 fits done/);
  await expect(row(3)).toContainText('waiting for a worker');
  await page.getByRole('button', { name: /^Queue, \d at work/ }).click();
  const queue = page.getByRole('dialog', { name: 'Queue' });
  await expect(
    queue.getByRole('row', { name: /^Logistic regression 3 Long fit waiting/ }),
  ).toBeVisible();
  await queue.getByRole('button', { name: 'Cancel Logistic regression 3, Long fit' }).click();
  await expect(
    queue.getByRole('row', { name: /^Logistic regression 3 Long fit cancelled/ }),
  ).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(row(3)).toContainText('The fit was cancelled.');
  await row(2).getByRole('button', { name: 'Cancel' }).click();
  await expect(row(2)).toContainText('The fit was cancelled.');
  await expect(row(1)).toContainText(/0\.\d\d/);
  await row(2).getByRole('button', { name: 'Fit Logistic regression 2 again' }).click();
  await expect(row(2)).toContainText(/0\.\d\d/);
});

test('a dictionary mended in two tabs: the later one hears of it and chooses', async ({ page }) => {
  const { open, client, cohort } = await madeStudy('Two reviews');
  await open(page, 'records');
  await page.getByRole('button', { name: 'Mend the dictionary' }).click();
  await page.getByLabel('Unit of lwt').fill('lb');
  await client.mend(cohort, (dictionary) => {
    dictionary.find((entry) => entry.name === 'lwt')!.unit = 'kg';
  });
  await page.getByRole('button', { name: 'Read it again' }).click();
  await expect(page.getByRole('alert')).toContainText('Another tab has meanwhile changed');
  await expect(page.getByLabel('Unit of lwt')).toHaveValue('lb');
  await page.getByRole('button', { name: 'Take the other' }).click();
  await expect(page.getByLabel('Unit of lwt')).toHaveValue('kg');
  await page.getByLabel('Unit of lwt').fill('lb');
  await page.getByRole('button', { name: 'Read it again' }).click();
  await expect(page.getByRole('row', { name: /^Lwt, lb/ })).toBeVisible();
});

test('a screening list: tabs in the address, scored again after a refit, columns compared', async ({
  page,
}) => {
  const { open, client, study } = await madeStudy('List');
  await open(page, 'screening');
  const [header, ...rows] = birthWeight.trim().split('\n');
  const older = rows.map((row) =>
    row.replace(/^(\d),(\d+)/, (_, low, age) => `${low},${Number(age) + 9}`),
  );
  await bringFile(page, 'Choose a file', 'older.csv', [header, ...older].join('\n'));
  await expect(note(page, 'Unlike the development patients')).toContainText(
    /Age: 2\d(\.\d)? → 3\d/,
  );
  // The oldest are far older than any mother of the development.
  const score = async () => {
    await page.getByRole('button', { name: 'Score 189 patients' }).click();
    await agreeUnchecked(page);
    const asked = page.getByRole('dialog', { name: 'Some risks would rest on too little' });
    await expect(asked).toContainText(/Age far beyond 14 to 4\d/);
    await asked.getByRole('button', { name: 'Score all the same' }).click();
  };
  await score();
  await expect(page.getByText(/of 189 patients called in at/)).toBeVisible();
  await note(page, 'Unlike').getByRole('button', { name: 'Compare the columns' }).click();
  await expect(page).toHaveURL(/view=columns/);
  await expect(page.getByRole('row', { name: /^Age/ })).toBeVisible();
  await page.goBack();
  await expect(page.getByRole('table', { name: 'Call-in list, older' })).toBeVisible();
  const [, line] = await client.fitted(study);
  await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [line.id] });
  await page.getByRole('button', { name: 'Score the list again' }).click();
  await score();
  await expect(page.getByRole('table', { name: 'Call-in list, older' })).toBeVisible();
  await expect(page.getByText(/was fitted again after this list was scored/)).toBeHidden();
});

import { expect, test } from '../support/browser-test.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import { birthWeight } from '../support/birth-weight.ts';
import { madeStudy } from '../support/browser-study.ts';

test('the preparation is a list of steps, and says what each has learned of whom', async ({
  page,
}) => {
  const { client, study, cohort, open } = await madeStudy('Prepared');
  await open(page, 'design');
  const part = page.getByRole('region', { name: 'Preparation', exact: true });
  const steps = part.getByRole('list', { name: 'Steps in their order' });
  await expect(steps.getByRole('listitem')).toHaveText([
    /^Mark gaps/,
    /^Fill gaps/,
    /^Pool levels/,
    /^Indicators/,
    /^Standardise/,
  ]);
  const row = (name: string) => part.getByRole('row', { name: new RegExp(`^${name} `) }).last();
  await expect(row('Race')).toContainText('2, 3 against 1');
  await expect(
    page.getByText(/8 predictors become \d+ model inputs, learned from 142/),
  ).toBeVisible();
  // Weights of the development patients by hand, from the file and what was sent out of the split.
  const sent = await fetch(
    `${process.env.PRODUCT_ADDRESS}/api/cohorts/${cohort}/file?format=csv&side=development`,
  );
  const [header, ...lines] = (await sent.text())
    .trim()
    .split(/\r?\n/)
    .map((line) => line.split(','));
  const weights = lines.map((line) => Number(line[header.indexOf('lwt')]));
  const mean = weights.reduce((sum, one) => sum + one, 0) / weights.length;
  const sd = Math.sqrt(weights.reduce((sum, one) => sum + (one - mean) ** 2, 0) / weights.length);
  await expect(row('Lwt')).toContainText(`SD ${Number(sd.toPrecision(3))}`);
  const shown = /mean ([\d.]+)/.exec((await row('Lwt').textContent())!)![1];
  expect(Math.abs(Number(shown) - mean)).toBeLessThan(0.05);
  // Of other patients other figures.
  await client.changeDesign(study, { seed: 2 });
  await expect(row('Lwt')).not.toContainText(`mean ${shown}`);
});

test('a design whose patients another tab deletes says so, and they can be brought back', async ({
  page,
}) => {
  const { client, cohort, open } = await madeStudy('Deleted elsewhere');
  await open(page, 'design');
  await expect(page.getByRole('heading', { name: 'Preparation' })).toBeVisible();
  await client.send('DELETE', `/api/cohorts/${cohort}`);
  await expect(page.getByText('The design is made on a cohort of patients.')).toBeVisible();
  await client.send('POST', `/api/cohorts/${cohort}/restore`);
  await expect(page.getByRole('heading', { name: 'Preparation' })).toBeVisible();
});

test('shares and seeds that cannot be are refused where they are typed, and change nothing', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Shares');
  await open(page, 'design');
  const share = page.getByRole('textbox', { name: 'Share' });
  const held = page.getByRole('row', { name: /^Held out/ });
  await expect(held).toContainText('47');
  for (const wrong of ['0', '75', '-5', 'half']) {
    await share.fill(wrong);
    await share.press('Enter');
    await expect(share).toHaveAttribute('aria-invalid', 'true');
  }
  const { choices } = await client.get<DesignState>(`/api/studies/${study}/design`);
  expect(choices.heldOutShare).toBe(0.25);
  await share.fill('40');
  await share.press('Enter');
  await expect(held).toContainText('76');
  await expect(share).not.toHaveAttribute('aria-invalid', 'true');
  const patients = birthWeight.trim().split('\n').length - 1;
  await expect(page.getByRole('row', { name: /^Development/ })).toContainText(
    String(patients - 76),
  );
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: /^Undo/ }).first().click();
  await expect(held).toContainText('47');
});

test('the figures of each fold are opened, and folds are dealt several times', async ({ page }) => {
  const { client, study, open } = await madeStudy('Folds opened');
  await open(page, 'design');
  const part = page.getByRole('region', { name: 'Preparation', exact: true });
  await expect(part).toContainText('learned from 142');
  const row = part.getByRole('row', { name: /^Lwt / }).last();
  const whole = await row.innerText();
  await part.getByLabel('Figures learned from').selectOption('all but fold 2');
  await expect(part).toContainText('learned from 113');
  expect(await row.innerText()).not.toBe(whole);
  // What is counted of a patient is counted of those outside the fold.
  await expect(part.getByRole('heading', { name: /^Patient row/ })).toBeVisible();

  const folds = page.getByRole('region', { name: 'Folds', exact: true });
  const times = folds.getByRole('textbox', { name: 'Times' });
  await times.fill('21');
  await times.press('Enter');
  await expect(times).toHaveAttribute('aria-invalid', 'true');
  await times.fill('3');
  await times.press('Enter');
  await expect(folds).toContainText('fitted once for each fold of each time, 15 times in all');
  await expect(folds.getByRole('row')).toHaveCount(6);
  await page.getByRole('button', { name: 'Fit 1 candidate again' }).click();
  await expect
    .poll(async () => (await client.fitted(study)).at(-1))
    .toMatchObject({ partsTotal: 16, outOfDate: false });
  await open(page, 'candidates');
  await expect(page.getByText('3 times 5-fold cross-validated')).toBeVisible();
  await expect(page.getByText('figures are means over the times, counts too')).toBeVisible();
  // The scale counts each patient once.
  await expect(page.getByText(/^44 with /)).toBeVisible();
});

test('a predictor that must be known leaves patients who lack it without a risk', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Needed');
  await open(page, 'design');
  await page.getByRole('button', { name: 'Lwt must be known' }).click();
  await expect
    .poll(
      async () => (await client.get<DesignState>(`/api/studies/${study}/design`)).choices.needed,
    )
    .toEqual(['lwt']);
  await open(page, 'screening?view=patient');
  const lwt = page.getByRole('textbox', { name: 'Lwt' });
  await lwt.fill('');
  await expect(page.getByText('Not scored: Lwt must be known.')).toBeVisible();
  await lwt.fill('120');
  await expect(page.getByText('Not scored')).toHaveCount(0);
});

test('how many patients are enough follows from inputs, cases and what is expected', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Enough');
  await open(page, 'design');
  const enough = page.getByRole('region', { name: 'How many patients are enough' });
  const needed = async (name: RegExp) =>
    Number(
      (await enough.getByRole('row', { name }).getByRole('cell').textContent())!.replace(',', ''),
    );
  const { counts } = await client.get<DesignState>(`/api/studies/${study}/design`);
  const { patients, events } = counts!.development;
  const share = events / patients;
  await expect(enough).toContainText(`${patients} development patients, ${events} of them events`);
  const inputs = Number(/each of (\d+) model inputs/.exec((await enough.textContent())!)![1]);
  // Riley et al. (2020), by hand: the margin of the overall risk, and the shrinkage for an R².
  expect(await needed(/overall risk/)).toBe(Math.ceil((1.96 / 0.05) ** 2 * share * (1 - share)));
  await enough.getByLabel('Expected of the model').selectOption('share');
  const most = 1 - (share ** share * (1 - share) ** (1 - share)) ** 2;
  const byShrinkage = (r2: number) => Math.ceil(inputs / (-0.1 * Math.log(1 - r2 / 0.9)));
  await expect.poll(() => needed(/shrinking/)).toBe(byShrinkage(0.15 * most));
  await enough.getByRole('textbox', { name: 'Nagelkerke’s R²' }).fill('0.4');
  await page.keyboard.press('Enter');
  await expect.poll(() => needed(/shrinking/)).toBe(byShrinkage(0.4 * most));
  await expect(enough.getByText(/patients would be needed/)).toBeVisible();
  // What is expected stands in the address: a link leads to the same figures.
  await page.reload();
  await expect.poll(() => needed(/shrinking/)).toBe(byShrinkage(0.4 * most));
  const heldOut = page.getByRole('region', { name: 'Held-out patients' });
  await expect(heldOut).toContainText('With 15 held-out cases, a sensitivity of 80%');
  // Wilson's interval by hand: 38 points, in the section and in the margin alike.
  await expect(heldOut).toContainText('95% interval 38 points wide');
  await expect(page.getByText('an interval about 38 points wide at 80%')).toBeVisible();
  await heldOut.getByRole('textbox', { name: 'Width wanted' }).fill('20');
  await page.keyboard.press('Enter');
  await expect(heldOut).toContainText('points: 60 held-out cases');
});

import { expect, test } from '../support/browser-test.ts';
import { birthWeight } from '../support/birth-weight.ts';
import { agreeUnchecked, bringFile, madeStudy } from '../support/browser-study.ts';

test('one patient by hand: the risk at once, and what would change it', async ({ page }) => {
  const { open } = await madeStudy('By hand');
  await open(page, 'screening');
  await page.getByRole('button', { name: 'enter one patient' }).click();
  await expect(page).toHaveURL(/view=patient/);
  const risk = async () =>
    Number(await page.locator('[aria-live=polite] strong').first().textContent());
  await expect(page.getByRole('textbox', { name: 'Age' })).toHaveValue(/^\d+$/);
  const usual = await risk();
  await page.getByRole('textbox', { name: 'Lwt' }).fill('80');
  await expect.poll(risk).toBeGreaterThan(usual);
  const light = await risk();
  await expect(page.getByText(`this patient ${light.toFixed(3)}`)).toBeVisible();
  // The lowest risk by weight is that of the heaviest: taking it sets the field.
  const line = page.getByRole('row', { name: /^Lwt/ });
  await line.getByRole('button', { name: /with Lwt 250\. Set it/ }).click();
  await expect(page.getByRole('textbox', { name: 'Lwt' })).toHaveValue('250');
  await expect.poll(risk).toBeLessThan(usual);
  await page.getByRole('textbox', { name: 'Lwt' }).fill('300');
  await expect(page.getByText('Beyond what the model has seen')).toBeVisible();
  await page.getByRole('textbox', { name: 'Lwt' }).fill('heavy');
  await expect(page.getByText('not a number')).toBeVisible();
  await page.getByRole('textbox', { name: 'Lwt' }).fill('');
  await expect(page.getByText('1 value not known')).toBeVisible();
  await page.getByRole('combobox', { name: 'Smoke' }).selectOption('');
  await expect(page.getByText('2 values not known')).toBeVisible();
  await page.getByRole('button', { name: 'usual patient' }).click();
  await expect.poll(risk).toBe(usual);
});

test('one patient of a list has the risk of the list, and the back button leads back', async ({
  page,
}) => {
  const { open } = await madeStudy('From a list');
  await open(page, 'screening');
  const [header, ...rows] = birthWeight.trim().split('\n');
  const list = [`id,${header}`, ...rows.slice(0, 40).map((row, i) => `m${i},${row}`)].join('\n');
  await bringFile(page, 'Choose a file', 'clinic.csv', list);
  await page.getByRole('button', { name: 'Score 40 patients' }).click();
  await agreeUnchecked(page);
  const row = page
    .getByRole('table', { name: /Call-in list/ })
    .getByRole('row')
    .nth(3);
  await expect(row).toContainText(/call in|leave alone/);
  const [, , risk, , id] = await row.getByRole('cell').allTextContents();
  await row.focus();
  await page.keyboard.press('Enter');
  await expect(page.getByText(`${id} of clinic`)).toBeVisible();
  await expect(page.locator('[aria-live=polite] strong').first()).toHaveText(risk);
  await page.goBack();
  await expect(row).toContainText(id);
  await page.getByRole('button', { name: 'Delete clinic' }).click();
  await page.getByRole('button', { name: 'Delete it' }).click();
  await expect(page.getByText('Bring in a list of patients to screen')).toBeVisible();
  await page.getByRole('button', { name: 'Bring it back' }).click();
  await expect(page.getByText(/of 40 patients called in at/)).toBeVisible();
});

test('a list with something amiss is shown before it is stored', async ({ page }) => {
  const { open } = await madeStudy('Amiss');
  await open(page, 'screening');
  const [header, ...rows] = birthWeight.trim().split('\n');
  const list = [header, ...rows.slice(0, 20), 'Total,400,2600,,,,,,,'].join('\n');
  await bringFile(page, 'Choose a file', 'clinic.csv', list);
  await expect(page.getByText('as understood, nothing stored yet')).toBeVisible();
  await page.getByRole('button', { name: 'Leave the last row out' }).click();
  await page.getByRole('button', { name: 'Bring in 20 patients' }).click();
  await expect(page.getByRole('button', { name: 'Score 20 patients' })).toBeVisible();
});

test('a model of derived columns asks for what they are worked out from', async ({ page }) => {
  const { client, study, cohort, open } = await madeStudy('Derived');
  await client.mend(cohort, (dictionary) => {
    dictionary.push({
      name: 'light smoker',
      label: '',
      unit: '',
      kind: 'yes/no',
      role: 'predictor',
      missingCodes: [],
      formula: 'lwt < 120 and smoke',
    });
  });
  await client.changeDesign(study, { predictors: ['age', 'light smoker'] });
  const body = { family: 'logistic', settings: {} };
  await client.send('POST', `/api/studies/${study}/candidates`, body);
  await client.fitted(study);
  await open(page, 'screening?view=patient');
  const risk = async () =>
    Number(await page.locator('[aria-live=polite] strong').first().textContent());
  const weight = page.getByRole('textbox', { name: 'Lwt' });
  await expect(weight).toBeVisible();
  await expect(page.getByLabel('light smoker')).toHaveCount(0);
  await page.getByRole('combobox', { name: 'Smoke' }).selectOption('yes');
  await weight.fill('150');
  await expect.poll(risk).toBeGreaterThan(0);
  const heavy = await risk();
  await weight.fill('119');
  await expect.poll(risk).not.toBe(heavy);
  const light = await risk();
  // Only the side of the line matters, not how far beyond it.
  await weight.fill('90');
  await page.getByRole('textbox', { name: 'Age' }).press('Tab');
  await expect.poll(risk).toBe(light);
  await page.getByRole('combobox', { name: 'Smoke' }).selectOption('no');
  await expect.poll(risk).toBe(heavy);
});

test('what was typed of a patient stays when the study changes or is fitted again', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Typed and kept');
  await open(page, 'screening?view=patient');
  const weight = page.getByRole('textbox', { name: 'Lwt' });
  await weight.fill('150');
  await page.getByRole('combobox', { name: 'Smoke' }).selectOption('yes');
  await client.send('PATCH', `/api/studies/${study}`, { name: 'Kept under another title' });
  await expect(page.getByRole('button', { name: /Kept under another title/ })).toBeVisible();
  await expect(weight).toHaveValue('150');
  await expect(page.getByRole('combobox', { name: 'Smoke' })).toHaveValue('yes');
  const risk = page.locator('[aria-live=polite] strong').first();
  const before = await risk.textContent();
  await client.changeDesign(study, { heldOutShare: 0.4 });
  const lines = await client.get<{ id: string }[]>(`/api/studies/${study}/candidates`);
  const candidates = lines.map(({ id }) => id);
  await client.send('PUT', `/api/studies/${study}/candidates`, { candidates });
  await expect(risk).not.toHaveText(before!);
  await expect(weight).toHaveValue('150');
  await expect(page.getByRole('combobox', { name: 'Smoke' })).toHaveValue('yes');
});

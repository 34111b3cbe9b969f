import { expect, test, type Page } from '../support/browser-test.ts';
import type { CandidateLine, Predictions } from '../../src/contract/candidates.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import { birthWeight } from '../support/birth-weight.ts';
import { madeStudy, type Made } from '../support/browser-study.ts';

const row = (page: Page, name: RegExp) => page.getByRole('row', { name });
const newest = async ({ client, study }: Made): Promise<CandidateLine> =>
  (await client.fitted(study)).at(-1)!;

/** Risks and outcomes of the development patients, as they are sent. */
async function outOfFold({ client }: Made, candidate: string) {
  const sent = await client.get<Predictions>(`/api/candidates/${candidate}/predictions`);
  const bytes = Buffer.from(sent.risks, 'base64');
  return {
    risks: Array.from(new Float64Array(bytes.buffer, bytes.byteOffset, bytes.length / 8)),
    events: Array.from(Buffer.from(sent.events, 'base64')),
  };
}

test('the rules put the cutoff where they say, and a table by hand agrees', async ({ page }) => {
  const made = await madeStudy('Rules of the cutoff');
  await made.open(page, 'candidates');
  const { id } = await newest(made);
  const { risks, events } = await outOfFold(made, id);
  const cases = events.reduce((sum, one) => sum + one, 0);
  const found = (cutoff: number) => risks.filter((risk, i) => events[i] && risk >= cutoff).length;
  const called = (cutoff: number) => risks.filter((risk) => risk >= cutoff).length;
  const rules = page.getByRole('group', { name: 'Put the cutoff where it' });
  const cutoff = async () => (await newest(made)).results!.cutoff;

  await rules.getByLabel('Per cent of the cases to find').fill('90');
  await rules.getByRole('button', { name: 'finds at least' }).click();
  await expect(rules.getByRole('button', { name: 'finds at least' })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  const finds = await cutoff();
  expect(found(finds) / cases).toBeGreaterThanOrEqual(0.9);
  const next = Math.min(
    ...risks.filter((risk) => risk > Math.min(...risks.filter((r) => r >= finds))),
  );
  expect(found(next) / cases).toBeLessThan(0.9);
  await expect(row(page, /^Logistic/)).toContainText((found(finds) / cases).toFixed(2));

  await rules.getByLabel('Patients to call in, per 1,000').fill('200');
  await rules.getByLabel('Patients to call in, per 1,000').press('Enter');
  await expect(rules.getByRole('button', { name: 'calls in at most' })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  const calls = await cutoff();
  expect(called(calls)).toBeLessThanOrEqual(0.2 * risks.length);
  expect(called(Math.max(...risks.filter((risk) => risk < calls)))).toBeGreaterThan(
    0.2 * risks.length - 1,
  );

  // What cannot be asked for is marked, and cannot be pressed.
  await rules.getByLabel('Per cent of the cases to find').fill('120');
  await expect(rules.getByRole('button', { name: 'finds at least' })).toBeDisabled();
  await rules.getByRole('button', { name: 'costs least' }).click();
  await expect(rules.getByRole('button', { name: 'costs least' })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  const cheapest = await cutoff();
  const costAt = (at: number) => 4 * (cases - found(at)) + called(at) - found(at);
  expect(costAt(cheapest)).toBe(Math.min(costAt(2), ...risks.map(costAt)));
  await expect(row(page, /^Logistic/)).toContainText(
    Math.round((1000 * costAt(cheapest)) / risks.length).toLocaleString('en-GB'),
  );
});

test('a coefficient is read with its odds ratio and interval, and beside fits with fewer predictors', async ({
  page,
}) => {
  const made = await madeStudy('Coefficients');
  const { client, study } = made;
  await client.changeDesign(study, {
    predictorSets: [{ name: 'Two', predictors: ['smoke', 'lwt'] }],
  });
  await made.open(page, 'candidates');
  await page.getByRole('button', { name: 'Add candidate' }).click();
  const dialog = page.getByRole('dialog', { name: 'Add candidate' });
  await dialog.getByRole('radio', { name: /^Logistic regression/ }).check();
  await dialog.getByLabel('Predictors', { exact: true }).selectOption('Two');
  await dialog.getByRole('button', { name: 'Fit it' }).click();
  await expect(row(page, /^Logistic regression 2/)).toContainText('Two');
  await expect(row(page, /^Logistic regression 2/)).not.toContainText('waiting');
  await client.fitted(study);
  await page.getByRole('button', { name: 'Logistic regression 2', exact: true }).click();

  const smoke = page.getByRole('row', { name: /^Smoke/ });
  await expect(smoke).toContainText('yes, not no');
  const cells = (await smoke.getByRole('cell').allInnerTexts()).map((text) => text.trim());
  const [coefficient, error] = [Number(cells[1]), Number(cells[2])];
  const [low, high] = cells[6].split(' – ').map(Number);
  // The ratio and its ends follow from coefficient and standard error, as far as digits are shown.
  expect(Number(cells[5])).toBeCloseTo(Math.exp(coefficient), 1);
  expect(low).toBeCloseTo(Math.exp(coefficient - 1.96 * error), 1);
  expect(high).toBeCloseTo(Math.exp(coefficient + 1.96 * error), 0);
  expect(Number(cells[3])).toBeCloseTo(coefficient / error, 0);

  // The fit with all eight has the seven inputs more.
  const nested = page.getByRole('table', {
    name: 'Against the same family with other predictors, on the same patients',
  });
  await expect(nested.getByRole('row', { name: /^Logistic regression 1/ })).toContainText(
    'also has',
  );
  await expect(nested.getByRole('row', { name: /^Logistic regression 1/ })).toContainText('7');

  // Without the set the candidate is out of date, and says so where it stands.
  await client.changeDesign(study, { predictorSets: [] });
  await expect(row(page, /^Logistic regression 2/)).toContainText('out of date');
});

test('a rule of today is written, refused while it gives no risk, and lined up with the models', async ({
  page,
}) => {
  const made = await madeStudy('Today');
  await made.open(page, 'candidates');
  await page.getByRole('button', { name: 'Add candidate' }).click();
  const dialog = page.getByRole('dialog', { name: 'Add candidate' });
  await dialog.getByRole('radio', { name: /^Today’s rule/ }).check();
  const formula = dialog.getByRole('combobox').or(dialog.getByRole('textbox')).first();
  await formula.fill('lwt < ');
  await expect(dialog.getByRole('button', { name: 'Add it' })).toBeDisabled();
  // What is to be predicted cannot be what calls in.
  await formula.fill('low = "yes"');
  await expect(dialog.getByRole('status')).toBeVisible();
  await dialog.getByRole('button', { name: 'Add it' }).click();
  await expect(dialog.getByRole('alert')).toContainText('what is to be predicted');
  await formula.fill('lwt < 120 or smoke = "yes"');
  await expect(dialog.getByRole('status')).toContainText('yes');
  await dialog.getByRole('button', { name: 'Add it' }).click();
  await expect(dialog).toBeHidden();

  // Its table is a count over the file's development patients.
  const line = await newest(made);
  const [head, ...rest] = birthWeight
    .trim()
    .split('\n')
    .map((one) => one.replaceAll('"', '').split(','));
  const cell = (cells: string[], name: string) => cells[head.indexOf(name)];
  const sides = await fetch(
    `${process.env.PRODUCT_ADDRESS}/api/studies/${made.study}/allocation`,
  ).then((sent) => sent.text());
  const development = sides
    .trim()
    .split('\n')
    .slice(1)
    .map((one) => one.includes('development'));
  const mothers = rest.filter((_, i) => development[i]);
  const isYes = (value: string) => value === '1' || value === 'yes';
  const calls = (cells: string[]) =>
    Number(cell(cells, 'lwt')) < 120 || isYes(cell(cells, 'smoke'));
  const isCase = (cells: string[]) => isYes(cell(cells, 'low'));
  expect(line.results!.table).toEqual({
    found: mothers.filter((one) => isCase(one) && calls(one)).length,
    missed: mothers.filter((one) => isCase(one) && !calls(one)).length,
    falseAlarms: mothers.filter((one) => !isCase(one) && calls(one)).length,
    rightlyLeft: mothers.filter((one) => !isCase(one) && !calls(one)).length,
  });
  await expect(row(page, new RegExp(`^${line.name}`))).toContainText(
    Math.round(line.results!.costPerThousand).toLocaleString('en-GB'),
  );
});

test('balanced cases are said beside the fit, and the risks are those of the true share', async ({
  page,
}) => {
  const made = await madeStudy('Balanced');
  const { client, study } = made;
  const before = await newest(made);
  const mean = async (id: string) => {
    const { risks } = await outOfFold(made, id);
    return risks.reduce((sum, one) => sum + one, 0) / risks.length;
  };
  const plain = await mean(before.id);
  await made.open(page, 'design');
  const part = page.getByRole('region', { name: 'Balance of cases', exact: true });
  await part.getByLabel('Balanced by').selectOption('weights');
  await part.getByRole('textbox', { name: 'Cases are to be' }).fill('60');
  await part.getByRole('textbox', { name: 'Cases are to be' }).press('Enter');
  await expect(part).toContainText('brought back to the true share of cases');
  await part.getByRole('textbox', { name: 'Cases are to be' }).fill('95');
  await part.getByRole('textbox', { name: 'Cases are to be' }).press('Enter');
  await expect(part.getByRole('textbox', { name: 'Cases are to be' })).toHaveAttribute(
    'aria-invalid',
    'true',
  );
  await expect
    .poll(
      async () => (await client.get<DesignState>(`/api/studies/${study}/design`)).choices.balancing,
    )
    .toEqual({ way: 'weights', share: 0.6 });
  await page.getByRole('button', { name: 'Fit 1 candidate again' }).click();
  await expect
    .poll(async () => (await client.fitted(study)).some(({ outOfDate }) => outOfDate))
    .toBe(false);
  await made.open(page, 'candidates');
  await expect(page.getByText(/balanced to 60% cases/)).toBeVisible();
  // Of 142 mothers 44 have a child of low weight: that share comes back, not six in ten.
  const balanced = await mean(before.id);
  expect(Math.abs(balanced - plain)).toBeLessThan(0.03);
  expect(Math.abs(balanced - 44 / 142)).toBeLessThan(0.03);
});

test('the check for leaks moves nothing in the dialog when it ends', async ({ page }) => {
  const { open } = await madeStudy('Still');
  let release: () => void = () => undefined;
  const held = new Promise<void>((resolve) => (release = resolve));
  await page.route('**/survey?part=findings*', async (route) => {
    await held;
    await route.continue();
  });
  await open(page, 'candidates');
  await page.getByRole('button', { name: 'Add candidate' }).click();
  const dialog = page.getByRole('dialog', { name: 'Add candidate' });
  await expect(dialog.getByText(/^Checking whether predictors/)).toBeVisible();
  const family = dialog.getByRole('radio', { name: /^Decision tree/ });
  const before = await family.boundingBox();
  release();
  await expect(dialog.getByText(/^No predictor seems to be recorded/)).toBeVisible();
  expect(await family.boundingBox()).toEqual(before);
});

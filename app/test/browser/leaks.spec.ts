import { expect, test } from '../support/browser-test.ts';
import { randomStream } from '@rook-scale/core/numeric';
import { address, ready } from '../support/browser-study.ts';
import { Client } from '../support/client.ts';

/** 400 patients with an honest lab, a real marker, and four columns recorded after the outcome. */
function leakingCohort(): string {
  const draw = randomStream(11, 'leaks');
  const lines = ['age,crp,marker,peak,count_later,transfer,culture,days_to_death,sepsis'];
  for (let i = 0; i < 400; i++) {
    const isCase = i % 4 === 0;
    const normal = (mean: number, sd: number) => (mean + sd * draw.normal()).toFixed(1);
    lines.push(
      [
        normal(60 + 3 * Number(isCase), 10),
        normal(40 + 8 * Number(isCase), 9),
        normal(10 + 2.6 * Number(isCase), 1),
        normal(100 + 90 * Number(isCase), 10),
        isCase ? 3 + (i % 5) : i % 40 === 1 ? 1 : 0,
        isCase ? 'yes' : 'no',
        isCase ? normal(5, 1) : '',
        normal(200, 30),
        isCase ? 'yes' : 'no',
      ].join(','),
    );
  }
  return lines.join('\n');
}

test('predictors recorded after the outcome are named before a fit, and after one that is too good', async ({
  page,
}) => {
  const client = new Client(address());
  const study = await client.newStudy('Leaks');
  await client.bringIn(study, leakingCohort(), 'development', (dictionary) => {
    for (const entry of dictionary) entry.role = entry.name === 'sepsis' ? 'outcome' : 'predictor';
  });
  await client.changeDesign(study, { event: 'yes', missedCost: 4 });
  await page.goto(`${address()}/studies/${study}/candidates`);
  await ready(page);
  // In the margin, and in the dialog before anything is fitted.
  const margin = page.getByRole('complementary', { name: 'Margin notes' });
  await expect(margin).toContainText('4 columns may give the answer away');
  await expect(margin).toContainText('Culture: missing values depend on the outcome');
  await expect(margin).toContainText('The name says “days to death”');
  await page.getByRole('button', { name: 'Add candidate' }).click();
  const adding = page.getByRole('dialog', { name: 'Add candidate' });
  await expect(adding).toContainText('Possible leaks among the predictors.');
  await expect(adding).toContainText('Peak: AUC alone 1.00');
  await adding.getByRole('button', { name: 'Fit it' }).click();
  await expect(adding).toBeHidden();
  await expect(margin).toContainText('Too good to be true?');
  // A strong marker is not swept away with the others.
  await margin.getByRole('button', { name: 'Choose which to set aside' }).click();
  const asked = page.getByRole('dialog', { name: '4 columns may give the answer away' });
  await expect(asked.getByRole('checkbox', { name: /^Marker/ })).not.toBeChecked();
  await expect(asked.getByRole('checkbox', { name: /^Marker/ })).toHaveAccessibleName(
    /AUC alone 0\.9\d/,
  );
  for (const name of [/^Peak/, /^Count later/, /^Transfer/])
    await expect(asked.getByRole('checkbox', { name })).toBeChecked();
  await asked.getByRole('button', { name: 'Set aside 3 columns' }).click();
  await expect(page.getByText('3 columns are set aside.')).toBeVisible();
  await expect(margin).toContainText('Marker gives the answer away');
  const { choices } = (
    await client.get<{ design: { choices: { predictors: string[] } } }>(`/api/studies/${study}`)
  ).design;
  expect(choices.predictors).toEqual(['age', 'crp', 'marker', 'culture', 'days_to_death']);
});

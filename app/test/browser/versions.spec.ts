import { expect, test, type Page } from '../support/browser-test.ts';
import type { DesignState, DesignVersion } from '../../src/contract/designs.ts';
import { madeStudy } from '../support/browser-study.ts';

const part = (page: Page) => page.getByRole('region', { name: 'Versions', exact: true });

async function keep(page: Page, name: string) {
  await part(page).getByLabel('Keep this design as').fill(name);
  await part(page).getByRole('button', { name: 'Keep', exact: true }).click();
}

test('a design is kept under a name, compared field by field, put in force and forgotten', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Versions');
  const first = await client.get<DesignState>(`/api/studies/${study}/design`);
  await open(page, 'design');
  await expect(part(page)).toContainText('Nothing is kept yet');
  await keep(page, 'All predictors');
  const row = (name: string) => part(page).getByRole('row', { name: new RegExp(`^${name}`) });
  await expect(row('All predictors')).toContainText('the same');
  await expect(row('All predictors').getByRole('button', { name: 'Put in force' })).toBeDisabled();

  await client.changeDesign(study, {
    predictors: first.choices.predictors.filter((name) => name !== 'age' && name !== 'race'),
    missedCost: 9,
    preparation: [{ step: 'clip', columns: ['lwt'], to: 'quantiles', share: 0.02 }],
  });
  await expect(row('All predictors')).toContainText('3 fields differ');
  await keep(page, 'Without age');
  await expect(row('Without age')).toContainText('the same');
  const field = (name: string) => part(page).getByRole('row', { name: new RegExp(`^${name}`) });
  await part(page).getByLabel('Compare').selectOption('All predictors');
  await part(page).getByLabel('with', { exact: true }).selectOption('Without age');
  // Of a list only what one of the two has alone.
  await expect(field('Predictors').getByRole('cell')).toHaveText([
    /^8, only here: (Age; Race|Race; Age)$/,
    '6',
  ]);
  await expect(field('A missed case costs').getByRole('cell')).toHaveText(['4', '9']);
  await expect(field('Preparation').getByRole('cell').first()).toHaveText('none');
  await expect(field('Preparation').getByRole('cell').last()).toContainText('Lwt to the quantiles');
  await expect(part(page).getByRole('row', { name: /^Outcome/ })).toHaveCount(0);

  await row('All predictors').getByRole('button', { name: 'Put in force' }).click();
  await expect(row('All predictors')).toContainText('the same');
  // The page shows it before the server has carried it out.
  const choices = async () =>
    (await client.get<DesignState>(`/api/studies/${study}/design`)).choices;
  await expect.poll(choices).toEqual(first.choices);
  await page.getByRole('button', { name: /^Undo/ }).first().click();
  await expect(row('Without age')).toContainText('the same');

  // A name is given once, and what is forgotten can be taken back.
  await keep(page, 'Without age');
  await expect(page.getByText('There is a version named Without age already')).toBeVisible();
  await part(page).getByRole('button', { name: 'Forget Without age' }).click();
  await expect(row('Without age')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo', exact: true }).last().click();
  await expect(row('Without age')).toContainText('the same');
  await page.reload();
  await expect(row('All predictors')).toContainText('3 fields differ');
});

test('a version put in force takes no candidate what it was fitted on', async ({ page }) => {
  const { client, study, open } = await madeStudy('Versions and sets');
  await open(page, 'design');
  await keep(page, 'Before');
  await expect(part(page)).toContainText('Before');
  await client.changeDesign(study, {
    missedCost: 7,
    predictorSets: [{ name: 'Two', predictors: ['age', 'lwt'] }],
  });
  await client.send('POST', `/api/studies/${study}/candidates`, {
    family: 'logistic',
    settings: {},
    basis: { predictors: 'Two' },
  });
  await client.fitted(study);
  await expect(part(page)).toContainText('1 field differs');
  await part(page).getByRole('button', { name: 'Put in force' }).click();
  await expect(part(page)).toContainText('the same');
  await expect
    .poll(async () => (await client.get<DesignState>(`/api/studies/${study}/design`)).choices)
    .toMatchObject({ missedCost: 4, predictorSets: [{ name: 'Two' }] });
  expect((await client.fitted(study)).every(({ outOfDate }) => !outOfDate)).toBe(true);
  const kept = await client.get<DesignVersion[]>(`/api/studies/${study}/versions`);
  expect(kept.map(({ name }) => name)).toEqual(['Before']);
});

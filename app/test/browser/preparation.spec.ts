import { expect, test, type Page } from '../support/browser-test.ts';
import type { CandidateLine } from '../../src/contract/candidates.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import { madeStudy } from '../support/browser-study.ts';

const section = (page: Page) => page.getByRole('region', { name: 'Preparation', exact: true });
const steps = (page: Page) => section(page).getByRole('list', { name: 'Steps in their order' });

async function add(
  page: Page,
  step: string,
  say: (dialog: ReturnType<Page['getByRole']>) => Promise<void>,
) {
  await section(page).getByLabel('Another step').selectOption({ label: step });
  await section(page).getByRole('button', { name: 'Add it' }).click();
  const dialog = page.getByRole('dialog', { name: step });
  await say(dialog);
  await dialog.getByRole('button', { name: 'Add the step' }).click();
  await expect(dialog).toBeHidden();
}

test('steps are added, said in figures, arranged by keyboard and mouse, changed, taken away, undone', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Arranged');
  const inForce = async () =>
    (await client.get<DesignState>(`/api/studies/${study}/design`)).choices.preparation;
  await open(page, 'design');
  await add(page, 'Reshape', async (dialog) => {
    // Nothing chosen yet: it is said what is missing, and nothing is lost.
    await dialog.getByRole('button', { name: 'Add the step' }).click();
    await expect(dialog).toContainText('Choose at least one column.');
    await dialog.getByRole('checkbox', { name: 'Lwt' }).check();
  });
  await add(page, 'Clip', async (dialog) => {
    await dialog.getByLabel('To', { exact: true }).selectOption('quantiles');
    await dialog.getByRole('textbox', { name: 'At each end' }).fill('5');
  });
  await expect(steps(page).getByRole('listitem')).toHaveCount(7);
  await expect
    .poll(async () => (await inForce()).map(({ step }) => step))
    .toEqual(['reshape', 'clip']);

  // What the first one does is said in figures, drawn, and shown on a patient.
  await steps(page)
    .getByRole('button', { name: /^Reshape/ })
    .click();
  await expect(section(page)).toContainText('Lwt: log');
  await expect(section(page).getByRole('img', { name: /^before: mean 1\d\d/ })).toBeVisible();
  await expect(section(page).getByRole('img', { name: /^after: mean 4\.\d/ })).toBeVisible();
  const patient = section(page).getByRole('row', { name: /^Lwt/ }).first();
  const [before, after] = await patient.getByRole('cell').allTextContents();
  expect(Number(after)).toBeCloseTo(Math.log(Number(before)), 3);
  await section(page).getByRole('button', { name: 'the next' }).click();
  await expect(section(page).getByRole('heading', { name: /^Patient row/ })).toBeVisible();

  // Down by one place with the keyboard, and back by dragging.
  await steps(page)
    .getByRole('button', { name: /^Reshape/ })
    .press('Alt+ArrowDown');
  await expect
    .poll(async () => (await inForce()).map(({ step }) => step))
    .toEqual(['clip', 'reshape']);
  const [first, second] = await Promise.all(
    [0, 1].map((place) =>
      steps(page).getByRole('listitem').nth(place).locator('span').first().boundingBox(),
    ),
  );
  await page.mouse.move(second!.x + 6, second!.y + 6);
  await page.mouse.down();
  await page.mouse.move(second!.x + 6, second!.y - 4, { steps: 4 });
  await page.mouse.move(first!.x + 6, first!.y - 2, { steps: 8 });
  await page.mouse.up();
  await expect
    .poll(async () => (await inForce()).map(({ step }) => step))
    .toEqual(['reshape', 'clip']);

  await section(page).getByRole('button', { name: 'Change step 2, Clip' }).click();
  const dialog = page.getByRole('dialog', { name: 'Clip' });
  await dialog.getByRole('textbox', { name: 'At each end' }).fill('10');
  await dialog.getByRole('button', { name: 'Change the step' }).click();
  await expect.poll(inForce).toMatchObject([{}, { step: 'clip', share: 0.1 }]);
  await section(page).getByRole('button', { name: 'Take away step 1, Reshape' }).click();
  await expect.poll(async () => (await inForce()).length).toBe(1);
  await page.getByRole('button', { name: /^Undo/ }).first().click();
  await expect(steps(page).getByRole('listitem').first()).toContainText('Reshape');
  await steps(page)
    .getByRole('button', { name: /^Reshape/ })
    .click();
  await expect(section(page).getByText('Lwt: log').first()).toBeVisible();
});

test('what is recommended comes with its reason and is accepted one by one', async ({ page }) => {
  const { client, study, open } = await madeStudy('Recommended');
  await open(page, 'design');
  const advice = section(page).getByRole('listitem').filter({ hasText: 'Accept' });
  const first = advice.first();
  await expect(first).toContainText(/Lwt: a few high values carry the mean above the median/);
  const before = await advice.count();
  await first.getByRole('button', { name: 'Accept' }).click();
  await expect(advice).toHaveCount(before - 1);
  await expect
    .poll(
      async () =>
        (await client.get<DesignState>(`/api/studies/${study}/design`)).choices.preparation,
    )
    .toMatchObject([{ step: 'reshape', how: 'log', columns: ['lwt'] }]);
  // A fit on other inputs is out of date, and fitting it again is one act.
  await page.getByRole('button', { name: 'Fit 1 candidate again' }).click();
  await expect(page.getByRole('button', { name: /^Fit 1 candidate/ })).toBeHidden();
  const lines = await client.fitted(study);
  expect(lines.every(({ outOfDate }) => !outOfDate)).toBe(true);
});

test('a preparation and predictors are kept under names, and candidates are fitted on them', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Kept');
  await open(page, 'design');
  await add(page, 'Splines', async (dialog) => {
    await dialog.getByRole('checkbox', { name: 'Age' }).check();
  });
  const keep = async (part: ReturnType<Page['getByRole']>, name: string) => {
    await part.getByRole('button', { name: 'keep under a name' }).click();
    await page.getByRole('textbox', { name: 'Name' }).fill(name);
    await page.getByRole('button', { name: 'Keep it' }).click();
    await expect(part.getByRole('button', { name, exact: true })).toBeVisible();
  };
  await keep(section(page), 'bends');
  const predictors = page.getByRole('region', { name: 'Predictors', exact: true });
  await predictors.getByRole('button', { name: 'none' }).click();
  await predictors.getByRole('checkbox', { name: 'Age' }).check();
  await predictors.getByRole('checkbox', { name: 'Lwt' }).check();
  await keep(predictors, 'two');
  // The difference of the two is said.
  await predictors.getByRole('checkbox', { name: 'Smoke' }).check();
  await predictors.getByRole('button', { name: 'compare' }).click();
  await expect(page.getByRole('dialog')).toContainText('Only in in force now');
  await expect(page.getByRole('dialog')).toContainText('Smoke');
  await page.getByRole('button', { name: 'Close' }).last().click();

  // An address that is typed does not wait for what is still being saved.
  await expect
    .poll(async () => {
      const { choices } = await client.get<DesignState>(`/api/studies/${study}/design`);
      return [choices.predictorSets.map(({ name }) => name), choices.predictors];
    })
    .toEqual([['two'], ['age', 'lwt', 'smoke']]);
  await open(page, 'candidates');
  await page
    .getByRole('button', { name: /^Add candidate/ })
    .first()
    .click();
  await page.getByLabel('Predictors', { exact: true }).selectOption('two');
  await page.getByLabel('Preparation', { exact: true }).selectOption('bends');
  await page.getByRole('button', { name: 'Fit it' }).click();
  const row = page.getByRole('row', { name: /two, bends/ });
  await expect(row).toBeVisible();
  const lines = await client.fitted(study);
  const added = lines.at(-1)!;
  expect(added.basis).toEqual({ predictors: 'two', preparation: 'bends' });
  expect(added.uses).toEqual(['age', 'lwt']);
  const detail = await client.get<{ inputs: { name: string }[] }>(`/api/candidates/${added.id}`);
  expect(detail.inputs.map(({ name }) => name)).toEqual([
    'age',
    'age, bend 1',
    'age, bend 2',
    'lwt',
  ]);
  // What is in force changes, and it is not out of date: it does not look at it.
  await client.changeDesign(study, { predictors: ['smoke'], preparation: [] });
  const after = await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
  expect(after.find(({ id }) => id === added.id)!.outOfDate).toBe(false);
  expect(after.find(({ family, id }) => family === 'logistic' && id !== added.id)!.outOfDate).toBe(
    true,
  );
});

test('predictors are searched, shown with figures, and picked by what they are', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Picked');
  const chosen = async () =>
    (await client.get<DesignState>(`/api/studies/${study}/design`)).choices.predictors;
  await open(page, 'design');
  const part = page.getByRole('region', { name: 'Predictors', exact: true });
  await part.getByRole('searchbox', { name: 'Search the predictors' }).fill('smo');
  await expect(part.getByRole('checkbox')).toHaveCount(1);
  // "none" is about what is seen.
  await part.getByRole('button', { name: 'none' }).click();
  await expect.poll(chosen).not.toContain('smoke');
  expect(await chosen()).toContain('age');
  await part.getByRole('searchbox').fill('nothing like it');
  await expect(part).toContainText('No column is called like');
  await part.getByRole('searchbox').fill('');
  await part.getByRole('button', { name: 'with figures' }).click();
  await expect(part.getByRole('row', { name: /^Lwt/ })).toContainText('80 – 250');
  await expect(part.getByRole('row', { name: /^Lwt/ })).toContainText(/AUC 0\.\d\d/);
  await expect(part.getByRole('row', { name: /^Lwt/ })).toContainText('Logistic regression');

  await part.getByRole('button', { name: /^Pick by kind/ }).click();
  await part.getByLabel('Pick by').selectOption('numbers');
  await part.getByRole('button', { name: 'Take these' }).click();
  await expect.poll(chosen).not.toContain('race');
  // A later list without two of the columns: what both have is taken, and what is missing is said.
  const list = 'age,race,smoke,ht\n25,1,yes,no\n31,2,no,no\n';
  await client.bringIn(study, list, 'screening');
  await part.getByRole('button', { name: /^Pick by kind/ }).click();
  await part.getByLabel('Pick by').selectOption('list');
  await expect(part).toContainText(/Without: .*Lwt/);
  await part.getByRole('button', { name: 'Take these' }).click();
  await expect.poll(chosen).toEqual(['age', 'race', 'smoke', 'ht']);
});

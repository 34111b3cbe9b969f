import { expect, test, type Page } from '../support/browser-test.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { Client } from '../support/client.ts';
import { address, bringFile, lookFirst, madeStudy, ready } from '../support/browser-study.ts';

const section = (page: Page, name: string) => page.getByRole('region', { name, exact: true });
const held = (page: Page) => page.getByRole('row', { name: /^Held out/ });

/** Side of each row of the file, as it is sent out. */
async function sidesSent(study: string): Promise<string[]> {
  const sent = await fetch(`${address()}/api/studies/${study}/allocation`);
  const [head, ...rows] = (await sent.text()).trim().split('\n');
  const place = head.split(',').indexOf('side');
  return rows.map((row) => row.split(',')[place]);
}

const cells = birthWeight
  .trim()
  .split('\n')
  .map((line) => line.replaceAll('"', '').split(','));
const column = (name: string) => cells.slice(1).map((row) => row[cells[0].indexOf(name)]);

test('patients are set aside by each way in turn, and both sides are counted and compared', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Ways');
  const design = () => client.get<DesignState>(`/api/studies/${study}/design`);
  await open(page, 'design');
  const part = section(page, 'Held-out patients');
  await expect(held(page)).toContainText('47');
  await expect(section(page, 'How alike both sides are')).toContainText(
    /The greatest standardised difference is 0\.\d\d/,
  );

  await part.getByLabel('Alike in the outcome and in').selectOption('race');
  await expect
    .poll(async () => (await design()).choices.split)
    .toEqual({ way: 'by chance', within: ['race'] });
  // Of each race a quarter, to one patient of each outcome.
  await expect(held(page)).toContainText(/4[5-9]/);

  await part.getByLabel('Set aside').selectOption('by column');
  await part.getByLabel('Marked by').selectOption('smoke');
  await part.getByLabel(/^yes \(|^1 \(/).selectOption('held out');
  const smokers = column('smoke').filter((value) => value === '1').length;
  await expect(held(page)).toContainText(String(smokers));
  const sides = await sidesSent(study);
  column('smoke').forEach((value, row) =>
    expect(sides[row]).toBe(value === '1' ? 'held out' : 'development'),
  );
  await expect(section(page, 'How alike both sides are')).toContainText(/differ/);

  await part.getByLabel('Set aside').selectOption('by rows');
  // The file is sorted by outcome: with its last quarter held out nobody is left to learn from.
  await expect(page.getByRole('alert')).toContainText('Too few patients to divide');
  await expect(part).toContainText('Not divided');
  for (const [name, row] of [
    ['From row', '60'],
    ['to row', '160'],
  ]) {
    await part.getByRole('textbox', { name }).fill(row);
    await part.getByRole('textbox', { name }).press('Enter');
  }
  await expect(held(page)).toContainText('101');

  await part.getByLabel('Set aside').selectOption('by date');
  await part.getByLabel('Ordered by').selectOption('age');
  await expect(held(page)).toContainText(/4\d|5\d/);
  const late = await sidesSent(study);
  const ages = (side: string) =>
    column('age').flatMap((age, i) => (late[i] === side ? [Number(age)] : []));
  expect(Math.max(...ages('development'))).toBeLessThan(Math.min(...ages('held out')));

  // Undo goes back along the ways, to the same patients as at first.
  await page.getByRole('button', { name: /^Undo/ }).first().click();
  await expect(part.getByLabel('Set aside')).toHaveValue(/by (date|rows)/);
});

test('groups stay whole in split and folds, and the margin says where folds cut through them', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Groups');
  await open(page, 'design');
  const part = section(page, 'Held-out patients');
  await part.getByLabel('Set aside').selectOption('by group');
  await part.getByLabel('Groups are the values of').selectOption('ftv');
  const note = page.getByRole('button', { name: 'Deal the folds by group too' });
  await note.click();
  const folds = section(page, 'Folds');
  await expect(folds.getByLabel('Dealt')).toHaveValue('by group');
  // Five folds of fewer groups cannot be: it is said at the top, and three can.
  await expect(page.getByRole('alert')).toContainText('not enough for 5 folds');
  await folds.getByRole('textbox', { name: 'Folds' }).fill('2');
  await folds.getByRole('textbox', { name: 'Folds' }).press('Enter');
  await expect(page.getByRole('alert')).toBeHidden();
  await expect(folds).toContainText('2 folds; the share of events is between');
  await client.fitted(study);
  const sides = await sidesSent(study);
  const sideOf = new Map<string, string>();
  column('ftv').forEach((group, row) => {
    expect(sideOf.get(group) ?? sides[row]).toBe(sides[row]);
    sideOf.set(group, sides[row]);
  });
  expect(await client.get<DesignState>(`/api/studies/${study}/design`)).toMatchObject({
    obstacle: null,
  });
  await open(page, 'candidates');
  await expect(page.getByText('2-fold cross-validated')).toBeVisible();
});

test('a file says who stands where; one that does not is refused in place', async ({ page }) => {
  const client = new Client(address());
  const study = await client.newStudy('Allocated');
  const numbered = cells.map((row, i) => [i === 0 ? 'id' : `M${i}`, ...row].join(',')).join('\n');
  await client.bringIn(study, numbered, 'development', (dictionary) => {
    asPublished(dictionary);
    dictionary[0].role = 'identifier';
  });
  await client.changeDesign(study, { event: 'yes' });
  await page.goto(`${address()}/studies/${study}/design`);
  await ready(page);
  const part = section(page, 'Held-out patients');
  await part.getByLabel('Set aside').selectOption('as brought in');
  await bringFile(page, 'Choose the file', 'wrong.csv', 'a,b\n1,2\n');
  await expect(page.getByText(/wrong.csv is no allocation/)).toBeVisible();
  const ids = cells.slice(1).map((_, i) => `M${i + 1}`);
  const rows = ids.map((id, i) => `${id},${i % 3 ? 'development' : 'held out'},${1 + (i % 4)}`);
  await bringFile(page, 'Choose the file', 'sides.csv', `id,side,fold\n${rows.join('\n')}\n`);
  await expect(part).toContainText('sides.csv says who stands where');
  await expect(held(page)).toContainText(String(Math.ceil(ids.length / 3)));
  await expect(section(page, 'Folds').getByLabel('Dealt')).toHaveValue('as brought in');
  const sides = await sidesSent(study);
  sides.forEach((side, i) => expect(side).toBe(i % 3 ? 'development' : 'held out'));
});

test('a second file is held out, with a column that it calls otherwise, and taken out again', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Second file');
  const [head, ...rows] = cells;
  const other = [head.map((name) => (name === 'lwt' ? 'weight' : name)), ...rows.slice(40, 140)];
  const text = other.map((row) => row.join(',')).join('\n');
  await open(page, 'design');
  const part = section(page, 'Held-out patients');
  await part.getByLabel('Set aside').selectOption('second file');
  // Until there is a file, what is in force stays in force.
  await expect(held(page)).toContainText('47');
  await bringFile(page, 'Choose the file', 'elsewhere.csv', `${text}\n`);
  const dialog = page.getByRole('dialog', { name: 'Hold out the patients of elsewhere.csv' });
  await expect(dialog).toContainText('Only in this file, left out: weight');
  await dialog.getByLabel('Lwt').selectOption('weight');
  await expect(dialog).not.toContainText('left out');
  await dialog.getByRole('button', { name: 'Hold them out' }).click();
  await expect(dialog).toBeHidden();
  await expect(held(page)).toContainText('100');
  await expect(part).toContainText(
    'elsewhere.csv stands below the first file, from row 190 to 289.',
  );
  const sides = await sidesSent(study);
  expect(sides.map((side) => side === 'held out')).toEqual([
    ...rows.map(() => false),
    ...other.slice(1).map(() => true),
  ]);

  // What was made of the first file alone is out of date, and is fitted again in one act.
  await page.getByRole('button', { name: /Fit .*again/ }).click();
  await expect
    .poll(async () => (await client.fitted(study)).some(({ outOfDate }) => outOfDate))
    .toBe(false);
  await open(page, 'held-out-check');
  await lookFirst(page);
  await expect(page.getByText('100 patients the candidates have never seen')).toBeVisible();

  await open(page, 'design');
  await part.getByRole('button', { name: 'Take it out again' }).click();
  await expect(part.getByLabel('Set aside')).toHaveValue('by chance');
  await expect(held(page)).toContainText('47');
  await page.getByRole('button', { name: /^Undo/ }).first().click();
  await expect(held(page)).toContainText('100');
});

test('a second file that lacks the outcome is refused in its dialog, which stays', async ({
  page,
}) => {
  const { open } = await madeStudy('Second file refused');
  const place = cells[0].indexOf('low');
  const text = cells.map((row) => row.filter((_, i) => i !== place).join(',')).join('\n');
  await open(page, 'design');
  await section(page, 'Held-out patients').getByLabel('Set aside').selectOption('second file');
  await bringFile(page, 'Choose the file', 'blind.csv', `${text}\n`);
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByLabel(/, the outcome$/)).toHaveValue('');
  await dialog.getByRole('button', { name: 'Hold them out' }).click();
  await expect(dialog.getByRole('alert')).toContainText('blind.csv has no column for');
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  await expect(held(page)).toContainText('47');
});

test('the sealed patients open once, after a question, and are shown from then on', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Sealed');
  await client.changeDesign(study, { sealedShare: 0.2 });
  const lines = await client.fitted(study);
  await client.send('PUT', `/api/studies/${study}/candidates`, {
    candidates: lines.map(({ id }) => id),
  });
  await client.fitted(study);
  await open(page, 'design');
  await expect(page.getByRole('row', { name: /^Sealed/ })).toContainText('38');
  await open(page, 'records?view=patients');
  await expect(page.getByText('38 sealed')).toBeVisible();
  await open(page, 'held-out-check');
  await lookFirst(page);
  const part = section(page, 'Sealed patients');
  await expect(part).toContainText('38 patients whom no look has shown');
  await part.getByRole('button', { name: /^Open them with/ }).click();
  await page.getByRole('button', { name: 'Keep them sealed' }).click();
  await expect(part).toContainText('whom no look has shown');
  await part.getByRole('button', { name: /^Open them with/ }).click();
  const act = page.getByRole('button', { name: 'Open them', exact: true });
  await expect(act).toBeDisabled();
  await page.getByLabel('Why now?').fill('The board asks for the figure to report.');
  await act.click();
  await expect(part).toContainText(/Opened on .* with Logistic regression/);
  await expect(part).toContainText('Why: The board asks for the figure to report.');
  await expect(part.getByRole('heading', { name: /Errors in sealed patients/ })).toBeVisible();
  await page.reload();
  await ready(page);
  await expect(section(page, 'Sealed patients')).toContainText(/Opened on/);
  await expect(page.getByRole('button', { name: /^Open them with/ })).toBeHidden();
});

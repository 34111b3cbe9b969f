import { expect, test, type Page } from '../support/browser-test.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import { address, demoStudy, madeStudy, ready } from '../support/browser-study.ts';

test('undo and redo by key, button and toast', async ({ page }) => {
  const { open, client, study } = await madeStudy('Undo');
  const cost = async () =>
    (await client.get<DesignState>(`/api/studies/${study}/design`)).choices.missedCost;
  await open(page, 'design');
  await page.getByRole('textbox', { name: 'A missed case' }).fill('7');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('link', { name: '7 ×' })).toBeVisible();
  // In the field itself the keys belong to the text.
  await page.getByRole('heading', { name: 'Design', exact: true }).click();
  await page.keyboard.press('Control+z');
  await expect(page.getByText('Undone: cost of a missed case 4 → 7')).toBeVisible();
  await expect(page.getByRole('link', { name: '4 ×' })).toBeVisible();
  await expect(page.getByRole('textbox', { name: 'A missed case' })).toHaveValue('4');
  await page.getByRole('button', { name: 'Redo: cost of a missed case 4 → 7' }).click();
  await expect(page.getByText('Done again: cost of a missed case 4 → 7')).toBeVisible();
  await expect(page.getByRole('link', { name: '7 ×' })).toBeVisible();
  await page.getByRole('status').getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.getByRole('link', { name: '4 ×' })).toBeVisible();
  expect(await cost()).toBe(4);
});

test('command search finds pages, columns, candidates and acts', async ({ page }) => {
  const { open } = await madeStudy('Search');
  await open(page, 'records');
  await page.keyboard.press('/');
  const search = page.getByRole('combobox', { name: /^Find a page/ });
  await expect(search).toBeFocused();
  await search.fill('nothing of the kind');
  await expect(page.getByText('Nothing here has')).toBeVisible();
  await search.fill('lwt');
  await expect(page.getByRole('option', { name: /^Lwt column, predictor/ })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/view=dictionary&column=lwt/);
  await expect(page.getByRole('row', { name: /^Lwt/ })).toBeInViewport();
  await ready(page);
  await page.keyboard.press('Control+k');
  await search.fill('logistic');
  await expect(page.getByRole('option', { name: /held-out check/ })).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/candidates\?candidate=/);
  await ready(page);
  await page.keyboard.press('/');
  await search.fill('queue');
  await page.keyboard.press('Enter');
  const queue = page.getByRole('dialog', { name: 'Queue' });
  await expect(queue.getByText(/Nothing waits or runs. 1 worker at hand/)).toBeVisible();
  await expect(
    queue.getByRole('row', { name: /Logistic regression 1 Search fitted/ }).first(),
  ).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toContainText('next margin note');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.keyboard.press('3');
  await expect(page).toHaveURL(/\/design$/);
});

test('a dialog that is closed lets the next key open another at once', async ({ page }) => {
  const { open } = await madeStudy('Quick keys');
  await open(page, 'records');
  await ready(page);
  await page.keyboard.press('/');
  const search = page.getByRole('combobox', { name: /^Find a page/ });
  await expect(search).toBeFocused();
  await Promise.all([page.keyboard.press('Escape'), page.keyboard.press('?')]);
  const keys = page.getByRole('dialog', { name: 'Keys' });
  await expect(keys).toBeVisible();
  await Promise.all([page.keyboard.press('Escape'), page.keyboard.press('/')]);
  await expect(keys).toHaveCount(0);
  await expect(search).toBeFocused();
});

test('margin notes: reached by key, mended, dismissed with a reason, brought back', async ({
  page,
}) => {
  const { open, client, cohort } = await madeStudy('Margin');
  await client.mend(cohort, (dictionary) => {
    for (const entry of dictionary) if (entry.name === 'bwt') entry.role = 'predictor';
  });
  await open(page, 'design');
  const note = page.getByRole('listitem').filter({ hasText: 'Bwt gives the answer away' });
  await expect(note).toContainText(/Alone it predicts the outcome with an AUC of 1.00/);
  await page.keyboard.press('n');
  await expect(page.getByRole('complementary').getByRole('listitem').first()).toBeFocused();
  await note.getByRole('button', { name: 'Leave it out' }).click();
  await expect(page.getByText('Bwt is set aside.')).toBeVisible();
  await expect(note).toBeHidden();
  await expect(page.getByRole('checkbox', { name: 'Bwt' })).not.toBeChecked();
  await page.getByRole('status').getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(note).toBeVisible();
  const few = page.getByRole('listitem').filter({ hasText: 'Few cases per parameter' });
  await few.getByRole('button', { name: /^Dismiss/ }).click();
  await page.getByRole('button', { name: 'Dismiss it' }).click();
  await expect(page.getByText('Say why: the reason is kept with the study.')).toBeVisible();
  await page.getByLabel('Reason').fill('an exercise');
  await page.keyboard.press('Enter');
  await expect(few).toBeHidden();
  await page.reload();
  await ready(page);
  await page.getByText('1 dismissed').click();
  await expect(page.getByText('“an exercise”')).toBeVisible();
  await page.getByRole('button', { name: 'Bring it back' }).click();
  await expect(few).toBeVisible();
});

test('the back button goes through views, and links lead to them', async ({ page }) => {
  const { open } = await madeStudy('Views');
  await open(page, 'records');
  await page.getByRole('button', { name: 'Rows' }).click();
  await expect(page).toHaveURL(/view=rows/);
  await expect(page.getByRole('table', { name: /^Rows of/ })).toBeVisible();
  await page.goBack();
  await expect(page.getByRole('columnheader', { name: 'Kind' })).toBeVisible();
  await open(page, 'records?view=rows&row=150');
  await expect(page.getByRole('row', { name: /^150 / })).toBeInViewport();
  await open(page, 'candidates');
  await page.getByRole('button', { name: 'Reference', exact: true }).click();
  await expect(page.getByText('It is there to be beaten')).toBeVisible();
  await page.goBack();
  await expect(page.getByRole('heading', { name: /coefficients/ })).toBeVisible();
  await open(page, 'candidates?cutoff=0.6');
  await expect(page.getByText('The marker was moved by hand.')).toBeVisible();
  await page.keyboard.press('.');
  await expect(page).toHaveURL(/cutoff=0.61/);
});

test('deleting asks once, says what goes, and can be taken back', async ({ page }) => {
  const { open, study } = await madeStudy('Delete me');
  await open(page, 'candidates');
  await page.getByRole('button', { name: 'Delete Logistic regression 1' }).click();
  await page.getByRole('button', { name: 'Delete it' }).click();
  await expect(page.getByRole('row', { name: /^Logistic/ })).toBeHidden();
  await page.getByRole('button', { name: 'Bring it back' }).click();
  await expect(page.getByRole('row', { name: /^Logistic/ })).toBeVisible();
  await page.getByRole('button', { name: /^Study: / }).click();
  await page.getByRole('button', { name: 'Delete this study' }).click();
  const dialog = page.getByRole('dialog', { name: 'Delete Delete me?' });
  await expect(dialog).toContainText('189 patients');
  await expect(dialog.getByRole('button', { name: 'Keep it' })).toBeFocused();
  await dialog.getByRole('button', { name: 'Delete it' }).click();
  await expect(page.getByRole('heading', { name: 'Delete me is deleted' })).toBeVisible();
  await page.goto(`${address()}/studies/${study}/records`);
  await expect(
    page.getByRole('heading', { name: 'There is nothing at this address' }),
  ).toBeVisible();
  await ready(page);
  await page.getByRole('button', { name: 'Deleted within the last day' }).click();
  await page
    .getByRole('row', { name: /study Delete me/ })
    .getByRole('button', { name: 'Bring back' })
    .click();
  await expect(page.getByRole('row', { name: /study Delete me/ })).toBeHidden();
  await open(page, 'candidates');
  await expect(page.getByRole('row', { name: /^Logistic/ })).toBeVisible();
});

test('two tabs that change the same thing: nothing is lost, both ways out', async ({ page }) => {
  const { open } = await madeStudy('Two tabs');
  const other = await page.context().newPage();
  // This tab hears nothing of the other, as after a lost connection.
  await page.addInitScript(() => Reflect.deleteProperty(window, 'SharedWorker'));
  await page.route('**/events', (route) => route.abort());
  await open(page, 'design');
  await open(other, 'design');
  await other.getByRole('textbox', { name: 'A missed case' }).fill('5');
  await other.keyboard.press('Enter');
  await expect(other.getByRole('link', { name: '5 ×' })).toBeVisible();
  await page.getByRole('textbox', { name: 'A missed case' }).fill('6');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText(
    'Another tab has meanwhile changed the cost of a missed case.',
  );
  await expect(page.getByRole('textbox', { name: 'A missed case' })).toHaveValue('6');
  await page.getByRole('button', { name: 'Keep mine' }).click();
  await expect(page.getByRole('alert')).toBeHidden();
  await expect(other.getByRole('link', { name: '6 ×' })).toBeVisible();
  await expect(other.getByRole('textbox', { name: 'A missed case' })).toHaveValue('6');
});

for (const [how, leave] of [
  ['a link', (page: Page) => page.getByRole('link', { name: /Candidates/ }).click()],
  ['a key', (page: Page) => page.keyboard.press('4')],
] as const)
  test(`a change that is still being saved is not lost by leaving with ${how}`, async ({
    page,
  }) => {
    const { client, study, open } = await madeStudy(`Left with ${how}`);
    await open(page, 'design');
    // A slow line: the first change is under way when the second is made and the page is left.
    await page.route('**/design', async (route) => {
      await new Promise((resolve) => setTimeout(resolve, 700));
      await route.continue();
    });
    const cost = page.getByRole('textbox', { name: 'A missed case' });
    for (const value of ['6', '11']) {
      await cost.fill(value);
      await cost.press('Tab');
    }
    await page.evaluate(() => (document.activeElement as HTMLElement).blur());
    await leave(page);
    await expect(page).toHaveURL(/candidates$/);
    const { choices } = await client.get<DesignState>(`/api/studies/${study}/design`);
    expect(choices.missedCost).toBe(11);
  });

test('a tab that is closed while a change is being saved asks first, and not afterwards', async ({
  page,
}) => {
  const { client, study, open } = await madeStudy('Closed');
  await open(page, 'design');
  let release = () => {};
  const held = new Promise<void>((resolve) => (release = resolve));
  await page.route('**/design', async (route) => {
    await held;
    await route.continue();
  });
  const cost = page.getByRole('textbox', { name: 'A missed case' });
  await cost.fill('13');
  await cost.press('Tab');
  const question = page.waitForEvent('dialog');
  await page.close({ runBeforeUnload: true });
  const dialog = await question;
  expect(dialog.type()).toBe('beforeunload');
  await dialog.dismiss();
  release();
  const saved = async () =>
    (await client.get<DesignState>(`/api/studies/${study}/design`)).choices.missedCost;
  await expect.poll(saved).toBe(13);
  await expect(page.getByRole('button', { name: /^Undo/ }).first()).toBeVisible();
  // All is saved: the tab closes without a word.
  const closed = page.waitForEvent('close');
  await page.close({ runBeforeUnload: true });
  await closed;
});

test('at twice the size every page is one column, without sideways scroll', async ({ page }) => {
  const study = await demoStudy(page);
  await page.setViewportSize({ width: 640, height: 400 });
  for (const path of [
    'records',
    'design',
    'candidates',
    'held-out-check',
    'reasons',
    'screening',
  ]) {
    await page.goto(`${address()}/studies/${study}/${path}`);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    const over = await page.evaluate(
      () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
    );
    expect(`${path} ${over}`).toBe(`${path} 0`);
  }
});

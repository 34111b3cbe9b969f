import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '../support/browser-test.ts';
import { birthWeight } from '../support/birth-weight.ts';
import { bringFile, madeStudy, ready } from '../support/browser-study.ts';

const [header, ...rows] = birthWeight.trim().split('\n');
const list = (count: number) => [header, ...rows.slice(0, count)].join('\n');
const calledIn = (page: Page) => page.getByText(/of \d+ patients called in at/);
const choice = (page: Page) => page.getByRole('group', { name: 'Call in from this list' });

test('a capacity is a choice of one list, in every browser', async ({ page, context }) => {
  const { open, client, study } = await madeStudy('Room');
  const [, line] = await client.fitted(study);
  await client.send('POST', `/api/studies/${study}/looks`, { candidate: line.id });
  await open(page, 'screening');
  await bringFile(page, 'Choose a file', 'march.csv', list(120));
  await page.getByRole('button', { name: 'Score 120 patients' }).click();
  await expect(calledIn(page)).toBeVisible();
  const before = await calledIn(page).textContent();
  await bringFile(page, 'Bring in a list', 'april.csv', list(80));
  await page.getByRole('button', { name: 'Score 80 patients' }).click();
  await expect(calledIn(page)).toContainText('of 80 patients');

  const second = await context.newPage();
  await open(second, 'screening');
  await second.getByRole('button', { name: /^march/ }).click();
  await expect(calledIn(second)).toHaveText(before!);

  await test.step('it holds for this list', async () => {
    await choice(page).getByLabel('Patients to call in from this list').fill('12');
    await page.keyboard.press('Enter');
    await expect(calledIn(page)).toHaveText(/^12 of 80 patients called in/);
    const first = page.getByRole('table', { name: 'Call-in list, april' }).getByRole('row');
    await expect(first.nth(12)).toContainText('call in');
    await expect(first.nth(13)).toContainText('leave alone');
  });

  await test.step('another list of the same candidate, elsewhere, is as it was', async () => {
    await expect(calledIn(second)).toHaveText(before!);
    await second.reload();
    await ready(second);
    await second.getByRole('button', { name: /^march/ }).click();
    await expect(calledIn(second)).toHaveText(before!);
  });

  await test.step('the marker is moved, kept for the list, and given back', async () => {
    await page.getByRole('slider').focus();
    await page.keyboard.press('ArrowRight');
    await page.getByRole('button', { name: /^Use .* for this list$/ }).click();
    await expect(page.getByText('Cutoff set for this list.')).toBeVisible();
    await choice(page)
      .getByRole('button', { name: /^all at the model’s cutoff/ })
      .click();
    await expect(page.getByText('Cutoff set for this list.')).toBeHidden();
  });

  await test.step('a cutoff that is moved in Candidates is said, and waits for the list', async () => {
    const kept = await calledIn(page).textContent();
    await client.send('PUT', `/api/candidates/${line.id}/cutoff`, { rule: 'find', share: 0.99 });
    await expect(page.getByText(/is at version 2 now/)).toBeVisible();
    await expect(calledIn(page)).toHaveText(kept!);
    await page.getByRole('button', { name: 'Score the list again' }).click();
    await expect(page.getByText(/is at version 2 now/)).toBeHidden();
    await expect(calledIn(page)).not.toHaveText(kept!);
  });
});

test('patients who are not scored are not counted, and hide nobody who is called in', async ({
  page,
}) => {
  const { open, client, study } = await madeStudy('Gaps');
  await client.changeDesign(study, { needed: ['lwt'] });
  const [, line] = await client.fitted(study);
  await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [line.id] });
  await client.fitted(study);
  await client.send('POST', `/api/studies/${study}/looks`, { candidate: line.id });
  await open(page, 'screening');
  const gaps = rows
    .slice(0, 60)
    .map((row, i) => (i % 2 === 0 ? row : row.replace(/^((?:[^,]*,){2})[^,]*/, '$1')));
  await bringFile(page, 'Choose a file', 'gaps.csv', [header, ...gaps].join('\n'));
  await page.getByRole('button', { name: 'Score 30 patients' }).click();
  await expect(calledIn(page)).toContainText('30 not scored');
  const table = page.getByRole('table', { name: 'Call-in list, gaps' });
  await expect(table.getByRole('row').nth(1)).toContainText(/call in|leave alone/);
  const [screening] = await client.get<{ id: string }[]>(`/api/studies/${study}/screenings`);
  const { calls } = await client.get<{ calls: { called: number } }>(
    `/api/screenings/${screening.id}`,
  );
  expect(calls.called).toBeGreaterThan(3);
  await expect(calledIn(page)).toHaveText(new RegExp(`^${calls.called} of 60 patients`));
});

test('the chosen candidate is followed from page to page, and asked about until it is checked', async ({
  page,
}) => {
  const { open, client, study } = await madeStudy('Chosen');
  await client.send('POST', `/api/studies/${study}/candidates`, {
    family: 'decision-tree',
    settings: {},
  });
  const lines = await client.fitted(study);
  const dear = lines
    .slice(1)
    .reduce((a, b) => (a.results!.costPerThousand > b.results!.costPerThousand ? a : b));
  await open(page, `candidates?candidate=${dear.id}`);
  await page.getByRole('button', { name: 'Choose for this study' }).click();
  await expect(page.getByRole('row', { name: new RegExp(dear.name) })).toContainText('chosen');
  await expect(page.getByRole('banner')).toContainText(`with ${dear.name} (not checked)`);
  await open(page, 'reasons');
  await expect(page.getByRole('main')).toContainText(`${dear.name},`);
  await open(page, 'screening');
  await bringFile(page, 'Choose a file', 'clinic.csv', list(40));
  await expect(page.getByRole('combobox')).toHaveValue(dear.id);
  await page.getByRole('button', { name: 'Score 40 patients' }).click();
  const asked = page.getByRole('dialog', { name: `${dear.name} has not been checked` });
  await asked.getByRole('button', { name: 'Cancel' }).click();
  await expect(calledIn(page)).toBeHidden();
  await page.getByRole('button', { name: 'Score 40 patients' }).click();
  await asked.getByRole('button', { name: 'Go to Held-out check' }).click();
  await expect(
    page.getByRole('heading', { name: new RegExp(`^${dear.name} has not been held`) }),
  ).toBeVisible();
  await ready(page);
  await page.getByRole('button', { name: 'Look at the held-out patients' }).click();
  await expect(page.getByRole('banner')).not.toContainText('not checked');
  await open(page, 'screening');
  await page.getByRole('button', { name: 'Score 40 patients' }).click();
  await expect(calledIn(page)).toBeVisible();
});

test('the file of a long list is written in the background, with reasons or without', async ({
  page,
}) => {
  const { open, client, study } = await madeStudy('Long list');
  const [, line] = await client.fitted(study);
  const many = Array.from({ length: 20_500 }, (_, i) => rows[i % rows.length]);
  const { body } = await client.bringIn(study, [header, ...many].join('\n'), 'screening');
  await client.send('POST', `/api/studies/${study}/screenings`, {
    ...{ cohort: body.id, candidate: line.id, accept: true, unchecked: true },
  });
  await open(page, 'screening');
  await page.getByRole('button', { name: 'Download CSV' }).click();
  const dialog = page.getByRole('dialog', { name: 'Download 20,500 patients' });
  const download = page.waitForEvent('download');
  await dialog.getByRole('button', { name: 'Download CSV' }).click();
  const saved = readFileSync(await (await download).path(), 'utf8')
    .trim()
    .split('\r\n');
  expect(saved).toHaveLength(20_501);
  expect(saved[1]).toMatch(/ (raises|lowers) it/);
  await expect(dialog).toBeHidden();

  const files = page.getByRole('list', { name: 'Files of this list' });
  await expect(files.getByRole('listitem')).toHaveText([/^CSV with reasons/]);

  await page.route('**/files', (route) =>
    route.fulfill({ status: 503, json: { sentence: 'The database does not answer.' } }),
  );
  await page.getByRole('button', { name: 'Download CSV' }).click();
  await dialog.getByRole('checkbox', { name: /^With the three strongest reasons/ }).uncheck();
  await dialog.getByRole('button', { name: 'Download CSV' }).click();
  await expect(dialog.getByRole('alert')).toHaveText('The database does not answer.');
  await page.unroute('**/files');
  const second = page.waitForEvent('download');
  await dialog.getByRole('button', { name: 'Download CSV' }).click();
  const without = readFileSync(await (await second).path(), 'utf8')
    .trim()
    .split('\r\n');
  expect(without).toHaveLength(20_501);
  expect(without[1]).not.toMatch(/ (raises|lowers) it/);

  await test.step('it is there for whoever comes back, and can be taken away', async () => {
    await open(page, 'records');
    await open(page, 'screening');
    await expect(files.getByRole('listitem')).toHaveText([/without reasons/, /with reasons/]);
    const again = page.waitForEvent('download');
    await files.getByRole('link', { name: 'Download' }).last().click();
    expect((await again).suggestedFilename()).toMatch(/^call-in-list-.*\.csv$/);
    await files.getByRole('button', { name: 'Delete' }).first().click();
    await expect(files.getByRole('listitem')).toHaveText([/^CSV with reasons/]);
  });
});

test('a file of outcomes is joined to its list, and judged there', async ({ page }) => {
  const { client, open, study } = await madeStudy('Outcomes that come later');
  const [, line] = await client.fitted(study);
  const names = header.split(',');
  const outcome = names.indexOf('low');
  const inList = ['mother', ...names.filter((name) => name !== 'low' && name !== 'bwt')];
  const listRows = rows.slice(0, 80).map((row, i) => {
    const cells = row.split(',');
    return [`M${i}`, ...inList.slice(1).map((name) => cells[names.indexOf(name)])].join(',');
  });
  const outcomes = rows.slice(0, 60).map((row, i) => `M${i},${row.split(',')[outcome]}`);
  await client.send('POST', `/api/studies/${study}/looks`, { candidate: line.id });
  await open(page, 'screening');
  await bringFile(page, 'Choose a file', 'june.csv', [inList.join(','), ...listRows].join('\n'));
  const review = page.getByRole('button', { name: /^Bring in 80 patients/ });
  const score = page.getByRole('button', { name: 'Score 80 patients' });
  await expect(review.or(score)).toBeVisible();
  if (await review.isVisible()) {
    await page.getByLabel('Role of mother').selectOption('identifier');
    await review.click();
  }
  await expect(score).toBeVisible();
  await bringFile(page, 'Bring in a list', 'later.csv', ['mother,low', ...outcomes].join('\n'));
  const asked = page.getByRole('dialog', { name: 'Join these outcomes to a list?' });
  await expect(asked).toContainText('later.csv has mother, low of 60 rows');
  await asked.getByRole('button', { name: 'Join to june' }).click();
  await expect(asked).toBeHidden();
  await expect(page.getByRole('button', { name: /^june with outcomes/ })).toBeVisible();
  await score.click();
  await page.getByRole('button', { name: 'Outcomes known' }).click();
  await expect(
    page.getByText('20 patients of this list without a known outcome are not counted here.'),
  ).toBeVisible();
});

test('the call-in list is one Tab stop; arrow keys go through its patients and Enter opens one', async ({
  page,
}) => {
  const { client, open, study } = await madeStudy('List by keyboard');
  const [, line] = await client.fitted(study);
  // Without one predictor every risk rests on too little: that is said once.
  const without = list(40).replace('ptl', 'ptl_before');
  const { body } = await client.bringIn(study, without, 'screening');
  await client.send('POST', `/api/studies/${study}/screenings`, {
    ...{ cohort: body.id, candidate: line.id, accept: true, unchecked: true },
  });
  await open(page, 'screening');
  const table = page.getByRole('table', { name: /^Call-in list/ });
  await expect(table.getByRole('row').nth(1)).toContainText('call in');
  await expect(page.getByText('Every risk in this list rests on too little')).toContainText(
    'in all 40 scored patients',
  );
  await expect(table.getByText('Rests on what hardly any development patient had')).toHaveCount(0);
  await table.focus();
  await page.keyboard.press('Tab');
  await expect(table.locator(':focus')).toHaveCount(0);
  await table.focus();
  await page.keyboard.press('ArrowDown');
  await expect(table.getByRole('row').nth(1)).toBeFocused();
  await page.keyboard.press('ArrowDown');
  await expect(table.getByRole('row').nth(2)).toBeFocused();
  await table.focus();
  await page.keyboard.press('ArrowDown');
  await expect(table.getByRole('row').nth(2)).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/view=patient.*row=\d+/);
});

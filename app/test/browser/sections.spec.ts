import { expect, test, type Page } from '../support/browser-test.ts';
import { barriersOf } from '../support/barriers.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { lookFirst, madeStudy } from '../support/browser-study.ts';

const section = (page: Page, name: string) => page.getByRole('region', { name, exact: true });

test('the held-out check opens in sections that are jumped to, linked to and counted once', async ({
  page,
}) => {
  const { open, client, study } = await madeStudy('Sections');
  await open(page, 'held-out-check');
  await lookFirst(page);
  const links = page.getByRole('navigation', { name: 'Sections' });
  await links.getByRole('link', { name: 'Promise' }).press('Enter');
  await expect(page).toHaveURL(/#promise$/);
  await expect(section(page, 'Promise and check')).toBeInViewport();
  await page.reload();
  // Linked to, it is found again though it is drawn after the page.
  await expect(section(page, 'Promise and check')).toBeInViewport();
  expect(await client.get<unknown[]>(`/api/studies/${study}/looks`)).toHaveLength(1);
  await expect(section(page, 'Promise and check').getByRole('table')).toBeVisible();
  expect(await barriersOf(page, 'main')).toEqual([]);
});

test('rates are those of the errors at the cutoff, and follow the marker', async ({ page }) => {
  const { open } = await madeStudy('Rates');
  await open(page, 'held-out-check');
  await lookFirst(page);
  const rates = page.getByRole('table', { name: 'Rates' });
  const errors = page.getByRole('table', { name: /in rows, call in columns/ });
  const cells = async () =>
    (await errors.getByRole('cell').allInnerTexts()).flatMap((text) => {
      const count = /^\d+/.exec(text.trim());
      return count ? [Number(count[0])] : [];
    });
  const told = async (name: string) =>
    rates.getByRole('row', { name: new RegExp(`^${name}`) }).innerText();
  await expect(rates).toBeVisible();
  for (const key of ['.', '.', '.']) {
    const [found, missed, cases, alarms, left] = await cells();
    expect(found + missed).toBe(cases);
    expect(await told('Sensitivity')).toContain((found / cases).toFixed(2));
    expect(await told('Sensitivity')).toContain(`${found} of ${cases} with the event`);
    expect(await told('False positive rate')).toContain((alarms / (alarms + left)).toFixed(2));
    expect(await told('Youden’s index')).toContain(
      (found / cases + left / (alarms + left) - 1).toFixed(2),
    );
    await page.keyboard.press(key);
  }
});

test('risks that are off are recalibrated as a new candidate, and what became of them is shown', async ({
  page,
}) => {
  const { open, client, study } = await madeStudy('Off');
  await open(page, 'held-out-check');
  await lookFirst(page);
  const believed = section(page, 'Risks that can be believed');
  await believed.getByLabel('Risks are moved by').selectOption('an isotonic map');
  await believed.getByRole('button', { name: 'Recalibrate as a new candidate' }).press('Enter');
  await believed.getByRole('link', { name: 'See it in Candidates' }).press('Enter');
  await expect(page.getByRole('row', { name: /^Recalibrated 2/ })).toContainText(
    'Logistic regression 1',
  );
  const table = page.getByRole('table', { name: 'Risks of Logistic regression 1, out of fold' });
  await expect(table.getByRole('row', { name: /^Brier score/ })).toBeVisible();
  await expect(page.getByRole('figure').filter({ hasText: 'What risks become' })).toBeVisible();
  expect(await barriersOf(page, 'main')).toEqual([]);
  // Changed in a copy, it is of the same candidate.
  await page.getByRole('button', { name: 'Change a copy' }).click();
  const form = page.getByRole('dialog', { name: 'Change a copy of Recalibrated 2' });
  await expect(form.getByLabel('Candidate')).toHaveText('Logistic regression 1');
  await form.getByLabel('Risks are moved by').selectOption('an intercept');
  await form.getByRole('button', { name: 'Recalibrate', exact: true }).press('Enter');
  await expect(page.getByRole('row', { name: /^Recalibrated 3/ })).toContainText('an intercept');
  await client.fitted(study);
  await expect(page.getByText(/the log-odds of every patient/)).toBeVisible();
  // The look at the first fit stays the only one.
  expect(await client.get<unknown[]>(`/api/studies/${study}/looks`)).toHaveLength(1);
});

test('counts stand beside shares of rows, columns or all, and figures are saved in three ways', async ({
  page,
}) => {
  const { open } = await madeStudy('Saved');
  await open(page, 'held-out-check');
  await lookFirst(page);
  const errors = page.getByRole('table', { name: /in rows, call in columns/ });
  await expect(errors).toBeVisible();
  const texts = await errors.getByRole('cell').allInnerTexts();
  const [found, missed, , alarms, left] = texts.flatMap((text) => {
    const count = /^\d+/.exec(text.trim());
    return count ? [Number(count[0])] : [];
  });
  const cell = errors.getByRole('cell').filter({ hasText: 'found' });
  const percent = (share: number) => `${(100 * share).toFixed(0)}%`;
  const below = page.getByRole('combobox', { name: 'below' });
  for (const [choice, of] of [
    ['row', found + missed],
    ['column', found + alarms],
    ['all', found + missed + alarms + left],
  ] as const) {
    await below.selectOption(choice);
    await expect(cell).toContainText(percent(found / of));
  }
  const lift = page.getByRole('figure').filter({ hasText: 'Most at risk' });
  const saved = async (name: string) => {
    const download = page.waitForEvent('download');
    await lift.getByRole('button', { name }).press('Enter');
    const file = await download;
    const chunks: Buffer[] = [];
    for await (const chunk of await file.createReadStream()) chunks.push(chunk as Buffer);
    return { name: file.suggestedFilename(), bytes: Buffer.concat(chunks) };
  };
  const csv = await saved('Save as CSV');
  expect(csv.name).toBe('lift.csv');
  const lines = csv.bytes.toString('utf8').split('\n');
  expect(lines[0]).toBe('patients,cases');
  expect(lines.at(-1)).toBe(`47,${found + missed}`);
  const svg = await saved('Save as SVG');
  const drawing = svg.bytes.toString('utf8');
  expect(drawing).toMatch(/^<svg [^>]*xmlns="http:\/\/www\.w3\.org\/2000\/svg"/);
  // It stands alone: lines have their own strokes.
  expect(drawing).toMatch(/<path [^>]*stroke: rgb/);
  const png = await saved('Save as PNG');
  expect(png.bytes.subarray(1, 4).toString('latin1')).toBe('PNG');
});

test('another share of cases, the most at risk, a risk told and groups are asked for by keys', async ({
  page,
}) => {
  const { open } = await madeStudy('Asked');
  await open(page, 'held-out-check');
  await lookFirst(page);

  await test.step('another population', async () => {
    const there = section(page, 'Predictive values elsewhere');
    const row = there.getByRole('row', { name: /^Positive predictive value/ });
    await expect(row).toBeVisible();
    const [before] = await row.getByRole('cell').allInnerTexts();
    await there.getByRole('textbox', { name: 'Share of cases there' }).fill('5');
    await page.keyboard.press('Enter');
    const [here, now] = await row.getByRole('cell').allInnerTexts();
    expect(here).toBe(before);
    expect(Number(now)).toBeLessThan(Number(here));
    await there.getByRole('textbox', { name: 'Share of cases there' }).fill('120');
    await page.keyboard.press('Enter');
    await expect(there.getByText('A number from 0.01 to 99.9, please.')).toBeVisible();
    await there.getByRole('button', { name: 'As here' }).press('Enter');
    expect((await row.getByRole('cell').allInnerTexts())[1]).toBe(before);
  });

  await test.step('the most at risk', async () => {
    const lift = page.getByRole('figure').filter({ hasText: 'Most at risk' });
    await lift.getByRole('textbox', { name: 'Most at risk' }).fill('47');
    await page.keyboard.press('Enter');
    // All that are held out: every case is among them.
    await expect(lift).toContainText(
      /Among the 47 patients most at risk .* 100% of all, 1\.0 times/,
    );
  });

  await test.step('what it is worth', async () => {
    const worth = section(page, 'Is it worth it');
    await expect(worth).toContainText('With 4 false alarms for a missed case');
    await expect(worth).toContainText('The design says 4 (upright)');
  });

  await test.step('groups', async () => {
    const whom = section(page, 'For whom');
    await whom.getByRole('combobox', { name: 'By' }).selectOption('smoke');
    const rows = whom.getByRole('table').getByRole('row');
    await expect(rows).toHaveCount(3);
    const counts = await Promise.all(
      [1, 2].map(async (i) => Number(await rows.nth(i).getByRole('cell').first().innerText())),
    );
    expect(counts[0] + counts[1]).toBe(47);
    await whom.getByRole('combobox', { name: 'Measure' }).selectOption('area');
    await expect(whom.getByRole('columnheader', { name: 'AUC' })).toBeVisible();
    await expect(whom).toContainText(/The smallest group, \S+, has \d+ patients/);
    await whom.getByRole('combobox', { name: 'By' }).selectOption('age');
    await expect(whom.getByRole('rowheader', { name: /^below/ })).toBeVisible();
  });
});

test('who was wrong is listed, filtered, opened as one patient and saved, and follows the cutoff', async ({
  page,
}) => {
  const { open } = await madeStudy('Wrong');
  await open(page, 'held-out-check');
  await lookFirst(page);
  const wrong = section(page, 'Who was wrong');
  const said = /At [\d.]+, (\d+) patients? with the event (?:is|are) missed and (\d+) others?/;
  await expect(wrong).toContainText(said);
  const counts = async () =>
    said
      .exec(await wrong.innerText())!
      .slice(1)
      .map(Number);
  const [missed, alarms] = await counts();
  const list = wrong.getByRole('table', { name: 'Patients who are called wrongly' });
  await wrong.getByRole('combobox', { name: 'Listed' }).selectOption('alarms');
  await expect(list).toHaveAttribute('aria-rowcount', String(alarms + 1));
  await expect(list.getByText('missed')).toHaveCount(0);
  const download = page.waitForEvent('download');
  await wrong.getByRole('button', { name: 'Save as CSV' }).press('Enter');
  const stream = await (await download).createReadStream();
  const chunks: Buffer[] = [];
  for await (const chunk of stream) chunks.push(chunk as Buffer);
  const lines = Buffer.concat(chunks).toString('utf8').trim().split('\n');
  expect(lines).toHaveLength(alarms + 1);
  expect(lines[0].trim()).toBe('patient,error,observed,risk');
  for (const line of lines.slice(1)) expect(line).toMatch(/,false alarm,no,0\.\d+/);
  await list.getByRole('row').nth(1).click();
  const patient = page.getByRole('dialog', { name: /^Patient / });
  await expect(patient).toContainText('No case, and called in: Logistic regression 1 gave');
  await expect(patient.getByRole('rowheader', { name: 'low (outcome)' })).toBeVisible();
  await page.keyboard.press('Escape');
  // Called in are more from a lower cutoff: fewer missed, more false alarms.
  for (let i = 0; i < 10; i++) await page.keyboard.press(',');
  await expect.poll(async () => (await counts())[1]).toBeGreaterThan(alarms);
  expect((await counts())[0]).toBeLessThanOrEqual(missed);
});

test('others are looked at beside it as one look, a list gives its share of cases, a table is saved', async ({
  page,
}) => {
  const { open, client, study } = await madeStudy('Beside');
  for (const family of ['naive-bayes', 'decision-tree'])
    await client.send('POST', `/api/studies/${study}/candidates`, { family, settings: {} });
  const [, logistic] = await client.fitted(study);
  const all = birthWeight.trim().split('\n');
  const rows = all.filter((_, i) => i === 0 || i % 5 === 1).join('\n');
  const list = await client.bringIn(study, rows, 'screening', asPublished);
  await client.send('POST', `/api/studies/${study}/screenings`, {
    cohort: list.body.id,
    candidate: logistic.id,
    accept: true,
    unchecked: true,
  });
  await open(page, `held-out-check?candidate=${logistic.id}`);
  await lookFirst(page);

  await test.step('as one look', async () => {
    const beside = section(page, 'Beside other candidates');
    const act = beside.getByRole('button', { name: 'Look at them together' });
    await expect(act).toBeDisabled();
    await beside.getByLabel('Naive Bayes 2').press('Space');
    await beside.getByLabel('Decision tree 3').press('Space');
    await expect(beside).toContainText('Counted as one look, at 3 candidates.');
    await act.press('Enter');
    const differences = beside.getByRole('table', { name: /Each less A, .* 47 held-out patients/ });
    await expect(differences.getByRole('row')).toHaveCount(4);
    await expect(beside.getByRole('figure').filter({ hasText: 'held out. AUC: A ' })).toBeVisible();
    // The note beside the page knows of it too.
    await expect(page.getByText('2 looks at these patients')).toBeVisible();
    await page.reload();
    // Linked to and seen, it is shown again, and no look counted.
    await expect(differences).toBeVisible();
    expect(await client.get<unknown[]>(`/api/studies/${study}/looks`)).toHaveLength(2);
  });

  await test.step('the share of a list', async () => {
    const there = section(page, 'Predictive values elsewhere');
    const lists = there.getByLabel('or as in');
    await lists.selectOption({ index: 1 });
    // The outcome is known of all: it is that, not what is expected.
    await expect(there).toContainText(
      /\d+(\.\d)?% of 38 patients whose outcome is known are cases/,
    );
    const percent = /In .* ([\d.]+)% of 38/.exec(await there.innerText())![1];
    await expect(there.getByRole('textbox', { name: 'Share of cases there' })).toHaveValue(percent);
    await expect(there.getByRole('columnheader', { name: `There, ${percent}%` })).toBeVisible();
  });

  await test.step('a table', async () => {
    const rates = section(page, 'Rates');
    const download = page.waitForEvent('download');
    await rates.getByRole('button', { name: 'Save as CSV' }).press('Enter');
    const stream = await (await download).createReadStream();
    const chunks: Buffer[] = [];
    for await (const chunk of stream) chunks.push(chunk as Buffer);
    const lines = Buffer.concat(chunks).toString('utf8').trim().split('\n');
    expect(lines[0]).toBe('Rate,Value,95% interval,In these patients');
    const told = rates
      .getByRole('row', { name: /^Sensitivity/ })
      .getByRole('cell')
      .first();
    expect(lines.find((row) => row.startsWith('Sensitivity'))).toContain(await told.innerText());
  });
});

test('a number has errors, limits and a tolerance, and no risks to believe', async ({ page }) => {
  const { open, client, study } = await madeStudy('Number sections');
  await client.changeDesign(study, {
    kind: 'number',
    outcome: 'bwt',
    caseFrom: 2500,
    caseSide: 'up to',
  });
  await client.send('POST', `/api/studies/${study}/candidates`, { family: 'linear', settings: {} });
  const line = (await client.fitted(study)).at(-1)!;
  await open(page, `held-out-check?candidate=${line.id}`);
  await lookFirst(page);
  const off = section(page, 'How far off');
  const errors = off.getByRole('table', { name: 'How far off' });
  await expect(errors.getByRole('row', { name: /^Limits of agreement/ })).toBeVisible();
  // The reference candidate says the same of all: it explains nothing, and is farther off.
  const rmse = await errors.getByRole('row', { name: /^RMSE/ }).getByRole('cell').allInnerTexts();
  expect(Number(rmse[2])).toBeGreaterThan(parseFloat(rmse[0]));
  const against = off.getByRole('figure').filter({ hasText: 'Errors against' });
  await against.getByRole('combobox', { name: 'Errors against' }).selectOption('race');
  await against.getByRole('button', { name: 'Copy the numbers' }).press('Enter');
  await expect
    .poll(async () => (await page.evaluate(() => navigator.clipboard.readText())).split('\n')[0])
    .toBe('Race\tpredicted less observed');
  const copied = (await page.evaluate(() => navigator.clipboard.readText())).split('\n').slice(1);
  expect(copied).toHaveLength(47);
  expect(new Set(copied.map((row) => row.split('\t')[0]))).toEqual(new Set(['1', '2', '3']));
  // As many patients are within a tolerance as have no larger error.
  const told = async () => Number(/(\d+) of (\d+) patients/.exec(await off.innerText())![1]);
  await off.getByRole('textbox', { name: 'Within a tolerance of' }).fill('300');
  await page.keyboard.press('Enter');
  await expect.poll(told).toBeGreaterThan(0);
  const near = await told();
  await off.getByRole('textbox', { name: 'Within a tolerance of' }).fill('100000');
  await page.keyboard.press('Enter');
  await expect.poll(told).toBe(47);
  expect(near).toBeLessThan(47);
  await expect(section(page, 'Ranking')).toBeVisible();
  await expect(section(page, 'Risks that can be believed')).toHaveCount(0);
  await expect(section(page, 'Level by level')).toHaveCount(0);
  await expect(page.getByRole('figure').filter({ hasText: 'Decision curve' })).toHaveCount(0);
  await expect(section(page, 'Rates')).toContainText('with 2500');
  await expect(section(page, 'Promise and check').getByRole('table')).toBeVisible();
});

test('levels are judged one by one and on the whole', async ({ page }) => {
  const { open, client, study } = await madeStudy('Level sections');
  const changed = await client.changeDesign(study, {
    kind: 'levels',
    outcome: 'race',
    reference: '1',
    cases: ['2', '3'],
  });
  expect(changed.status).toBe(200);
  await client.send('POST', `/api/studies/${study}/candidates`, {
    family: 'multinomial',
    settings: {},
  });
  const line = (await client.fitted(study)).at(-1)!;
  await open(page, `held-out-check?candidate=${line.id}`);
  await lookFirst(page);
  const levels = section(page, 'Level by level');
  const table = levels.getByRole('table', { name: 'Each level against the others' });
  await expect(table.getByRole('row')).toHaveCount(6);
  const cells = async (name: string) =>
    (
      await table
        .getByRole('row', { name: new RegExp(`^${name} `) })
        .getByRole('cell')
        .allInnerTexts()
    ).map(Number);
  const [white, black, other] = [await cells('1'), await cells('2'), await cells('3')];
  const [plain, weighted] = [await cells('mean of levels'), await cells('mean of patients')];
  const counts = [white[0], black[0], other[0]];
  expect(plain[0]).toBe(counts[0] + counts[1] + counts[2]);
  // Sensitivity, the first measure: a plain mean, and one by patients.
  expect(plain[1]).toBeCloseTo((white[1] + black[1] + other[1]) / 3, 1);
  const byPatients = [white, black, other].reduce((sum, [count, value]) => sum + count * value, 0);
  expect(weighted[1]).toBeCloseTo(byPatients / plain[0], 1);
  await expect(levels).toContainText(
    /Average AUC over all pairs of levels \(Hand and Till\) 0\.\d\d/,
  );
  const one = levels.getByRole('region', { name: 'One level' });
  await one.getByLabel('Drawn for').selectOption('2 against the others');
  // The area that the table gives of it.
  const drawn = one.getByRole('figure').filter({ hasText: 'AUC: A ' });
  await expect(drawn).toBeVisible();
  const area = Number(/AUC: A (0\.\d+)/.exec(await drawn.innerText())![1]);
  expect(Math.abs(area - black[6])).toBeLessThan(0.0051);
  await expect(
    one.getByRole('figure').filter({ hasText: 'On the dotted line risks' }),
  ).toBeVisible();
  // Levels without an order are not so many levels off.
  await expect(levels).not.toContainText('levels off on average');
  await expect(section(page, 'Risks that can be believed')).toBeVisible();
});

test('the page prints whole, without what can only be pressed', async ({ page }) => {
  const { open } = await madeStudy('On paper');
  await open(page, 'held-out-check');
  await lookFirst(page);
  await expect(section(page, 'Promise and check').getByRole('table')).toBeVisible();
  await page.emulateMedia({ media: 'print' });
  await expect(page.getByText(/^On paper: Logistic regression 1 at cutoff/)).toBeVisible();
  await expect(page.getByRole('navigation', { name: 'Sections' })).toBeHidden();
  await expect(page.getByRole('button', { name: 'Save as PNG' })).toHaveCount(0);
  // Nothing of it is hidden in a part that scrolls.
  const isCut = await page
    .getByRole('region', { name: 'Held-out check, content' })
    .evaluate((element) => element.scrollHeight > element.clientHeight + 1);
  expect(isCut).toBe(false);
});

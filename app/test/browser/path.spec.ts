import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '../support/browser-test.ts';
import { birthWeight } from '../support/birth-weight.ts';
import { ready, lookFirst } from '../support/browser-study.ts';

const address = () => process.env.PRODUCT_ADDRESS!;

/** The whole path with a file that is not the demo: Hosmer & Lemeshow's 189 mothers. */
test('from a file of patients to a call-in list, with mouse and keyboard', async ({ page }) => {
  const errors: string[] = [];
  page.on('pageerror', (error) => errors.push(error.message));
  page.on('console', (message) => message.type() === 'error' && errors.push(message.text()));

  await test.step('a new study', async () => {
    await page.goto(address());
    await ready(page);
    await page.getByRole('button', { name: /^Study: / }).click();
    await page.getByRole('button', { name: 'New study' }).click();
    await page.getByRole('textbox', { name: 'Name' }).fill('Low birth weight');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('heading', { name: 'Bring in a file of patients' })).toBeVisible();
    await expect(page.getByText('no patients yet')).toBeVisible();
    await ready(page);
  });

  await test.step('Records: the file as understood, corrected, brought in', async () => {
    await bring(page, 'Choose a file', 'mothers.csv', birthWeight);
    await expect(page.getByText('as understood, nothing stored yet')).toBeVisible();
    await expect(page.getByText('race: codes?')).toBeVisible();
    await page.getByLabel('Kind of race').selectOption('category');
    await expect(page.getByText('race: codes?')).toBeHidden();
    await page.getByLabel('Role of bwt').selectOption('set aside');
    await page.getByLabel('Role of low').selectOption('outcome');
    await page.getByLabel('Label of low', { exact: true }).fill('Low birth weight');
    await page.getByLabel('Unit of lwt').fill('lb');
    await page.getByLabel('Codes of ftv that mean not known').fill('6');
    await page.keyboard.press('Tab');
    await expect(page.getByRole('row', { name: /^ftv/ })).toContainText('1 not known');
    await page.getByLabel('Name of the cohort').fill('Mothers');
    await page.getByRole('button', { name: 'Bring in 189 patients' }).click();
    await expect(page.getByText('Mothers: 189 patients', { exact: true })).toBeVisible();
    await expect(
      page.getByRole('link', { name: /Records 189 patients, 10 columns/ }),
    ).toBeVisible();
    await page.getByRole('button', { name: 'Rows' }).click();
    await expect(page.getByRole('row', { name: /^1 no 19 182 2/ })).toBeVisible();
  });

  await test.step('Design: the event in words, both sides counted, costs', async () => {
    await page.keyboard.press('3');
    await expect(page.getByText('Which level is the event, the one to find?')).toBeVisible();
    await ready(page);
    await page.getByLabel('= yes').check();
    await expect(page.getByRole('row', { name: 'Development 142 44 31.0%' })).toBeVisible();
    await expect(page.getByRole('row', { name: 'Held out 47 15 31.9%' })).toBeVisible();
    await page.getByRole('textbox', { name: 'A missed case' }).fill('4');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('link', { name: '4 ×' })).toBeVisible();
    await expect(page.getByRole('row', { name: /^Race – – 2, 3 against 1/ })).toBeVisible();
  });

  await test.step('Candidates: the reference is there, a logistic regression is added', async () => {
    await page.getByRole('link', { name: /Candidates/ }).click();
    await expect(page.getByRole('row', { name: /Reference .* 0.50/ })).toBeVisible();
    await ready(page);
    await page.getByRole('button', { name: 'Add candidate' }).click();
    await page.getByLabel('Iterations at most').fill('2');
    await page.getByRole('button', { name: 'Fit it' }).click();
    await expect(page.getByText('Iterations at most: from 5 to 200.')).toBeVisible();
    await page.getByLabel('Iterations at most').fill('60');
    await page.getByRole('button', { name: 'Fit it' }).click();
    await expect(
      page.getByRole('heading', { name: 'Logistic regression 1: coefficients' }),
    ).toBeVisible();
    await expect(page.getByRole('row', { name: /^Lwt per SD, .* lb/ })).toBeVisible();
    await expect(page.getByRole('link', { name: /Candidates 2 fitted, best cost/ })).toBeVisible();
    await page.getByRole('button', { name: 'finds at least' }).click();
    const row = page.getByRole('row', { name: /^Logistic regression 1/ });
    await expect(row.getByRole('cell').nth(1)).toHaveText(/0\.9\d/);
  });

  await test.step('Held-out check: a counted look, the cutoff moved by key and pointer', async () => {
    await page.getByRole('link', { name: /Held-out check no look yet/ }).click();
    await ready(page);
    await lookFirst(page);
    await expect(page.getByText('First look at these patients')).toBeVisible();
    await expect(page.getByRole('link', { name: /Held-out check 1 look since/ })).toBeVisible();
    await expect(page.getByText('47 patients the candidates have never seen')).toBeVisible();
    const marker = page.getByRole('slider', { name: 'Cutoff, held-out patients' });
    await page.keyboard.press('.');
    await expect(page.getByText('The marker was moved by hand.')).toBeVisible();
    const moved = Number(await marker.getAttribute('aria-valuenow'));
    await page.keyboard.press('Shift+.');
    await expect(marker).toHaveAttribute(
      'aria-valuenow',
      String(Number((moved + 0.001).toFixed(3))),
    );
    await page.getByRole('button', { name: /^Back to/ }).click();
    await expect(page.getByRole('button', { name: 'costs least' })).toBeVisible();
    const box = (await marker.boundingBox())!;
    await page.mouse.click(400, box.y + box.height / 2);
    await expect(page.getByRole('heading', { name: /Errors at cutoff 0\.6\d/ })).toBeVisible();
    await page.getByRole('button', { name: /^Keep 0\.6/ }).click();
    await expect(page.getByText('Cutoff put by hand. Put it where it')).toBeVisible();
    await page.getByRole('button', { name: 'costs least' }).click();
    await expect(page.getByRole('complementary').getByText('Promise and check')).toBeVisible();
    await page.reload();
    await expect(page.getByText('First look at these patients')).toBeVisible();
  });

  await test.step('Screening: another list checked, scored, read and downloaded', async () => {
    await page.keyboard.press('7');
    await expect(page.getByText('Bring in a list of patients to screen')).toBeVisible();
    await ready(page);
    const [header, ...rows] = birthWeight.trim().split('\n');
    const list = [
      `id,${header.replace('ptl', 'unused')}`,
      ...rows
        .slice(0, 60)
        .map((row, i) => `m${i},${row.replace(/^(\d,\d+,\d+),\d/, i === 5 ? '$1,4' : '$1,1')}`),
    ].join('\n');
    await bring(page, 'Choose a file', 'next-clinic.csv', list);
    await expect(page.getByText('1 predictor not in the file')).toBeVisible();
    await expect(page.getByText(/1 with the new level "4"/)).toBeVisible();
    await expect(
      page.getByText(/columns the model does not use: id, low, unused, bwt/),
    ).toBeVisible();
    await page.getByRole('button', { name: 'Score 60 patients' }).click();
    // Without ptl, which every development patient had, no risk is given before this was said.
    const asked = page.getByRole('dialog', { name: 'Some risks would rest on too little' });
    await expect(asked).toContainText('Ptl not known: 60 patients here, none then');
    await asked.getByRole('button', { name: 'Score all the same' }).click();
    await expect(page.getByText(/of 60 patients called in at/)).toBeVisible();
    const first = page
      .getByRole('table', { name: /Call-in list/ })
      .getByRole('row')
      .nth(1);
    await expect(first).toContainText('call in');
    await page.getByRole('button', { name: 'Outcomes known' }).click();
    await expect(
      page.getByRole('heading', { name: 'Held-out patients at this cutoff' }),
    ).toBeVisible();
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Download CSV' }).click();
    const file = await (await download).path();
    const lines = readFileSync(file, 'utf8').trim().split('\r\n');
    expect(lines[0]).toBe(
      'patient,row in file,risk,call,hardly seen before,unusualness,unusual,reason 1,reason 2,reason 3,order of reasons,model,version,cutoff,scored at',
    );
    expect(lines.length).toBe(61);
    expect(lines[1]).toMatch(
      /^m\d+,\d+,0\.\d+,call in,(race; )?ptl,0\.\d+,(yes|no)(,"?\w+( \(missing, imputed\))? (raises|lowers) it"?){3},certain,Logistic regression \d,\d+,0\.\d+,2/,
    );
    await expect(page.getByRole('link', { name: /Screening 1 list, 1 scored/ })).toBeVisible();
  });

  expect(errors).toEqual([]);
});

async function bring(page: Page, button: string, name: string, text: string): Promise<void> {
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: button }).click();
  await (await chooser).setFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });
}

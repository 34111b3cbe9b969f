import { expect, test } from '../support/browser-test.ts';
import { address, bringFile, ready } from '../support/browser-study.ts';

/** Semicolons, decimal commas, day first, Latin-1, codes, and totals at the end. */
function germanFile(): Buffer {
  const rows = Array.from({ length: 120 }, (_, i) =>
    [
      4000 + 13 * i,
      `${60 + (i % 30)},${i % 10}`,
      `${String(1 + (i % 28)).padStart(2, '0')}.${String(1 + (i % 12)).padStart(2, '0')}.2025`,
      [1, 2, 3, 9][i % 4],
      i % 3 ? 'nein' : 'ja',
    ].join(';'),
  );
  const text = [
    'Patient;Körpergewicht (kg);Aufnahme;Rauchen;Verstorben',
    ...rows,
    'Summe;8934,0;;;',
  ];
  return Buffer.from(text.join('\r\n'), 'latin1');
}

test('a file in other habits is understood, and every wrong guess put right in place', async ({
  page,
}) => {
  await page.goto(address());
  await ready(page);
  await page.getByRole('button', { name: /^Study: / }).click();
  await page.getByRole('button', { name: 'New study' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Habits');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Bring in a file of patients' })).toBeVisible();
  await ready(page);
  await bringFile(page, 'Choose a file', 'kohorte.csv', germanFile());

  await test.step('as guessed', async () => {
    await expect(page.getByLabel('Cells parted by')).toHaveValue(';');
    await expect(page.getByLabel('letters in')).toHaveValue('windows-1252');
    await expect(page.getByLabel('decimal')).toHaveValue('comma');
    await expect(page.getByLabel('Order in the dates of Aufnahme')).toHaveValue('day first');
    await expect(page.getByLabel('Unit of Körpergewicht (kg)')).toHaveValue('kg');
    await expect(page.getByRole('row', { name: '1 4000 60 2025-01-01 1 yes' })).toBeVisible();
  });

  await test.step('totals left out, another mark tried and taken back', async () => {
    await expect(page.getByRole('button', { name: 'Bring in 121 patients' })).toBeVisible();
    await page.getByRole('button', { name: 'Leave the last row out' }).click();
    await expect(page.getByRole('button', { name: 'Bring in 120 patients' })).toBeVisible();
    await expect(page.getByText('Totals at the end?')).toBeHidden();
    await page.getByLabel('Cells parted by').selectOption(',');
    await expect(page.getByText('Uneven rows')).toBeVisible();
    await page.getByLabel('Cells parted by').selectOption(';');
    await expect(page.getByText('Uneven rows')).toBeHidden();
  });

  await test.step('codes get names, one means not known', async () => {
    await page.getByLabel('Kind of Rauchen').selectOption('category');
    await page.getByRole('button', { name: 'Levels of Rauchen' }).click();
    await page.getByLabel('1 stands for').fill('never');
    await page.getByLabel('2 stands for').fill('former');
    await page.getByLabel('3 stands for').fill('current');
    await page.getByLabel('9 means not known').check();
    await page.getByRole('button', { name: 'Take these levels' }).click();
    await expect(page.getByRole('row', { name: /^Rauchen/ })).toContainText(
      'never, former, current · 30 not known',
    );
    await expect(page.getByLabel('Codes of Rauchen that mean not known')).toHaveValue('9');
  });

  await test.step('stored as shown, with the file as it came', async () => {
    await page.getByLabel('Role of Verstorben').selectOption('outcome');
    await page.getByRole('button', { name: 'Bring in 120 patients' }).click();
    await expect(page.getByText('kohorte: 120 patients', { exact: true })).toBeVisible();
    await expect(page.getByText(/SHA-256 begins with [0-9a-f]{12}/)).toBeVisible();
    await expect(page.getByRole('row', { name: /^Rauchen/ })).toContainText(
      'never: 30, former: 30, current: 30',
    );
  });
});

test('two columns of the same name and one without are named, and it is said', async ({ page }) => {
  await page.goto(`${address()}/studies/new`);
  await ready(page);
  await page.getByRole('textbox', { name: 'Name' }).fill('Names');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Bring in a file of patients' })).toBeVisible();
  await ready(page);
  await bringFile(page, 'Choose a file', 'names.csv', 'age,,age\n50,1,2\n60,2,3\n');
  await expect(page.getByText('They are called: column 2, age (2).')).toBeVisible();
  await expect(page.getByLabel('Label of age (2)')).toBeVisible();
});

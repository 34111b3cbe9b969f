import { expect, test } from '../support/browser-test.ts';
import { address, madeStudy } from '../support/browser-study.ts';

// What others in the same product would feel: done when they are through.

test('a page goes on without a reload when the server was killed', async ({ page }) => {
  const { open, client } = await madeStudy('Killed');
  await open(page, 'candidates');
  process.kill(Number(process.env.PRODUCT_WEB_PID), 'SIGKILL');
  await expect
    .poll(() =>
      client.get('/api/health').then(
        () => true,
        () => false,
      ),
    )
    .toBe(true);
  await page.getByRole('button', { name: 'Add candidate' }).click();
  await page.getByRole('button', { name: 'Fit it' }).click();
  await expect(
    page.getByRole('heading', { name: 'Logistic regression 2: coefficients' }),
  ).toBeVisible();
});

test('whoever comes back finds the study that was opened last', async ({ page }) => {
  const last = await madeStudy('Opened last');
  await madeStudy('Made after it, never opened');
  const opened = page.waitForResponse(`**/studies/${last.study}/opened`);
  await last.open(page, 'records');
  await opened;
  await page.goto(address());
  await expect(page.getByRole('button', { name: 'Study: Opened last.' })).toBeVisible();
});

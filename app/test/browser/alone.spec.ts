import { expect, test } from '@playwright/test';
import { madeStudy } from '../support/browser-study.ts';

// What others in the same product would feel: done when they are through.

test('a page goes on without a reload when the server was killed', async ({ page }) => {
  const { open, client } = await madeStudy('Killed');
  await open(page, 'candidates');
  process.kill(Number(process.env.PRODUCT_WEB_PID), 'SIGKILL');
  await expect
    .poll(
      () =>
        client.get('/api/health').then(
          () => true,
          () => false,
        ),
      { timeout: 30_000 },
    )
    .toBe(true);
  await page.getByRole('button', { name: 'Add candidate' }).click();
  await page.getByRole('button', { name: 'Fit it' }).click();
  await expect(
    page.getByRole('heading', { name: 'Logistic regression 2: coefficients' }),
  ).toBeVisible({ timeout: 30_000 });
});

import { expect, test } from '../support/browser-test.ts';
import type { Overview } from '../../src/contract/studies.ts';
import { address, madeStudy, ready } from '../support/browser-study.ts';

test('ten tabs of one browser all load, all hear of a change, and lose nothing when others close', async ({
  context,
}) => {
  const { client, study } = await madeStudy('Tabs');
  const pages = [];
  for (let i = 0; i < 10; i++) {
    const page = await context.newPage();
    await page.goto(`${address()}/studies/${study}/design`);
    await ready(page);
    pages.push(page);
  }
  const cost = async (value: number) =>
    expect((await client.changeDesign(study, { missedCost: value })).status).toBe(200);
  await cost(6);
  for (const page of pages) await expect(page.getByRole('link', { name: '6 ×' })).toBeVisible();
  for (const page of pages.slice(0, 9)) await page.close();
  await cost(9);
  await expect(pages[9].getByRole('link', { name: '9 ×' })).toBeVisible();
});

test('what was deleted is erased for good once its name is typed', async ({ page }) => {
  const { client, study } = await madeStudy('To be erased');
  await client.send('DELETE', `/api/studies/${study}`);
  await page.goto(`${address()}/studies/${study}/records`);
  await ready(page);
  await page.getByRole('button', { name: 'Deleted within the last day' }).click();
  const row = page.getByRole('row', { name: /study To be erased/ });
  await row.getByRole('button', { name: 'Erase now' }).click();
  const dialog = page.getByRole('dialog', { name: 'Erase To be erased for good?' });
  const erase = dialog.getByRole('button', { name: 'Erase it now' });
  await expect(erase).toBeDisabled();
  await dialog.getByRole('textbox').fill('To be');
  await expect(erase).toBeDisabled();
  await dialog.getByRole('textbox').fill('To be erased');
  await page.keyboard.press('Enter');
  // Behind an open dialog nothing has a role: first that is gone.
  await expect(dialog).toHaveCount(0);
  await expect(row).toHaveCount(0);
  expect((await client.send('POST', `/api/studies/${study}/restore`)).status).toBe(404);
});

test('no page breaks the policy of its content', async ({ page }) => {
  const { client, study } = await madeStudy('Policy');
  const broken: string[] = [];
  page.on('console', (message) => {
    if (message.type() === 'error') broken.push(message.text());
  });
  page.on('pageerror', (error) => broken.push(error.message));
  for (const stage of [
    'records',
    'survey',
    'design',
    'candidates',
    'held-out-check',
    'reasons',
    'screening',
  ]) {
    await page.goto(`${address()}/studies/${study}/${stage}`);
    await ready(page);
  }
  await page.goto(`${address()}/studies/new`);
  await page.waitForLoadState('networkidle').catch(() => undefined);
  expect(broken).toEqual([]);
  // What is put into a page from elsewhere does not run.
  await page.goto(`${address()}/studies/${study}/records`);
  const ran = await page.evaluate(async () => {
    const script = document.createElement('script');
    script.textContent = 'window.ran = true';
    document.body.append(script);
    await new Promise((resolve) => setTimeout(resolve, 100));
    return (window as unknown as { ran?: boolean }).ran;
  });
  expect(ran).toBeUndefined();
  expect((await client.get<Overview>(`/api/studies/${study}`)).study.name).toBe('Policy');
});

import { expect, test, type Page } from '../support/browser-test.ts';
import { lookFirst, madeStudy, ready, settled } from '../support/browser-study.ts';

/** Goes through the page with Tab until it comes round, and tells where the focus was. */
async function tabThrough(page: Page, most = 260): Promise<{ name: string; outlined: boolean }[]> {
  const stops: { name: string; outlined: boolean }[] = [];
  for (let i = 0; i < most; i++) {
    await page.keyboard.press('Tab');
    const stop = await page.evaluate(() => {
      const element = document.activeElement;
      if (!element || element === document.body) return null;
      const first = !('tabbed' in (element as HTMLElement).dataset);
      (element as HTMLElement).dataset.tabbed = '';
      // The marker shows its focus by a frame around its grip.
      const framed =
        (element instanceof SVGElement ? element.querySelector('rect') : null) ?? element;
      const { outlineStyle, outlineWidth, stroke } = getComputedStyle(framed);
      const label = element.getAttribute('aria-label') ?? element.textContent;
      return {
        first,
        name: `${element.tagName} ${label.trim().slice(0, 40)}`,
        outlined:
          framed === element
            ? outlineStyle !== 'none' && Number.parseFloat(outlineWidth) > 0
            : stroke !== 'none',
      };
    });
    if (!stop) continue;
    if (!stop.first) break;
    stops.push({ name: stop.name, outlined: stop.outlined });
  }
  return stops;
}

/** Controls that are seen but never had the focus. One of a group of radio buttons stands for all. */
const missed = (page: Page) =>
  page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('a[href], button, input, select, summary')]
      .filter((element) => element.checkVisibility() && !element.matches(':disabled'))
      .filter((element) => !element.closest('[popover]'))
      .filter((element) => element.getAttribute('type') !== 'radio')
      .filter((element) => !('tabbed' in element.dataset))
      .map((element) => element.outerHTML.slice(0, 120)),
  );

for (const path of [
  'records',
  'design',
  'candidates',
  'held-out-check',
  'reasons?row=3',
  'screening?view=patient',
]) {
  test(`${path}: every control is reached with Tab, and the focus is always seen`, async ({
    page,
  }) => {
    const { open } = await madeStudy(`Keys ${path}`);
    await open(page, path);
    if (path === 'held-out-check') {
      await lookFirst(page);
      // What is looked at, and how often it was, come one after the other.
      await expect(page.getByText('Positive predictive value').first()).toBeVisible();
      await expect(page.getByText('First look at these patients')).toBeVisible();
    }
    // What comes into a section later has controls of its own.
    await settled(page);
    const stops = await tabThrough(page);
    expect(stops.length).toBeGreaterThan(15);
    expect(stops.filter(({ outlined }) => !outlined).map(({ name }) => name)).toEqual([]);
    expect(await missed(page)).toEqual([]);
  });
}

test('the margin folds to a strip with the count, stays so, and n opens it', async ({ page }) => {
  const { open } = await madeStudy('Fold');
  await open(page, 'design');
  const margin = page.getByRole('complementary', { name: 'Margin notes' });
  // Also what the worker notices has come.
  await expect.poll(() => margin.getByRole('heading', { level: 3 }).count()).toBe(4);
  const count = 4;
  await margin.getByRole('button', { name: 'Fold the margin notes' }).click();
  await expect(margin.getByRole('button', { name: `Show ${count} margin notes` })).toBeVisible();
  await page.reload();
  await ready(page);
  await expect(margin.getByRole('heading', { level: 3 })).toHaveCount(0);
  await page.keyboard.press('n');
  await expect(margin.getByRole('heading', { level: 3 })).toHaveCount(count);
  for (let i = 0; i < count; i++) await page.keyboard.press('n');
  await expect(margin.getByRole('listitem').last()).toBeFocused();
  await page.keyboard.press('n');
  await expect(margin.getByRole('listitem').first()).toBeFocused();
});

test('keys that belong to a field stay with the field', async ({ page }) => {
  const { open } = await madeStudy('Fields');
  await open(page, 'design');
  const cost = page.getByRole('textbox', { name: 'A missed case' });
  await cost.fill('');
  await cost.pressSequentially('25n/?');
  await expect(cost).toHaveValue('25n/?');
  await expect(page).toHaveURL(/\/design$/);
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(page.getByText('A number from 0.001 to 1000000000, please.')).toBeVisible();
  await cost.fill('25');
  await cost.press('Control+z');
  await expect(page.getByText(/^Undone/)).toHaveCount(0);
  // A box to tick takes no text: there the keys are the page's.
  await page.getByRole('checkbox', { name: 'Age' }).focus();
  await page.keyboard.press('4');
  await expect(page).toHaveURL(/\/candidates$/);
});

test('the cutoff moves by key on the marker, to the ends and back', async ({ page }) => {
  const { open } = await madeStudy('Marker');
  await open(page, 'candidates');
  const marker = page.getByRole('slider', { name: 'Cutoff, out-of-fold patients' });
  await marker.focus();
  const at = async () => Number(await marker.getAttribute('aria-valuenow'));
  const start = await at();
  await page.keyboard.press('ArrowRight');
  expect(await at()).toBeCloseTo(Math.round(start * 100 + 1) / 100, 10);
  await page.keyboard.press('Home');
  expect(await at()).toBe(0);
  await page.keyboard.press('ArrowLeft');
  expect(await at()).toBe(0);
  await page.keyboard.press('End');
  expect(await at()).toBe(1);
  await page.keyboard.press('Shift+ArrowLeft');
  expect(await at()).toBe(0.999);
  await page.keyboard.press('Control+k');
  const search = page.getByRole('combobox', { name: /^Find a page/ });
  await expect(search).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(marker).toBeFocused();
});

test('studies are made, renamed, switched and refused without a name', async ({ page }) => {
  const { open, study } = await madeStudy('First name');
  await open(page, 'records');
  const menu = () => page.getByRole('button', { name: /^Study: / }).click();
  const name = page.getByRole('textbox', { name: 'Name', exact: true });
  await menu();
  await page.getByRole('button', { name: 'Rename this study' }).click();
  await name.fill('   ');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Give the study a name.')).toBeVisible();
  await name.fill('Second name');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Study: Second name.' })).toBeVisible();
  await menu();
  await page.getByRole('link', { name: 'Kidney injury after planned surgery' }).click();
  await expect(page.getByText('Fennmoor and Carrick Lea: 2,412 patients')).toBeVisible();
  await ready(page);
  await menu();
  await page.locator(`nav a[href*="${study}"]`, { hasText: 'Second name' }).click();
  await expect(page.getByText('Patients: 189 patients', { exact: true })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Study: Second name.' })).toBeVisible();
});

test('pages without what they need say what is missing and lead there', async ({ page }) => {
  await page.goto(`${process.env.PRODUCT_ADDRESS}/studies/new`);
  await ready(page);
  await page.getByRole('textbox', { name: 'Name' }).fill('Empty study');
  await page.keyboard.press('Enter');
  await expect(page.getByText('no patients yet')).toBeVisible();
  const base = page.url().replace(/\/records$/, '');
  const says: Record<string, [RegExp, string]> = {
    design: [/The design is made on a cohort of patients/, 'Bring in a file in Records'],
    candidates: [/Candidates are fitted once the design is complete/, 'Go to Records'],
    reasons: [/those of a fitted candidate/, 'Fit one in Candidates'],
    'held-out-check': [/looked at with a fitted candidate/, 'Fit one in Candidates'],
    screening: [/A list is scored with a fitted candidate/, 'Fit one in Candidates'],
  };
  for (const [path, [sentence, link]] of Object.entries(says)) {
    await page.goto(`${base}/${path}`);
    await expect(page.getByText(sentence)).toBeVisible();
    await expect(page.getByRole('link', { name: link })).toBeVisible();
  }
});

test('the focus stays where something was done', async ({ page }) => {
  const { open } = await madeStudy('Kept focus');
  await open(page, 'held-out-check');
  await test.step('the first look ends in the page that it opens', async () => {
    await page.getByRole('button', { name: 'Look at the held-out patients' }).focus();
    await page.keyboard.press('Enter');
    await expect(page.getByText('Positive predictive value').first()).toBeVisible();
    await expect(page.getByRole('heading', { name: 'Held-out check', level: 1 })).toBeFocused();
  });
  await test.step('a column that is opened takes its view', async () => {
    await open(page, 'survey');
    await page.getByRole('row', { name: /^Age/ }).first().focus();
    await page.keyboard.press('Enter');
    await expect(page.getByText('Quantiles against normal').first()).toBeVisible();
    await expect(page.locator('body')).not.toBeFocused();
    expect(await page.evaluate(() => document.activeElement?.tagName)).not.toBe('BODY');
  });
});

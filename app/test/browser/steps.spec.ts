import { readFileSync } from 'node:fs';
import Papa from 'papaparse';
import { expect, test, type Locator, type Page } from '../support/browser-test.ts';
import type { Dictionary } from '@rook-scale/core/table';
import { address, ready } from '../support/browser-study.ts';
import { Client } from '../support/client.ts';

/** Fleming & Harrington (1991): 418 patients with a liver disease, 106 of whom lack nine columns. */
const file = readFileSync(
  new URL('../../../core/test/reference/data/pbc.csv', import.meta.url),
  'utf8',
);
const predictors = ['age', 'sex', 'edema', 'stage', 'bili', 'chol', 'albumin', 'platelet'];
const rows = Papa.parse<Record<string, string>>(file, { header: true, skipEmptyLines: true }).data;
/** Whoever of the first 300 has an outcome is learned from. */
const learned = rows.slice(0, 300).filter(({ dead4y }) => dead4y !== '');

const known = (name: string) => learned.map((row) => row[name]).filter((cell) => cell !== '');
const numbers = (name: string) => known(name).map(Number);
const gaps = (name: string) => learned.length - known(name).length;
const having = (name: string, level: string) => known(name).filter((one) => one === level).length;
const mean = (values: number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;

/** By linear interpolation between order statistics. */
function quantile(values: number[], share: number): number {
  const sorted = values.toSorted((a, b) => a - b);
  const place = share * (sorted.length - 1);
  const below = sorted[Math.floor(place)];
  return below + (place % 1) * ((sorted[Math.floor(place) + 1] ?? below) - below);
}

const shown = (value: number) => String(Number(value.toPrecision(5)));

/** Everything by its name in the file. */
function asFile(dictionary: Dictionary): void {
  for (const entry of dictionary) {
    entry.label = '';
    entry.unit = '';
    entry.role = predictors.includes(entry.name) ? 'predictor' : 'set aside';
    if (entry.name === 'id') entry.role = 'identifier';
    if (entry.name === 'dead4y') entry.role = 'outcome';
    if (['edema', 'dead4y'].includes(entry.name)) entry.kind = 'category';
    if (entry.name === 'stage') entry.kind = 'ordered category';
    if (entry.name === 'edema') entry.levels = ['0', '0.5', '1'];
    if (entry.name === 'stage') entry.levels = ['1', '2', '3', '4'];
    if (entry.name === 'dead4y') entry.levels = ['0', '1'];
    if (entry.name === 'albumin') entry.plausible = { least: 2.5, most: 4.5, beyond: 'kept' };
  }
}

interface Case {
  step: string;
  what: string;
  say: (dialog: Locator) => Promise<void>;
  does: string[];
}

const only = async (dialog: Locator, ...names: string[]) => {
  const all = dialog.getByRole('checkbox', { name: 'all that it can touch' });
  if (await all.isChecked()) await all.uncheck();
  for (const name of names) await dialog.getByRole('checkbox', { name, exact: true }).check();
};

const cases: Case[] = [
  {
    step: 'Take as not known',
    what: 'below, above and one of these',
    async say(dialog) {
      await dialog.getByLabel('Column', { exact: true }).selectOption('bili');
      await dialog.getByRole('textbox', { name: 'Below' }).fill('0.5');
      await dialog.getByRole('textbox', { name: 'Above' }).fill('20');
      await dialog.getByRole('textbox', { name: 'Or one of these' }).fill('1, 1.1');
    },
    does: [
      `bili: ${numbers('bili').filter((x) => x < 0.5 || x > 20 || x === 1 || x === 1.1).length} values become not known`,
    ],
  },
  {
    step: 'Rename or merge levels',
    what: 'two levels into one',
    async say(dialog) {
      await dialog.getByLabel('Column', { exact: true }).selectOption('edema');
      await dialog.getByRole('textbox', { name: '0.5 is called' }).fill('some');
      await dialog.getByRole('textbox', { name: '1 is called', exact: true }).fill('some');
    },
    does: [
      `edema 0.5 (${having('edema', '0.5')} patients) becomes some`,
      `edema 1 (${having('edema', '1')} patients) becomes some`,
    ],
  },
  {
    step: 'Take rare levels together',
    what: 'those of fewer than 40',
    async say(dialog) {
      await dialog.getByRole('textbox', { name: 'Fewer patients than' }).fill('40');
      await dialog.getByRole('textbox', { name: 'Called' }).fill('rare');
      await only(dialog, 'edema');
    },
    does: [
      `edema 0.5 (${having('edema', '0.5')} patients) becomes rare`,
      `edema 1 (${having('edema', '1')} patients) becomes rare`,
    ],
  },
  {
    step: 'Leave out columns',
    what: 'with many gaps',
    async say(dialog) {
      await dialog.getByRole('textbox', { name: 'Not known in at least' }).fill('3');
    },
    does: [`leaves chol out: not known in ${percent(gaps('chol') / learned.length)}`],
  },
  {
    step: 'Leave out patients with many gaps',
    what: 'who lack an eighth',
    async say(dialog) {
      await dialog.getByRole('textbox', { name: 'Who lack at least' }).fill('12.5');
    },
    does: [
      `${learned.filter((row) => predictors.some((name) => row[name] === '')).length} of ${learned.length} patients are not learned from`,
    ],
  },
  {
    step: 'Fill gaps as said',
    what: 'with the mean, marked',
    async say(dialog) {
      await dialog.getByLabel('With', { exact: true }).selectOption('mean');
      await only(dialog, 'chol', 'platelet');
    },
    does: [
      `fills ${gaps('chol')} gaps in chol with ${shown(mean(numbers('chol')))}`,
      `an input says that chol is not known (${gaps('chol')} patients)`,
    ],
  },
  {
    step: 'Fill gaps as said',
    what: 'with a value of one’s own, not marked',
    async say(dialog) {
      await dialog.getByLabel('With', { exact: true }).selectOption('constant');
      await dialog.getByRole('textbox', { name: 'Value' }).fill('250');
      await only(dialog, 'chol');
      await dialog.getByRole('checkbox', { name: /^Mark beside it/ }).uncheck();
    },
    does: [`fills ${gaps('chol')} gaps in chol with 250`],
  },
  {
    step: 'Fill gaps as said',
    what: 'from the nearest patients',
    async say(dialog) {
      await dialog.getByLabel('With', { exact: true }).selectOption('nearest patients');
      await dialog.getByRole('textbox', { name: 'Patients' }).fill('7');
      await only(dialog, 'chol');
    },
    does: [`fills ${gaps('chol')} gaps in chol by nearest patients`],
  },
  {
    step: 'Fill gaps as said',
    what: 'by chained regressions',
    async say(dialog) {
      await dialog.getByLabel('With', { exact: true }).selectOption('chained regressions');
      await dialog.getByRole('textbox', { name: 'Rounds' }).fill('3');
    },
    does: [`fills ${gaps('chol')} gaps in chol by chained regressions`],
  },
  {
    step: 'Clip',
    what: 'to the plausible range',
    say: () => Promise.resolve(),
    does: [
      `albumin: ${numbers('albumin').filter((x) => x < 2.5 || x > 4.5).length} values clipped to 2.5 – 4.5`,
    ],
  },
  {
    step: 'Reshape',
    what: 'by a power that is given',
    async say(dialog) {
      await dialog.getByLabel('By', { exact: true }).selectOption('Box–Cox');
      await dialog.getByRole('textbox', { name: /^λ/ }).fill('-0,5');
      await only(dialog, 'bili');
    },
    does: ['bili: Box–Cox, λ −0.5'],
  },
  {
    step: 'Rescale',
    what: 'by median and quartiles',
    say: (dialog) => only(dialog, 'platelet'),
    does: [
      `platelet: (value − ${shown(quantile(numbers('platelet'), 0.5))}) / ${Number(
        (quantile(numbers('platelet'), 0.75) - quantile(numbers('platelet'), 0.25)).toPrecision(4),
      )}`,
    ],
  },
  {
    step: 'Code levels',
    what: 'as the share of cases, drawn to that of all',
    async say(dialog) {
      await dialog.getByRole('textbox', { name: /^Drawn to the share/ }).fill('20');
      await only(dialog, 'edema');
    },
    does: [`edema: ${['0', '0.5', '1'].map((level) => `${level} ${caseShare(level)}`).join(', ')}`],
  },
  {
    step: 'Code levels',
    what: 'as indicators against a level that is named',
    async say(dialog) {
      await dialog.getByLabel('As', { exact: true }).selectOption('indicators');
      await dialog.getByRole('textbox', { name: 'Reference level' }).fill('3');
      await only(dialog, 'stage');
    },
    does: ['stage: 1, 2, 4 against 3'],
  },
  {
    step: 'Products',
    what: 'of two, and a square',
    async say(dialog) {
      await dialog.getByLabel('First number').selectOption('age');
      await dialog.getByLabel('Second number').selectOption('bili');
      await dialog.getByRole('button', { name: 'Add', exact: true }).click();
      await dialog.getByLabel('Second number').selectOption('age');
      await dialog.getByRole('button', { name: 'Add', exact: true }).click();
      await expect(dialog).toContainText('age squared');
    },
    does: ['makes age × bili'],
  },
  {
    step: 'Components',
    what: 'two of three',
    async say(dialog) {
      await dialog.getByLabel('Keep', { exact: true }).selectOption('number');
      await dialog.getByRole('textbox', { name: 'Components' }).fill('2');
      await only(dialog, 'bili', 'albumin', 'platelet');
    },
    does: ['of the variance'],
  },
  {
    step: 'Unusualness',
    what: 'by two columns',
    say: (dialog) => only(dialog, 'bili', 'albumin'),
    does: ['makes unusualness'],
  },
];

function caseShare(level: string): string {
  const all = mean(learned.map(({ dead4y }) => Number(dead4y)));
  const own = learned.filter(({ edema }) => edema === level);
  const events = own.filter(({ dead4y }) => dead4y === '1').length;
  return percent((events + 20 * all) / (own.length + 20));
}

function percent(share: number): string {
  return `${(100 * share).toFixed(100 * share < 10 ? 1 : 0)}%`;
}

test.describe.configure({ mode: 'serial' });

let study: string;

test.beforeAll(async () => {
  const client = new Client(address());
  study = await client.newStudy('Every step');
  await client.bringIn(study, file, 'development', asFile);
  await client.changeDesign(study, { event: '1', split: { way: 'by rows', from: 301, to: 418 } });
});

const section = (page: Page) => page.getByRole('region', { name: 'Preparation', exact: true });

for (const { step, what, say, does } of cases)
  test(`${step}, ${what}: says in figures what a count of the file says`, async ({ page }) => {
    await page.goto(`${address()}/studies/${study}/design`);
    await ready(page);
    await section(page).getByLabel('Another step').selectOption({ label: step });
    await section(page).getByRole('button', { name: 'Add it' }).click();
    const dialog = page.getByRole('dialog', { name: step });
    await say(dialog);
    await dialog.getByRole('button', { name: 'Add the step' }).click();
    await expect(dialog).toBeHidden();
    const list = section(page).getByRole('list', { name: 'Steps in their order' });
    await list.getByRole('button', { name: new RegExp(`^${step}`) }).click();
    for (const sentence of does) await expect(section(page)).toContainText(sentence);
    await section(page)
      .getByRole('button', { name: `Take away step 1, ${step}` })
      .click();
    await expect(list.getByRole('button', { name: new RegExp(`^${step}`) })).toHaveCount(0);
  });

test('what a step cannot be is said in its form, and the form stays', async ({ page }) => {
  await page.goto(`${address()}/studies/${study}/design`);
  await ready(page);
  const open = async (step: string) => {
    await section(page).getByLabel('Another step').selectOption({ label: step });
    await section(page).getByRole('button', { name: 'Add it' }).click();
    return page.getByRole('dialog', { name: step });
  };
  const splines = await open('Splines');
  await splines.getByRole('textbox', { name: 'Knots' }).fill('9');
  await expect(splines).toContainText('A whole number from 3 to 7, please.');
  await only(splines, 'age');
  await splines.getByRole('button', { name: 'Add the step' }).click();
  await expect(splines).toBeVisible();
  await splines.getByRole('button', { name: 'Cancel' }).click();
  await expect(splines).toBeHidden();

  const products = await open('Products');
  await products.getByRole('button', { name: 'Add the step' }).click();
  await expect(products).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(products).toBeHidden();
  await expect(section(page).getByRole('button', { name: /^Take away step/ })).toHaveCount(0);
});

import { expect, test, type Page } from '../support/browser-test.ts';
import Papa from 'papaparse';
import type { CandidateLine } from '../../src/contract/candidates.ts';
import { awkwardStudies, type AwkwardStudy } from '../support/awkward-studies.ts';
import { address, ready, settled } from '../support/browser-study.ts';
import { isLong, seedOfTheDay } from '../support/day.ts';
import { Client } from '../support/client.ts';
import { faultsOf } from '../support/inspect-page.ts';

/** Every page and view; those that need a fit or a list come last. */
const pages = [
  'records',
  'records?view=rows',
  'records?view=patients',
  'survey',
  'survey?view=one&column=creatinine',
  'survey?view=one&column=ward',
  'survey?view=one&column=event',
  'survey?view=one&column=crp',
  'survey?view=gaps',
  'survey?view=outcome',
  'survey?view=relations',
  'survey?view=two',
  'survey?view=grid',
  'survey?view=associations',
  'survey?view=patients',
  'survey?view=unusual',
  'design',
  'candidates',
  'held-out-check',
  'reasons?row=1',
  'screening',
];
const pagesOfList = ['screening', 'screening?view=columns', 'screening?view=patient'];
/** Narrow enough for each way in which pages give way; the last is 1280 at 200%. */
const narrow = [1024, 640];
const wide = [1280, 1920];
/** Where width is what is odd, each page is drawn in several; elsewhere in one, which changes with the day. */
const oddInWidth = /^(eighty-two columns|names of 200|values of extreme)/;

/** What is odd about these is the outcome or the list: their columns are like those of others. */
const oddInFits = new Set([
  'separated outcome',
  'one case',
  'few cases',
  'a list with every mismatch',
  'numbers of two values',
]);

awkwardStudies.forEach((awkward, place) =>
  test(`${awkward.name}: every page is drawn whole, narrow and wide`, async ({ page }) => {
    const faults: string[] = [];
    page.on('console', (message) => {
      if (message.type() === 'error') faults.push(`console: ${message.text().slice(0, 200)}`);
    });
    page.on('pageerror', (error) => faults.push(`page error: ${error.message.slice(0, 200)}`));
    const client = new Client(address());
    const study = await make(client, awkward);
    const widths = widthsOf(awkward.name, place);
    const looked = oddInFits.has(awkward.name)
      ? pages.filter((path) => !path.startsWith('survey?'))
      : pages;
    for (const path of looked) faults.push(...(await inspect(page, study, path, widths)));
    if (awkward.list && !awkward.refused) {
      await scoreList(client, study, awkward.list());
      for (const path of pagesOfList) faults.push(...(await inspect(page, study, path, widths)));
    }
    // Left first: an open page would ask for what is gone.
    await page.goto('about:blank');
    await client.send('DELETE', `/api/studies/${study}`);
    expect(faults).toEqual([]);
  }),
);

/** The widths of stages; views within a stage are drawn in the narrow ones alone. */
function widthsOf(name: string, place: number): number[] {
  if (isLong) return oddInWidth.test(name) ? [...narrow, ...wide] : narrow;
  const parity = (seedOfTheDay + place) % 2;
  return oddInWidth.test(name) ? [...narrow, wide[parity]] : [narrow[parity]];
}

async function make(client: Client, { name, rows, event, edit, design, refused }: AwkwardStudy) {
  const study = await client.newStudy(name);
  const { status } = await client.bringIn(study, Papa.unparse(rows()), 'development', (entries) => {
    for (const entry of entries)
      if (entry.name === 'event') {
        entry.role = 'outcome';
        if (entry.kind === 'text') entry.kind = 'category';
      }
    edit?.(entries);
  });
  expect(status).toBe(200);
  await client.changeDesign(study, { event, missedCost: 5, ...design });
  if (refused) return study;
  await client.send('POST', `/api/studies/${study}/candidates`, {
    family: 'logistic',
    settings: {},
  });
  const lines = await client.fitted(study);
  expect(lines.map(({ state }) => state)).toEqual(['fitted', 'fitted']);
  await client.send('POST', `/api/studies/${study}/looks`, { candidate: lines[1].id });
  return study;
}

async function scoreList(client: Client, study: string, rows: string[][]): Promise<void> {
  const [, { id }] = await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
  const list = await client.bringIn(study, Papa.unparse(rows), 'screening');
  const scored = await client.send('POST', `/api/studies/${study}/screenings`, {
    cohort: list.body.id,
    candidate: id,
    accept: true,
    unchecked: true,
  });
  expect(scored.status).toBe(200);
}

/** Opens a page once and looks at it in every width. */
async function inspect(page: Page, study: string, path: string, widths: number[]) {
  const isView = path.includes('?');
  const found: string[] = [];
  await page.setViewportSize({ width: widths[0], height: 800 });
  await openView(page, `${address()}/studies/${study}/${path}`);
  for (const width of isView ? widths.filter((one) => narrow.includes(one)) : widths) {
    await page.setViewportSize({ width, height: 800 });
    for (const fault of await lastingFaults(page)) found.push(`${path} at ${width}: ${fault}`);
  }
  return found;
}

/** Another view of the same stage is shown as the product shows it: without loading the page again. */
async function openView(page: Page, url: string): Promise<void> {
  if (new URL(url).pathname === new URL(page.url()).pathname)
    await page.evaluate((to) => {
      history.pushState(null, '', to);
      dispatchEvent(new PopStateEvent('popstate'));
    }, url);
  else {
    await page.goto(url);
    await ready(page);
  }
  await settled(page);
}

/** What is wrong once the page is drawn: what is still being drawn comes right, what is wrong stays so. */
async function lastingFaults(page: Page): Promise<string[]> {
  let faults: string[] = [];
  const drawn = async () => {
    await page.evaluate(
      () => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve))),
    );
    faults = await faultsOf(page);
    return faults;
  };
  await expect
    .poll(drawn)
    .toEqual([])
    .catch(() => undefined);
  return faults;
}

import { readFile, writeFile } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import pg from 'pg';
import { from } from 'pg-copy-streams';
import type { DesignState } from '../src/contract/designs.ts';
import type { SurveyView } from '../src/contract/surveys.ts';
import type { PatientSheet } from '../src/contract/patients.ts';
import { Client, type Answer } from '../test/support/client.ts';
import { askedBeside } from '../test/support/beside.ts';
import { freshProduct } from '../test/support/fresh-product.ts';
import { harmfulFiles } from '../test/support/hostile-files.ts';
import { measureInBrowser } from './in-browser.ts';
import { benchSearches } from './search.ts';
import { narrowCsv, wideCsv } from './wide.ts';

interface Measured {
  name: string;
  median: number;
  least: number;
  greatest: number;
}

const product = await freshProduct({ demo: false });
const client = new Client(product.address);
const results: Measured[] = [];

/** Times the work so many times; the median is the figure. */
async function time<T>(name: string, work: () => Promise<T>, times = 1): Promise<T> {
  const taken: number[] = [];
  let result!: T;
  for (let i = 0; i < times; i++) {
    const begun = performance.now();
    result = await work();
    taken.push(performance.now() - begun);
  }
  keep(name, taken);
  return result;
}

function keep(name: string, taken: number[]): void {
  const sorted = [...taken].sort((a, b) => a - b);
  const median = sorted[sorted.length >> 1];
  results.push({ name, median, least: sorted[0], greatest: sorted[sorted.length - 1] });
}

try {
  const wideFile = wideCsv(100_000, 40);
  // For the libraries that it is set beside.
  if (process.env.BENCH_FILE) await writeFile(process.env.BENCH_FILE, wideFile);
  const small = await benchStudy(100_000, 40, wideFile);
  await time(
    'logistic regression with 5 folds as a job, 100,000 x 40',
    async () => {
      await client.send('POST', `/api/studies/${small}/candidates`, {
        family: 'logistic',
        settings: {},
      });
      return client.fitted(small, 300_000);
    },
    3,
  );
  await benchPages(small);
  await time('overview of the study, 100,000 x 40', () => client.get(`/api/studies/${small}`), 5);
  await benchList(small);
  await benchCandidates(small);
  await benchSearches(client, keep);
  await benchHarm();
  await benchStudy(1_000_000, 20, narrowCsv(1_000_000));
  const wide = await benchStudy(300_000, 82);
  await benchSurvey(wide, '300,000 x 82');
  const narrow = await benchStudy(300_000, 20, narrowCsv(300_000));
  await benchSurvey(narrow, '300,000 x 20');
  console.error(`Largest memory of the web server: ${await peakMemory(product.web.pid)} MB`);
  for (const worker of product.workers)
    console.error(`Largest memory of a worker: ${await peakMemory(worker.pid)} MB`);
} finally {
  await product.stop();
}
console.log(JSON.stringify(results));

/** How long others wait, at the longest, while a file that means harm is read. */
async function benchHarm(): Promise<void> {
  const waits: number[] = [];
  for (const [, make] of harmfulFiles) {
    const { name, content } = make();
    const { longest } = await askedBeside(client, () => client.upload(name, content));
    waits.push(longest);
  }
  keep('longest answer while a harmful file is read', waits);
}

/** How long each part of the survey takes from being asked for to being there. */
async function benchSurvey(study: string, size: string): Promise<void> {
  const { choices } = await client.get<DesignState>(`/api/studies/${study}/design`);
  const against = encodeURIComponent(choices.outcome);
  for (const [name, query] of [
    ['columns', 'part=columns'],
    ['relations', `part=relations&against=${against}`],
    ['associations', 'part=associations&ranked=yes'],
    ['map of patients', 'part=patients'],
  ])
    await surveyed(`survey: ${name}, ${size}`, `/api/studies/${study}/survey?${query}`);
  await time(`survey: one column sent, ${size}`, () =>
    client.get(`/api/studies/${study}/survey/columns?name=${choices.predictors[0]}`),
  );
}

/** A development cohort of this size brought in, designed and divided. */
async function benchStudy(
  patients: number,
  columns: number,
  file: Buffer = wideCsv(patients, columns),
): Promise<string> {
  const size = `${patients.toLocaleString('en-GB')} x ${columns}`;
  const study = await client.newStudy(`Benchmark ${size}`);
  const { body } = await time(
    `file sent and understood, ${size}`,
    () => client.upload('big.csv', file),
    patients > 300_000 ? 1 : 3,
  );
  await time(`the same file by COPY alone, ${size}`, () => copyAlone(file), 3);
  const dictionary = body.columns.map(({ proposal }) => proposal.entry);
  for (const entry of dictionary) {
    if (entry.name === 'injury_7_days' || entry.name === 'died') entry.role = 'outcome';
    if (/^(injury_grade|highest_creatinine|renal_ward_transfer)$/.test(entry.name))
      entry.role = 'set aside';
  }
  await time(`cohort stored, ${size}`, () =>
    client.send('POST', `/api/studies/${study}/cohorts`, {
      purpose: 'development',
      name: 'Big',
      uploadId: body.id,
      dictionary,
    }),
  );
  await client.changeDesign(study, { event: 'yes' });
  await client.fitted(study, 300_000);
  let seed = 1;
  await time(
    `design saved and divided, ${size}`,
    () => client.changeDesign(study, { seed: ++seed }),
    3,
  );
  await client.fitted(study, 300_000);
  let share = 0.2;
  await time(
    `counts and balance table after a change of share, ${size}`,
    async () => {
      await client.changeDesign(study, { heldOutShare: (share += 0.01) });
      await client.get(`/api/studies/${study}/sides`);
    },
    5,
  );
  await client.fitted(study, 300_000);
  return study;
}

/** From being asked for to something to look at, and to all patients being counted. */
async function surveyed(name: string, path: string): Promise<void> {
  const begun = performance.now();
  let seen = false;
  for (;;) {
    const { current, sampled } = await client.ask<SurveyView>(path);
    const taken = performance.now() - begun;
    if (!seen && (current || sampled !== null)) keep(`${name}: on the page`, [taken]);
    seen ||= current || sampled !== null;
    if (current) {
      keep(`${name}: all patients counted`, [taken]);
      return;
    }
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
}

/** The file into a table of texts by the database itself: what no import can be much faster than. */
async function copyAlone(file: Buffer): Promise<void> {
  const client = new pg.Client({ connectionString: product.databaseUrl });
  await client.connect();
  try {
    const header = file.subarray(0, file.indexOf(10)).toString().trim().split(',');
    const columns = header.map((_, i) => `c${i} text`).join(', ');
    await client.query(`create temp table copied (${columns})`);
    const into = client.query(from('copy copied from stdin (format csv, header)'));
    await pipeline(Readable.from([file]), into);
  } finally {
    await client.end();
  }
}

/** Pages a second that ten users get who do nothing but open them. */
async function benchPages(study: string): Promise<void> {
  for (const stage of ['records', 'candidates', 'screening']) {
    const taken: number[] = [];
    const end = Date.now() + 4000;
    const user = async () => {
      while (Date.now() < end) {
        const begun = performance.now();
        await (await fetch(`${product.address}/studies/${study}/${stage}`)).arrayBuffer();
        taken.push(performance.now() - begun);
      }
    };
    await Promise.all(Array.from({ length: 10 }, user));
    keep(`page of ${stage}, ten users at once (${Math.round(taken.length / 4)} a second)`, taken);
  }
}

/** How long others wait, at the longest, while a study of this size has heavy work done. */
async function benchBeside(study: string, list: string, candidate: string): Promise<void> {
  const { usual: values } = await client.get<PatientSheet>(`/api/candidates/${candidate}/sheet`);
  const scoring = { cohort: list, candidate, accept: true };
  const check = `/api/studies/${study}/screenings/check?cohort=${list}&candidate=${candidate}`;
  const works: [string, () => Promise<Answer<unknown>>][] = [
    ['a list is scored', () => client.send('POST', `/api/studies/${study}/screenings`, scoring)],
    ['a list is met', () => client.send('GET', check)],
    ['the preparation is shown', () => client.send('GET', `/api/studies/${study}/preparation`)],
    [
      'one patient is asked about',
      () => client.send('POST', `/api/candidates/${candidate}/patient`, { values }),
    ],
  ];
  for (const [name, work] of works) {
    const waits: number[] = [];
    for (let i = 0; i < 5; i++) waits.push((await askedBeside(client, work)).longest);
    keep(`longest answer while ${name}, 100,000 patients`, waits);
    await time(name, work, 5);
  }
}

/** The table of many candidates: read for the first time after a change, and again. */
async function benchCandidates(study: string): Promise<void> {
  const database = new pg.Client({ connectionString: product.databaseUrl });
  await database.connect();
  try {
    await database.query(
      `insert into candidate
       select (jsonb_populate_record(one, jsonb_build_object('id', gen_random_uuid(), 'number', n))).*
       from candidate one, generate_series(1000, 1299) n
       where one.study_id = $1 and one.family = 'logistic' and one.number = (
         select min(number) from candidate where study_id = $1 and family = 'logistic'
       )`,
      [study],
    );
    const read = () => client.get(`/api/studies/${study}/candidates`);
    const taken: number[] = [];
    for (let i = 0; i < 9; i++) {
      await database.query(`select pg_notify('study_changed', $1)`, [study]);
      await new Promise((resolve) => setTimeout(resolve, 50));
      const begun = performance.now();
      await read();
      taken.push(performance.now() - begun);
    }
    keep('list of 300 candidates of 100,000 patients, after a change', taken);
    await time('list of 300 candidates of 100,000 patients, again', read, 9);
    await database.query('delete from candidate where study_id = $1 and number >= 1000', [study]);
  } finally {
    await database.end();
  }
}

async function benchList(study: string): Promise<void> {
  const [, candidate] = await client.fitted(study);
  const list = await client.bringIn(study, wideCsv(100_000, 40).toString(), 'screening');
  const { body } = await time('list of 100,000 scored', () =>
    client.send<{ id: string }>('POST', `/api/studies/${study}/screenings`, {
      cohort: list.body.id,
      candidate: candidate.id,
      accept: true,
    }),
  );
  await time(
    'page of 100 rows from the middle of the list of 100,000',
    () => client.get(`/api/screenings/${body.id}/rows?from=50000&count=100`),
    5,
  );
  for (const reasons of ['yes', 'no'])
    await time(`file of the list of 100,000, reasons: ${reasons}`, () =>
      fetch(`${product.address}/api/screenings/${body.id}/file?reasons=${reasons}`).then((file) =>
        file.arrayBuffer(),
      ),
    );
  for (const { name, taken } of await measureInBrowser(product.address, study, list.body.id))
    keep(`${name}, 100,000 patients`, taken);
  await benchBeside(study, list.body.id, candidate.id);
}

/** Largest resident memory of a process so far, in MB. */
async function peakMemory(pid: number): Promise<number> {
  const status = await readFile(`/proc/${pid}/status`, 'utf8');
  return Math.round(Number(/VmHWM:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024);
}

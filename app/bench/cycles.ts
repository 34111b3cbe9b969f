// npm run bench -- cycles: memory of web server and worker over many rounds of the whole task, each
// on a new study that is deleted and erased at its end. What is let go must not add up.
import { readFileSync } from 'node:fs';
import { Client } from '../test/support/client.ts';
import { freshProduct } from '../test/support/fresh-product.ts';
import { wideCsv } from './wide.ts';

const rounds = 50;
const patients = 20_000;
const product = await freshProduct({ demo: false });
const client = new Client(product.address);
const file = wideCsv(patients, 20);

try {
  console.log(`${rounds} rounds of ${patients.toLocaleString('en-GB')} patients x 20 columns`);
  console.log('round   web server MB   worker MB');
  for (let round = 1; round <= rounds; round++) {
    await wholeTask(round);
    if (round % 5 === 0 || round === 1)
      console.log(
        [round, memory(product.web.pid), memory(product.workers[0].pid)]
          .map((value, i) => String(value).padStart([5, 16, 12][i]))
          .join(''),
      );
  }
} finally {
  await product.stop();
}

/** A file brought in, designed, fitted, a later list scored, and all of it erased. */
async function wholeTask(round: number): Promise<void> {
  const name = `Round ${round}`;
  const study = await client.newStudy(name);
  await bringIn(study, 'development');
  await client.changeDesign(study, { event: 'yes' });
  await client.send('POST', `/api/studies/${study}/candidates`, {
    family: 'logistic',
    settings: {},
  });
  const candidate = (await client.fitted(study)).find(({ family }) => family === 'logistic')!;
  const list = await bringIn(study, 'screening');
  const scored = await client.send('POST', `/api/studies/${study}/screenings`, {
    candidate: candidate.id,
    cohort: list,
    accept: true,
  });
  if (scored.status !== 200) throw new Error(JSON.stringify(scored));
  await client.send('DELETE', `/api/studies/${study}`);
  const erased = await client.send('POST', `/api/studies/${study}/erase`, { name });
  if (erased.status !== 200) throw new Error(JSON.stringify(erased));
}

async function bringIn(study: string, purpose: 'development' | 'screening'): Promise<string> {
  const { body } = await client.upload('patients.csv', file);
  const dictionary = body.columns.map(({ proposal }) => proposal.entry);
  for (const entry of dictionary) {
    if (entry.name === 'injury_7_days' || entry.name === 'died') entry.role = 'outcome';
    if (/^(injury_grade|highest_creatinine|renal_ward_transfer)$/.test(entry.name))
      entry.role = 'set aside';
  }
  const made = await client.send<{ id: string }>('POST', `/api/studies/${study}/cohorts`, {
    purpose,
    name: 'Patients',
    uploadId: body.id,
    dictionary,
  });
  if (made.status !== 200) throw new Error(JSON.stringify(made));
  return made.body.id;
}

/** Resident memory of a process now, in MB. */
function memory(pid: number | undefined): number {
  const status = readFileSync(`/proc/${pid}/status`, 'utf8');
  return Math.round(Number(/VmRSS:\s+(\d+)/.exec(status)![1]) / 1024);
}

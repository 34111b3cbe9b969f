import { developmentCohort, toCsv } from '@rook-scale/demo';
import { Client } from '../test/support/client.ts';
import { freshProduct } from '../test/support/fresh-product.ts';

interface Measured {
  name: string;
  median: number;
  least: number;
  greatest: number;
}

const patients = 100_000;
const product = await freshProduct({ demo: false });
const client = new Client(product.address);
const results: Measured[] = [];

/** Times the work once, or the median of five where repeating it means the same. */
async function time<T>(name: string, work: () => Promise<T>, times = 1): Promise<T> {
  const taken: number[] = [];
  let result!: T;
  for (let i = 0; i < times; i++) {
    const begun = performance.now();
    result = await work();
    taken.push(performance.now() - begun);
  }
  taken.sort((a, b) => a - b);
  results.push({ name, median: taken[times >> 1], least: taken[0], greatest: taken[times - 1] });
  return result;
}

try {
  const text = toCsv(developmentCohort(patients));
  const study = await client.newStudy('Benchmark');
  const size = `${patients.toLocaleString('en-GB')} patients x 35 columns`;
  const { body } = await time(`file sent and understood, ${size}`, () =>
    client.upload('big.csv', text),
  );
  const dictionary = body.columns.map(({ proposal }) => proposal.entry);
  for (const entry of dictionary) {
    if (entry.name === 'injury_7_days') entry.role = 'outcome';
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
  await time(`design saved and divided, ${size}`, () =>
    client.changeDesign(study, { event: 'yes' }),
  );
  await client.fitted(study, 300_000);
  await time(`logistic regression with 5 folds as a job, ${size}`, async () => {
    await client.send('POST', `/api/studies/${study}/candidates`, {
      family: 'logistic',
      settings: {},
    });
    return client.fitted(study, 300_000);
  });
  await time(`overview of the study, ${size}`, () => client.get(`/api/studies/${study}`), 5);
} finally {
  await product.stop();
}
console.log(JSON.stringify(results));

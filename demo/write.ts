import { writeFileSync } from 'node:fs';
import { developmentCohort, externalCohort, nextWeekList } from './cohort.ts';
import { toCsv } from './csv.ts';

// `npx tsx demo/write.ts` writes the three demo files; `npx tsx demo/write.ts 100000 big.csv`
// writes a development cohort of any size.
const [patients, target] = process.argv.slice(2);
if (patients && target) writeFileSync(target, toCsv(developmentCohort(Number(patients))));
else {
  const folder = new URL('files/', import.meta.url);
  writeFileSync(new URL('development-cohort.csv', folder), toCsv(developmentCohort()));
  writeFileSync(new URL('external-cohort.csv', folder), toCsv(externalCohort()));
  writeFileSync(new URL('next-week.csv', folder), toCsv(nextWeekList()));
}

import { checkDatabase } from './check-database.ts';
import { developmentCohort } from './cohorts/index.ts';
import { carryOutAnew } from './designs/index.ts';

/** What carrying the design out anew puts right. */
const mended = [
  'the division in force is of other patients than the cohort has',
  'the development cohort has no design',
  'the design in force is of another cohort',
  'folds are not one a development patient',
  'the division was made for patients that were read in another way',
  'the revision in force is of another design',
  'the revision in force is of another dictionary',
  'the revision in force is of another selection',
  'the revision that a study points to is not there',
];

/**
 * Puts right what an older version, which changed a study in several steps, may have left half done:
 * the design is carried out anew on the patients as they are, and old candidates count as out of
 * date. What it cannot put right it says, and leaves alone.
 */
export async function mendStudies(say: (line: string) => void): Promise<void> {
  const found = await checkDatabase();
  const studies = new Set(
    found.flatMap(({ what, study }) => (study && mended.includes(what) ? [study] : [])),
  );
  for (const study of studies) {
    if (!(await developmentCohort(study))) continue;
    await carryOutAnew(study);
    say(`Study ${study} had been left half changed; its split was carried out anew.`);
  }
  for (const { what, study } of found)
    if (!mended.includes(what)) say(`${study ? `Study ${study}: ` : ''}${what}.`);
}

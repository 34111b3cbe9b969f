import { Readable } from 'node:stream';
import { eq } from 'drizzle-orm';
import {
  demoDictionary,
  developmentCohort,
  externalCohort,
  nextWeekList,
  toCsv,
  type DemoCohort,
} from '@rook-scale/demo';
import type { Design } from '@rook-scale/core/design';
import type { Dictionary } from '@rook-scale/core/table';
import { addCandidate } from './candidates/index.ts';
import { db, tables } from './ground/database/index.ts';
import { currentDesign } from './design-in-force.ts';
import { bringIn, changeDesign } from './designs/index.ts';
import { countStudies, createStudy, markOpened } from './studies.ts';
import { receiveUpload } from './intake/uploads.ts';

/** Loads the demo studies into a database that has no study yet. */
export async function loadDemoStudies(): Promise<void> {
  if ((await countStudies()) > 0) return;
  const made: string[] = [];
  try {
    for (const { name, fill } of demoStudies) {
      const id = await createStudy(name);
      made.push(id);
      await fill(id);
    }
    await markOpened(made[0]);
  } catch (error) {
    for (const id of made) await db().delete(tables.study).where(eq(tables.study.id, id));
    throw error;
  }
}

const demoStudies: { name: string; fill: (studyId: string) => Promise<void> }[] = [
  {
    name: 'Kidney injury after planned surgery',
    async fill(studyId) {
      await develop(studyId, { event: 'yes' });
      await addCandidate(studyId, 'logistic', {});
      const external = externalCohort();
      await bring(studyId, 'screening', 'Ostley, a year later', 'external-cohort.csv', external);
      await bring(studyId, 'screening', 'Next week', 'next-week.csv', nextWeekList());
    },
  },
  {
    name: 'Grade of kidney injury',
    async fill(studyId) {
      await develop(studyId, {
        outcome: 'injury_grade',
        kind: 'levels',
        reference: 'none',
        cases: ['mild', 'severe'],
      });
      await addCandidate(studyId, 'proportional-odds', {});
      await addCandidate(studyId, 'multinomial', {});
      await addCandidate(studyId, 'todays-rule', {
        formula: "if(egfr < 60 or heart_failure, 'mild', 'none')",
      });
      await bring(studyId, 'screening', 'Next week', 'next-week.csv', nextWeekList());
    },
  },
];

/** Brings the development cohort in and puts a design in force. */
async function develop(studyId: string, choices: Partial<Design>): Promise<void> {
  const cohort = developmentCohort();
  await bring(studyId, 'development', 'Fennmoor and Carrick Lea', 'development-cohort.csv', cohort);
  const design = await currentDesign(studyId);
  if (!design) throw new Error('The demo study has no design.');
  const base = design.choices;
  await changeDesign(studyId, { base, mine: { ...base, missedCost: 8, ...choices } });
}

async function bring(
  studyId: string,
  purpose: 'development' | 'screening',
  name: string,
  fileName: string,
  cohort: DemoCohort,
): Promise<void> {
  const upload = await receiveUpload(Readable.from([Buffer.from(toCsv(cohort))]), fileName);
  const dictionary: Dictionary = upload.columns.map(({ proposal }) => ({
    ...proposal.entry,
    ...demoDictionary[proposal.entry.name],
  }));
  await bringIn(studyId, { purpose, name, uploadId: upload.id, dictionary });
}

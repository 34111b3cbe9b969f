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
import type { Dictionary } from '@rook-scale/core/table';
import { addCandidate } from './candidates.ts';
import { createCohort } from './cohorts/index.ts';
import { db, tables } from './database/index.ts';
import { currentDesign } from './design-state.ts';
import { beginDesign, changeDesign } from './designs.ts';
import { countStudies, createStudy } from './studies.ts';
import { receiveUpload } from './uploads.ts';

/** Loads the demo study into a database that has no study yet. */
export async function loadDemoStudy(): Promise<void> {
  if ((await countStudies()) > 0) return;
  const studyId = await createStudy('Kidney injury after planned surgery');
  try {
    await fill(studyId);
  } catch (error) {
    await db().delete(tables.study).where(eq(tables.study.id, studyId));
    throw error;
  }
}

async function fill(studyId: string): Promise<void> {
  await bringIn(
    studyId,
    'development',
    'Fennmoor and Carrick Lea',
    'development-cohort.csv',
    developmentCohort(),
  );
  await beginDesign(studyId);
  const design = await currentDesign(studyId);
  if (!design) throw new Error('The demo study has no design.');
  const base = design.choices;
  await changeDesign(studyId, { base, mine: { ...base, event: 'yes', missedCost: 8 } });
  await addCandidate(studyId, 'logistic', {});
  await bringIn(
    studyId,
    'screening',
    'Ostley, a year later',
    'external-cohort.csv',
    externalCohort(),
  );
  await bringIn(studyId, 'screening', 'Next week', 'next-week.csv', nextWeekList());
}

async function bringIn(
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
  await createCohort(studyId, purpose, name, upload.id, dictionary);
}

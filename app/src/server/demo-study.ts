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
import { addCandidate } from './candidates/index.ts';
import { db, tables } from './ground/database/index.ts';
import { currentDesign } from './designs/state.ts';
import { bringIn, changeDesign } from './designs/index.ts';
import { countStudies, createStudy } from './studies.ts';
import { receiveUpload } from './intake/uploads.ts';

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
  await bring(
    studyId,
    'development',
    'Fennmoor and Carrick Lea',
    'development-cohort.csv',
    developmentCohort(),
  );
  const design = await currentDesign(studyId);
  if (!design) throw new Error('The demo study has no design.');
  const base = design.choices;
  await changeDesign(studyId, { base, mine: { ...base, event: 'yes', missedCost: 8 } });
  await addCandidate(studyId, 'logistic', {});
  await bring(
    studyId,
    'screening',
    'Ostley, a year later',
    'external-cohort.csv',
    externalCohort(),
  );
  await bring(studyId, 'screening', 'Next week', 'next-week.csv', nextWeekList());
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

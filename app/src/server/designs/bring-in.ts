import type { Dictionary } from '@rook-scale/core/table';
import type { CohortPurpose } from '../../contract/cohorts.ts';
import { developmentCohort, planCohort, sameUpload, type PlannedCohort } from '../cohorts/index.ts';
import { recordAct } from '../acts/index.ts';
import { atOnce, inTurn } from '../ground/database/index.ts';
import { followReading, keptUpload } from '../intake/index.ts';
import { announce } from '../jobs/index.ts';
import { Problem } from '../ground/problem.ts';
import { earlierMatching } from '../screenings/index.ts';
import { beginSurvey } from '../surveys/index.ts';
import { keepRevision } from './change.ts';
import { planFollowing } from './plan.ts';

export interface NewCohort {
  purpose: CohortPurpose;
  name: string;
  uploadId: string;
  /** As confirmed. */
  dictionary: Dictionary;
}

/**
 * Makes a cohort of an upload, with what follows from it: the first design of a development cohort,
 * of a list the matching of an earlier one with nearly the same columns. The same asked for twice is made
 * once.
 */
export async function bringIn(
  studyId: string,
  wanted: NewCohort,
  signal?: AbortSignal,
): Promise<string> {
  const { purpose, name, uploadId } = wanted;
  const there = () => sameUpload(studyId, purpose, uploadId);
  const known = await there();
  if (known) return known;
  if (purpose === 'development') await refuseSecond(studyId, uploadId);
  const { rowCount } = await keptUpload(uploadId);
  const progress = followReading(uploadId, rowCount);
  try {
    const { dictionary, matching } =
      purpose === 'screening'
        ? await earlierMatching(studyId, wanted.dictionary)
        : { dictionary: wanted.dictionary, matching: [] };
    const about = { studyId, purpose, name, uploadId, dictionary, matching };
    const planned = await planCohort(about, { signal, done: progress.to });
    return await inTurn(studyId, async () => (await there()) ?? (await write(planned)));
  } finally {
    progress.end();
  }
}

async function write(planned: PlannedCohort): Promise<string> {
  const { id, studyId, purpose, name, uploadId } = planned.after;
  if (purpose === 'development') await refuseSecond(studyId, uploadId);
  const design = purpose === 'development' ? await planFollowing(planned) : undefined;
  await atOnce(async () => {
    await planned.write();
    if (design) {
      await design.write();
      await keepRevision(studyId, `${name} brought in`);
    } else
      await recordAct(studyId, `${name} brought in`, {
        ...{ kind: 'presence', made: true, things: [{ what: 'cohort', id }] },
      });
    await announce(studyId);
  });
  if (design) await beginSurvey(studyId);
  return id;
}

/** The same upload is no second cohort: whoever asked for it beside us may have written it just now. */
async function refuseSecond(studyId: string, uploadId: string): Promise<void> {
  const there = await developmentCohort(studyId);
  if (!there || there.uploadId === uploadId) return;
  throw new Problem(
    409,
    'cohort-there',
    'This study has its development cohort already. Make a new study for another one.',
  );
}

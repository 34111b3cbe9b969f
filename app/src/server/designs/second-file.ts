import type { Design } from '@rook-scale/core/design';
import { sourcesOf } from '@rook-scale/core/screening';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { planReading, type PlannedCohort, type ReadFrom } from '../cohorts/index.ts';
import { currentDesign } from '../design-in-force.ts';
import { atOnce, inTurn } from '../ground/database/index.ts';
import { Problem } from '../ground/problem.ts';
import { combineUploads, forgetUploads, keptUpload } from '../intake/index.ts';
import { announce } from '../jobs/index.ts';
import { beginSurvey } from '../surveys/index.ts';
import { keepRevision, needCohort } from './change.ts';
import { planDesign } from './plan.ts';

/** What a study is to have as its second file. */
export interface SecondFileWanted {
  uploadId: string;
  /** Which of its columns stands for a column of the cohort, by the cohort's name of it. */
  columns: Record<string, string>;
}

/**
 * Holds out the patients of a second file: its rows stand below those of the first, read as the
 * cohort's dictionary says, and the split goes between them. Throws a Problem where the outcome is
 * not there, or a patient stands in both; then nothing is changed.
 */
export async function bringInSecondFile(
  studyId: string,
  { uploadId, columns }: SecondFileWanted,
): Promise<void> {
  const { fileName: name } = await keptUpload(uploadId);
  const cohort = await needCohort(studyId);
  const design = await currentDesign(studyId);
  refuseWithoutOutcome(cohort, design?.choices, columns, name);
  const first = cohort.second?.first ?? cohort.uploadId;
  const { rowCount } = await keptUpload(first);
  // Together they are a file of their own; both stay as they are.
  const both = await combineUploads({ how: 'below', first, second: uploadId, columns });
  const second = { name, from: rowCount + 1, first };
  await inTurn(studyId, async () => {
    const now = await needCohort(studyId);
    if (now.uploadId !== cohort.uploadId) throw changedMeanwhile();
    await readAnew(studyId, now, { uploadId: both.id, second }, `${name} held out`);
  });
  // Its rows are in the file of both; what is erased with the study is to be all there is.
  await forgetUploads([uploadId]);
}

/** Takes the second file out of the study again. */
export async function takeOutSecondFile(studyId: string): Promise<void> {
  await inTurn(studyId, async () => {
    const cohort = await needCohort(studyId);
    const { second } = cohort;
    if (!second) throw new Problem(409, 'no-second-file', 'There is no second file any more.');
    const file = { uploadId: second.first, second: null };
    await readAnew(studyId, cohort, file, `${second.name} taken out`);
  });
}

async function readAnew(
  studyId: string,
  cohort: CohortInfo,
  file: ReadFrom,
  what: string,
): Promise<void> {
  const planned = await planReading(cohort, cohort.dictionary, cohort.selection, file);
  const before = (await currentDesign(studyId))?.choices;
  if (!before) throw new Problem(409, 'no-design', 'This study has no design yet.');
  if (file.second) refuseNewLevels(cohort, planned, before.outcome, file.second.name);
  const design = await planDesign(planned, { ...before, split: splitOf(before, file) });
  if (file.second && design.obstacle)
    throw new Problem(422, 'second-file', `${design.obstacle} Nothing was changed.`);
  await atOnce(async () => {
    await planned.write();
    await design.write();
    await keepRevision(studyId, what);
    await announce(studyId);
  });
  await beginSurvey(studyId);
}

function splitOf({ split }: Design, { second }: ReadFrom): Design['split'] {
  if (second) return { way: 'second file', name: second.name, from: second.from };
  // What goes by shares or columns goes on without it.
  return split.way === 'second file' || split.way === 'by rows' ? { way: 'by chance' } : split;
}

function refuseWithoutOutcome(
  { dictionary }: CohortInfo,
  design: Design | undefined,
  columns: SecondFileWanted['columns'],
  name: string,
): void {
  const entry = dictionary.find((one) => one.name === design?.outcome);
  if (!entry || !design)
    throw refused('Choose the outcome first: it must be known of the held-out patients too.');
  // What is derived is worked out from other columns, which must be there.
  const readFor = (names: string[]) => {
    const read = new Set([...names, ...sourcesOf(names, dictionary)]);
    return dictionary.filter((one) => read.has(one.name) && !one.formula);
  };
  const isThere = (one: DictionaryEntry) => Object.hasOwn(columns, one.name);
  if (!readFor([entry.name]).every(isThere))
    throw refused(
      `${name} has no column for ${display(entry)}: without the outcome nobody of it can be held out. Screen it as a list instead.`,
    );
  if (!readFor(design.predictors).some(isThere))
    throw refused(`${name} has none of the predictors.`);
}

/** A level that the outcome did not have would count as no event. */
function refuseNewLevels(
  { dictionary }: CohortInfo,
  { after }: PlannedCohort,
  outcome: string,
  name: string,
): void {
  const levelsIn = (entries: CohortInfo['dictionary']) =>
    entries.find((entry) => entry.name === outcome)?.levels ?? [];
  const known = levelsIn(dictionary);
  const fresh = levelsIn(after.dictionary).filter((level) => !known.includes(level));
  if (fresh.length > 0)
    throw refused(
      `${name} says ${fresh.slice(0, 3).join(', ')} of the outcome, which the first file never does. Give it the name of a level in the file, or say in Records that it means not known.`,
    );
}

const refused = (sentence: string) =>
  new Problem(422, 'second-file', `${sentence} Nothing was changed.`);

const changedMeanwhile = () =>
  new Problem(409, 'changed-meanwhile', 'The patients were changed meanwhile. Try again.');

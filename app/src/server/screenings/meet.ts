import type { Model } from '@rook-scale/core/model';
import { neededOf, type Match } from '@rook-scale/core/screening';
import type { Table } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { fittedCandidate, withCases } from '../candidates/index.ts';
import { cohortInfo, loadTable } from '../cohorts/index.ts';
import { currentDesign } from '../design-in-force.ts';
import { notFound } from '../ground/problem.ts';
import { onThread } from '../threads/index.ts';
import type { MeetTask, Met } from './work.ts';

/** A list beside a model: what a thread needs to know to set them against each other. */
export interface Meeting {
  cohort: CohortInfo;
  /** When the fit of the model ended. */
  fittedAt: Date | null;
  task: MeetTask;
  met: Met;
}

/** Meets a list with a candidate's model, by the matching that is kept. */
export async function meetModel(
  studyId: string,
  cohortId: string,
  candidateId: string,
): Promise<Meeting> {
  const [cohort, candidate, design] = await Promise.all([
    cohortInfo(cohortId),
    fittedCandidate(candidateId),
    currentDesign(studyId),
  ]);
  if (cohort.studyId !== studyId) throw notFound('The cohort');
  if (candidate.studyId !== studyId) throw notFound('The candidate');
  const { fittedAt } = candidate;
  const model = withCases(candidate.model, design?.choices);
  const { matching } = cohort;
  const task = {
    model,
    table: withoutTexts(await loadTable(cohort), model, matching),
    matching,
    needed: neededOf(model, design?.choices.needed ?? []),
  };
  return { cohort, fittedAt, task, met: await onThread('meet', task) };
}

/** Texts are copied on their way to a thread: those that the model does not read stay here. */
function withoutTexts(table: Table, model: Model, matching: Match[]): Table {
  const read = new Set([
    model.outcome.choice.column,
    ...[...model.predictors, ...model.sources].map(({ name }) => name),
    ...matching.map(({ column }) => column),
  ]);
  return {
    ...table,
    columns: table.columns.map((column, i) =>
      column.type === 'text' && !read.has(table.dictionary[i].name)
        ? { type: 'text', values: [] }
        : column,
    ),
  };
}

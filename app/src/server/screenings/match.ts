import { and, desc, eq, isNull } from 'drizzle-orm';
import { matchingSchema, modelInputs, type Match } from '@rook-scale/core/screening';
import { display, type Dictionary, type DictionaryEntry } from '@rook-scale/core/table';
import { recordAct, type Changed } from '../acts/index.ts';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { fittedCandidate } from '../candidates/index.ts';
import { cohortInfo, planReading } from '../cohorts/index.ts';
import { atOnce, db, inTurn, tables } from '../ground/database/index.ts';
import { announce } from '../jobs/index.ts';
import { notFound, Problem } from '../ground/problem.ts';
import { same } from '../ground/same.ts';

/**
 * Keeps how a list's columns stand for a model's predictors. A column that is of another kind than
 * its predictor is read from the file again as the predictor is.
 */
export async function matchColumns(
  cohortId: string,
  candidateId: string,
  matching: Match[],
): Promise<void> {
  const { studyId } = await cohortInfo(cohortId);
  await inTurn(studyId, async () => {
    const cohort = await cohortInfo(cohortId);
    const candidate = await fittedCandidate(candidateId);
    if (candidate.studyId !== studyId) throw notFound('The candidate');
    if (cohort.purpose !== 'screening')
      throw new Problem(409, 'not-a-list', 'Only the columns of a list are matched with a model.');
    const inputs = new Map(modelInputs(candidate.model).map((input) => [input.name, input]));
    const wanted = matchingSchema.parse(matching);
    const reread = new Map<string, DictionaryEntry>();
    for (const { predictor, column } of wanted) {
      const input = inputs.get(predictor);
      const entry = cohort.dictionary.find(({ name }) => name === column);
      if (!input || !entry)
        throw new Problem(
          422,
          'no-such-column',
          `${input ? 'The list' : 'The model'} has no column "${input ? column : predictor}". Nothing was changed.`,
        );
      if (entry.role === 'identifier')
        throw new Problem(
          422,
          'identifier-matched',
          `${display(entry)} says who the patient is; it cannot stand for ${display(input)}.`,
        );
      if (entry.kind === input.kind || entry.formula) continue;
      const { levels: _, spellings: __, format, ...rest } = entry;
      reread.set(column, {
        ...rest,
        kind: input.kind,
        missingCodes: [...new Set([...entry.missingCodes, ...input.missingCodes])],
        ...(input.spellings && { spellings: input.spellings }),
        ...((format ?? input.format) && { format: format ?? input.format }),
      });
    }
    const planned = await planReading(
      cohort,
      cohort.dictionary.map((entry) => reread.get(entry.name) ?? entry),
    );
    await atOnce(async () => {
      await planned.write();
      await db()
        .update(tables.cohort)
        .set({ matching: wanted })
        .where(eq(tables.cohort.id, cohortId));
      await recordColumns(cohort, { dictionary: planned.after.dictionary, matching: wanted });
      await announce(studyId);
    });
  });
}

/** How the columns of a list are read and matched. */
export const columnsOfList = ({ dictionary, matching }: CohortInfo): Changed['columns'] => ({
  dictionary,
  matching,
});

/** Reads and matches the columns of a list as given. */
export async function setColumns(
  cohortId: string,
  { dictionary, matching }: Changed['columns'],
): Promise<void> {
  const { studyId } = await cohortInfo(cohortId);
  await inTurn(studyId, async () => {
    const cohort = await cohortInfo(cohortId);
    const planned = await planReading(cohort, dictionary);
    await atOnce(async () => {
      await planned.write();
      await db().update(tables.cohort).set({ matching }).where(eq(tables.cohort.id, cohortId));
      await recordColumns(cohort, { dictionary: planned.after.dictionary, matching });
      await announce(studyId);
    });
  });
}

async function recordColumns(cohort: CohortInfo, after: Changed['columns']): Promise<void> {
  const before = columnsOfList(cohort);
  if (same(before, after)) return;
  await recordAct(cohort.studyId, `columns of ${cohort.name} matched`, {
    ...{ kind: 'value', of: 'columns', id: cohort.id, before, after },
  });
}

/**
 * How the columns of the last list of a study with the same columns were matched, and how those
 * columns were read for it; what is proposed where there is none.
 */
export async function earlierMatching(
  studyId: string,
  dictionary: Dictionary,
): Promise<{ dictionary: Dictionary; matching: Match[] }> {
  const shape = (columns: { name: string }[]) =>
    columns
      .map(({ name }) => name)
      .sort()
      .join('\u001f');
  const earlier = await db()
    .select({ dictionary: tables.cohort.dictionary, matching: tables.cohort.matching })
    .from(tables.cohort)
    .where(
      and(
        eq(tables.cohort.studyId, studyId),
        eq(tables.cohort.purpose, 'screening'),
        isNull(tables.cohort.deletedAt),
      ),
    )
    .orderBy(desc(tables.cohort.createdAt));
  const same = earlier.find((list) => shape(list.dictionary) === shape(dictionary));
  if (!same || same.matching.length === 0) return { dictionary, matching: [] };
  // Read as it was there, so that kinds are those that were matched.
  const before = new Map(same.dictionary.map((entry) => [entry.name, entry]));
  const matched = new Set(same.matching.map(({ column }) => column));
  return {
    dictionary: dictionary.map((entry) =>
      matched.has(entry.name) ? (before.get(entry.name) ?? entry) : entry,
    ),
    matching: same.matching,
  };
}

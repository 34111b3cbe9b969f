import { and, desc, eq, isNull, ne } from 'drizzle-orm';
import { matchingSchema, modelInputs, type Match } from '@rook-scale/core/screening';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import { candidateRow } from '../candidates.ts';
import { cohortInfo, rereadCohort } from '../cohorts/index.ts';
import { db, tables } from '../database/index.ts';
import { announce } from '../jobs/index.ts';
import { inTurn } from '../merge.ts';
import { notFound, Problem } from '../problem.ts';

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
    const candidate = await candidateRow(candidateId);
    if (candidate.studyId !== studyId || !candidate.model) throw notFound('The candidate');
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
    if (reread.size > 0)
      await rereadCohort(
        cohortId,
        cohort.dictionary.map((entry) => reread.get(entry.name) ?? entry),
      );
    await db()
      .update(tables.cohort)
      .set({ matching: wanted })
      .where(eq(tables.cohort.id, cohortId));
    await announce(studyId);
  });
}

/** The matching of the last list of a study that had the same columns; empty when there is none. */
export async function matchingOfSameShape(studyId: string, cohortId: string): Promise<void> {
  const cohort = await cohortInfo(cohortId);
  const shape = (dictionary: { name: string }[]) =>
    dictionary
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
        ne(tables.cohort.id, cohortId),
        isNull(tables.cohort.deletedAt),
      ),
    )
    .orderBy(desc(tables.cohort.createdAt));
  const same = earlier.find(({ dictionary }) => shape(dictionary) === shape(cohort.dictionary));
  if (!same || same.matching.length === 0) return;
  // Read as it was there, so that kinds are those that were matched.
  const before = new Map(same.dictionary.map((entry) => [entry.name, entry]));
  const matched = new Set(same.matching.map(({ column }) => column));
  await rereadCohort(
    cohortId,
    cohort.dictionary.map((entry) =>
      matched.has(entry.name) ? (before.get(entry.name) ?? entry) : entry,
    ),
  );
  await db()
    .update(tables.cohort)
    .set({ matching: same.matching })
    .where(eq(tables.cohort.id, cohortId));
}

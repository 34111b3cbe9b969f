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

/** Share of the columns of either list that both must have for one to be matched as the other was. */
const alikeFrom = 0.75;

/**
 * How the columns of an earlier list of the study were matched, as far as they are there, and how those columns were
 * read; what is proposed where no earlier list has nearly the same columns. Of several lists the most alike decides, of
 * equals the last.
 */
export async function earlierMatching(
  studyId: string,
  dictionary: Dictionary,
): Promise<{ dictionary: Dictionary; matching: Match[] }> {
  const names = new Set(dictionary.map(({ name }) => name));
  const { cohort } = tables;
  const matched = await db()
    .select({ dictionary: cohort.dictionary, matching: cohort.matching })
    .from(cohort)
    .where(
      and(eq(cohort.studyId, studyId), eq(cohort.purpose, 'screening'), isNull(cohort.deletedAt)),
    )
    .orderBy(desc(cohort.createdAt));
  const [best] = matched
    .map((list) => ({ ...list, alike: shareInCommon(list.dictionary, names) }))
    .filter(({ alike }) => alike >= alikeFrom)
    .sort((a, b) => b.alike - a.alike);
  if (!best) return { dictionary, matching: [] };
  const before = new Map(best.dictionary.map((entry) => [entry.name, entry]));
  // A column under the predictor's own name that was not there before is what is meant.
  const isNew = (name: string) => names.has(name) && !before.has(name);
  const matching = best.matching.filter(
    ({ predictor, column }) => names.has(column) && !isNew(predictor),
  );
  // Read as it was there, so that kinds are those that were matched.
  const read = new Set(matching.map(({ column }) => column));
  return {
    dictionary: dictionary.map((entry) =>
      read.has(entry.name) ? (before.get(entry.name) ?? entry) : entry,
    ),
    matching,
  };
}

function shareInCommon(dictionary: Dictionary, names: Set<string>): number {
  const common = dictionary.filter(({ name }) => names.has(name)).length;
  return common / Math.max(dictionary.length, names.size);
}

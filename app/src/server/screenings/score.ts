import {
  caseScores,
  numbersOf,
  OutcomeError,
  packOutcome,
  packPredictions,
  readOutcome,
  widthOf,
  type Outcome,
} from '@rook-scale/core/outcome';
import { scoreRows, type AlignedPredictor, type Model } from '@rook-scale/core/screening';
import { display, type Table } from '@rook-scale/core/table';
import { candidateRow } from '../candidates/index.ts';
import { cohortFingerprint, cohortInfo } from '../cohorts/index.ts';
import { atOnce, db, inTurn, tables } from '../ground/database/index.ts';
import { asBytes } from '../files/index.ts';
import { announce } from '../jobs/index.ts';
import { Problem } from '../ground/problem.ts';
import { packBits } from './bits.ts';
import { countOnes, meetModel, unfamiliarRows, type Meeting } from './meet.ts';

/**
 * Scores a cohort with a candidate and keeps the result; scoring again replaces it.
 *
 * @param accept score also patients whose risk rests on values hardly any development patient had
 */
export async function scoreCohort(
  studyId: string,
  cohortId: string,
  candidateId: string,
  accept = false,
): Promise<string> {
  const meeting = await meetModel(studyId, cohortId, candidateId);
  refuse(meeting, accept);
  const { cohort, model, alignment, table, unscored } = meeting;
  const { predictions, intervals } = scoreRows(model, alignment.columns, table.rowCount);
  const width = widthOf(predictions);
  for (let row = 0; row < unscored.length; row++)
    if (unscored[row]) {
      numbersOf(predictions).fill(NaN, row * width, (row + 1) * width);
      intervals?.fill(NaN, 2 * row, 2 * row + 2);
    }
  const outcome = knownOutcome(table, model);
  const { cases } = model.outcome;
  const packed = packPredictions(predictions);
  const unfamiliar = alignment.unfamiliar.map(({ name, rows }) => ({
    name,
    rows: rows.map((strange, row) => (unscored[row] ? 0 : strange)),
  }));
  const values = {
    studyId: cohort.studyId,
    cohortId,
    candidateId,
    header: outcome ? { ...packed.header, ...outcome.header } : packed.header,
    values: asBytes(packed.bytes),
    cases,
    ranking: asBytes(rank(caseScores(predictions, cases))),
    intervals: intervals ? asBytes(intervals) : null,
    outcome: outcome ? asBytes(outcome.bytes) : null,
    predictors: alignment.predictors,
    extraColumns: alignment.extra,
    patients: cohortFingerprint(cohort),
    matching: cohort.matching,
    unfamiliar: unfamiliar.map(({ name }) => name),
    unfamiliarRows:
      unfamiliar.length > 0
        ? asBytes(
            packBits(
              unfamiliar.map(({ rows }) => rows),
              table.rowCount,
            ),
          )
        : null,
  };
  return inTurn(cohort.studyId, () => keep(values, meeting.fittedAt));
}

/** Keeps scores, unless list or fit have changed while they were worked out. */
async function keep(
  values: typeof tables.screening.$inferInsert,
  fittedAt: Date | null,
): Promise<string> {
  const list = await cohortInfo(values.cohortId);
  const candidate = await candidateRow(values.candidateId);
  if (
    cohortFingerprint(list) !== values.patients ||
    candidate.fittedAt?.getTime() !== fittedAt?.getTime()
  )
    throw new Problem(
      409,
      'changed-meanwhile',
      'The list or the fit was changed while it was being scored. Nothing was kept; score it again.',
    );
  return atOnce(async () => {
    const [{ id }] = await db()
      .insert(tables.screening)
      .values(values)
      .onConflictDoUpdate({
        target: [tables.screening.cohortId, tables.screening.candidateId],
        set: { ...values, createdAt: new Date() },
      })
      .returning({ id: tables.screening.id });
    await announce(values.studyId);
    return id;
  });
}

/** Nothing is scored on too little, or without what was said to be needed. */
function refuse(meeting: Meeting, accept: boolean): void {
  const { cohort, model, alignment, needed, unscored } = meeting;
  const { predictors } = alignment;
  if (predictors.every((predictor) => predictor.absent))
    throw new Problem(
      422,
      'nothing-in-common',
      `${cohort.file.name} has none of the model's ${model.predictors.length} predictors, so there is nothing to score. Check that it is the right file; columns are matched by name.`,
    );
  const lacking = predictors.filter(
    ({ name, absent, gaps }) => needed.includes(name) && (absent || gaps === unscored.length),
  );
  if (lacking.length > 0 || countOnes(unscored) === unscored.length)
    throw new Problem(
      422,
      'needed-absent',
      `${(lacking.length > 0 ? lacking : predictors.filter(({ name }) => needed.includes(name))).map(display).join(', ')} must be known for a patient to be scored, and this list does not have it. Match the column that stands for it, or let it be missing in Design.`,
    );
  const patients = countOnes(unfamiliarRows(meeting));
  if (patients > 0 && !accept)
    throw new Problem(
      409,
      'rests-on-too-little',
      `The risk of ${patients} of ${unscored.length} patients rests on what no or hardly any development patient had: ${describeUnfamiliar(predictors)}. Nobody was scored.`,
    );
}

function describeUnfamiliar(predictors: AlignedPredictor[]): string {
  const parts = predictors.flatMap((one) =>
    one.unfamiliar.map(({ what, level, rows }) => {
      const name = display(one);
      if (what === 'level') return `${name} ${level} (${rows})`;
      return what === 'gap' ? `${name} not known (${rows})` : `${name} far out of range (${rows})`;
    }),
  );
  return parts.length > 6
    ? `${parts.slice(0, 6).join(', ')} and ${parts.length - 6} more`
    : parts.join(', ');
}

/** Outcomes where the cohort has the model's outcome column as the model read it; undefined where it has not. */
function knownOutcome(table: Table, { outcome }: Model) {
  try {
    const found = readOutcome(table, outcome.choice);
    return packOutcome(inLevelsOf(outcome.levels, found));
  } catch (error) {
    if (error instanceof OutcomeError) return undefined;
    throw error;
  }
}

/** Codes of the model's own levels; a level that it does not know is not known. */
function inLevelsOf(levels: string[] | undefined, outcome: Outcome): Outcome {
  if (outcome.kind !== 'levels' || !levels) return outcome;
  const codes = outcome.levels.map((level) => levels.indexOf(level));
  const values = outcome.values.map((code) => (code < 0 ? -1 : codes[code]));
  return { ...outcome, levels, values };
}

/** Row numbers, highest score first, those without one last; equal ones in the order of the file. */
function rank(scores: Float64Array): Int32Array {
  const order = (row: number) => (Number.isNaN(scores[row]) ? -Infinity : scores[row]);
  return Int32Array.from(scores.keys()).sort((a, b) => order(b) - order(a) || a - b);
}

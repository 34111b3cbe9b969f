import { findEvents } from '@rook-scale/core/design';
import { scoreRows, type AlignedPredictor, type Model } from '@rook-scale/core/screening';
import { display, type Table } from '@rook-scale/core/table';
import { candidateRow } from '../candidates.ts';
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
  const risks = scoreRows(model, alignment.columns, table.rowCount);
  for (let row = 0; row < risks.length; row++) if (unscored[row]) risks[row] = NaN;
  const events = knownEvents(table, model);
  const unfamiliar = alignment.unfamiliar.map(({ name, rows }) => ({
    name,
    rows: rows.map((strange, row) => (unscored[row] ? 0 : strange)),
  }));
  const values = {
    studyId: cohort.studyId,
    cohortId,
    candidateId,
    risks: asBytes(risks),
    ranking: asBytes(rank(risks)),
    events: events ? asBytes(events) : null,
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

/** Outcomes where the cohort has the model's outcome column; undefined where it has not. */
function knownEvents(table: Table, model: Model): Int8Array | undefined {
  const position = table.dictionary.findIndex((entry) => entry.name === model.outcome.name);
  const column = table.columns[position];
  if (column?.type !== 'coded' || !column.levels.includes(model.outcome.event)) return undefined;
  return findEvents(table, { outcome: model.outcome.name, event: model.outcome.event });
}

/** Row numbers, highest risk first, those without one last; equal ones in the order of the file. */
function rank(risks: Float64Array): Int32Array {
  const order = (row: number) => (Number.isNaN(risks[row]) ? -1 : risks[row]);
  return Int32Array.from(risks.keys()).sort((a, b) => order(b) - order(a) || a - b);
}

import { casesOf, readScore, takeOutcome } from '@rook-scale/core/outcome';
import { choosePredictors } from '@rook-scale/core/preparation';
import type { Column, Table } from '@rook-scale/core/table';
import type { EffectView, ReasonsView } from '../../contract/reasons.ts';
import {
  candidateCutoff,
  candidateRow,
  casesInForce,
  notFitted,
  withModel,
  type CandidateRow,
} from '../candidates/index.ts';
import { namesOfRows } from '../cohorts/index.ts';
import { loadDevelopment } from '../development.ts';
import { currentDesign } from '../design-in-force.ts';
import { notFound, Problem } from '../ground/problem.ts';
import { wasLookedAt } from '../looks.ts';
import { onThread } from '../threads/index.ts';

/** How what a candidate says moves along one of its predictors. */
export async function effectView(candidateId: string, name: string): Promise<EffectView> {
  const { task, ground, cutoff, outcome } = await ready(candidateId);
  if (!ground.names.includes(name)) throw notFound(`The predictor ${name}`);
  const happened = takeOutcome(ground.outcome, ground.developmentRows);
  const asked = {
    ...task,
    name,
    truth:
      happened.kind === 'number'
        ? happened.values
        : Float64Array.from(casesOf(happened, task.cases)),
    kind: happened.kind,
  };
  const found = await withModel(candidateId, (brought) =>
    onThread('effect', { ...asked, ...brought }),
  );
  return { ...found, outcome, cutoff };
}

/** Why a candidate says what it says of one patient, and who is like them. */
export async function reasonsView(candidateId: string, row: number): Promise<ReasonsView> {
  const { task, ground, cutoff, outcome, candidate } = await ready(candidateId);
  const { table, names, cohort, sides } = ground;
  if (row >= cohort.rowCount) throw notFound('The patient');
  await refuseUnseen(candidate, sides(row));
  if (names.length === 0)
    throw new Problem(409, 'no-predictors', 'It looks at no predictor: there are no reasons.');
  const found = await withModel(candidateId, (brought) =>
    onThread('reasons', { ...task, row, seed: ground.design.seed, ...brought }),
  );
  const nameOf = await namesOfRows(cohort);
  const valuesAt = (of: number) =>
    Object.fromEntries(names.map((name) => [name, wordAt(table, name, of)]));
  return {
    ...found,
    ...{ row, cutoff, outcome, name: nameOf(row), values: valuesAt(row) },
    side: sides(row),
    similar: found.similar.map((one) => ({
      ...one,
      name: nameOf(one.row),
      happened: wordAt(table, outcome.choice.column, one.row) ?? '',
      values: valuesAt(one.row),
    })),
  };
}

/** What is said of patients who were set aside is shown once it was looked at, and of sealed ones not at all. */
async function refuseUnseen(candidate: CandidateRow, of: ReasonsView['side']): Promise<void> {
  if (of === 'development' || (of === 'held out' && (await wasLookedAt(candidate)))) return;
  throw new Problem(
    409,
    'not-looked',
    of === 'sealed'
      ? 'This patient is sealed.'
      : 'This patient is held out, and nobody has looked at this fit yet. Look at it in Held-out check first, or choose a development patient.',
  );
}

async function ready(candidateId: string) {
  const candidate = await candidateRow(candidateId);
  const { fittedAt, outcome, state } = candidate;
  if (!fittedAt || !outcome || state !== 'fitted') throw notFitted();
  const ground = await loadDevelopment(candidate);
  const design = (await currentDesign(candidate.studyId))?.choices;
  const cases = casesInForce(outcome, design);
  const { developmentRows, heldOutRows } = ground;
  const [development, heldOut] = [new Set(developmentRows), new Set(heldOutRows)];
  return {
    candidate,
    task: {
      fit: `${candidateId} ${fittedAt.toISOString()}`,
      cases,
      columns: choosePredictors(ground.table, ground.names),
      developmentRows,
    },
    ground: {
      ...ground,
      sides: (row: number): ReasonsView['side'] =>
        development.has(row) ? 'development' : heldOut.has(row) ? 'held out' : 'sealed',
    },
    cutoff: readScore(await candidateCutoff(candidate), cases),
    outcome: { ...outcome, cases },
  };
}

function wordAt({ dictionary, columns }: Table, name: string, row: number): string | null {
  const column: Column | undefined = columns[dictionary.findIndex((entry) => entry.name === name)];
  if (!column) return null;
  if (column.type === 'number') {
    const value = column.values[row];
    return Number.isNaN(value) ? null : String(Number(value.toPrecision(6)));
  }
  if (column.type === 'text') return column.values[row] || null;
  return column.levels[column.codes[row]] ?? null;
}

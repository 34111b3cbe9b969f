import type { OnTheWhole } from '@rook-scale/core/reasons';
import { casesOf, readScore, takeOutcome } from '@rook-scale/core/outcome';
import { choosePredictors } from '@rook-scale/core/preparation';
import type { Column, Table } from '@rook-scale/core/table';
import type { PatientValues } from '@rook-scale/core/screening';
import type {
  EffectView,
  OverTwoView,
  PairsView,
  ReasonsView,
  RulesView,
  WhyView,
} from '../../contract/reasons.ts';
import {
  candidateCutoff,
  candidateRow,
  casesInForce,
  fittedCandidate,
  keptFacets,
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
import type { ReasonsTask } from './work-patients.ts';
import type { OverTwoTask } from './work.ts';

/** How what a candidate says moves along one of its predictors. */
export async function effectView(candidateId: string, name: string): Promise<EffectView> {
  const { task, ground, cutoff, outcome } = await ready(candidateId);
  refuseUnknown(ground.names, [name]);
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

/** What it says over two of its predictors; without two, over the first two principal components. */
export async function overTwoView(candidateId: string, names: string[]): Promise<OverTwoView> {
  const { task, ground } = await ready(candidateId);
  const [across, up] = names;
  if (up !== undefined) refuseUnknown(ground.names, names);
  if (up !== undefined && across === up)
    throw new Problem(422, 'same-predictor', 'Choose two different predictors.');
  const over: OverTwoTask['over'] =
    up === undefined
      ? { directions: ['First component', 'Second component'] }
      : { names: [across, up] };
  return withModel(candidateId, (brought) => onThread('over two', { ...task, over, ...brought }));
}

/** How strongly its predictors act together. */
export async function pairsView(candidateId: string): Promise<PairsView> {
  const { task } = await ready(candidateId);
  return withModel(candidateId, (brought) => onThread('pairs', { ...task, ...brought }));
}

/** How much each of its predictors adds on the whole. */
export async function onTheWholeView(candidateId: string): Promise<OnTheWhole> {
  const { task, ground } = await ready(candidateId);
  if (ground.names.length === 0) throw withoutPredictors();
  const { model } = await fittedCandidate(candidateId);
  const facets = (await keptFacets(candidateId, model)).filter(({ kind }) => kind === 'importance');
  const asked = { ...task, facets, seed: ground.design.seed };
  return withModel(candidateId, (brought) => onThread('on the whole', { ...asked, ...brought }));
}

/** A small tree that says nearly what it says. */
export async function rulesView(candidateId: string, leaves: number): Promise<RulesView> {
  const { task, ground, cutoff, outcome } = await ready(candidateId);
  const folds = ground.folds.slice(0, ground.developmentRows.length);
  const asked = { ...task, folds, cutoff, leaves, seed: ground.design.seed };
  const found = await withModel(candidateId, (brought) =>
    onThread('rules', { ...asked, ...brought }),
  );
  return { ...found, outcome, cutoff };
}

/** Why it says what it says of one patient of the cohort, and who is like them. */
export async function reasonsView(candidateId: string, row: number): Promise<ReasonsView> {
  const asked = await ready(candidateId);
  const { cohort, sides } = asked.ground;
  if (row >= cohort.rowCount) throw notFound('The patient');
  await refuseUnseen(asked.candidate, sides(row));
  const name = (await namesOfRows(cohort))(row);
  return { ...(await why(asked, { row })), row, name, side: sides(row) };
}

/** The same of a patient by hand, or from a list. */
export async function whyView(candidateId: string, values: PatientValues): Promise<WhyView> {
  return why(await ready(candidateId), { values });
}

async function why(
  { task, ground, cutoff, outcome, candidate, design }: Awaited<ReturnType<typeof ready>>,
  patient: ReasonsTask['patient'],
): Promise<WhyView> {
  const { table, names, cohort } = ground;
  if (names.length === 0) throw withoutPredictors();
  const fixed = design?.fixed ?? [];
  const asked = {
    ...task,
    ...{ patient, cutoff, seed: ground.design.seed, needed: design?.needed ?? [] },
    changeable: names.filter((name) => !fixed.includes(name)),
  };
  const found = await withModel(candidate.id, (brought) =>
    onThread('reasons', { ...asked, ...brought }),
  );
  if ('lacking' in found)
    throw new Problem(
      409,
      'not-scored',
      `Not scored, so there are no reasons: ${found.lacking.join(', ')} must be known.`,
    );
  const { names: _, added, errors, values, similar, ...rest } = found;
  const nameOf = await namesOfRows(cohort);
  return {
    ...rest,
    ...{ cutoff, outcome },
    fixed: names.filter((name) => fixed.includes(name)),
    contributions: names.map((name, j) => ({
      name,
      value: added[j],
      ...(errors && { standardError: errors[j] }),
    })),
    values: Object.fromEntries(names.map((name, j) => [name, asWord(values[j])])),
    similar: similar.map((one) => ({
      ...one,
      name: nameOf(one.row),
      happened: wordAt(table, outcome.choice.column, one.row) ?? '',
      values: Object.fromEntries(names.map((name) => [name, wordAt(table, name, one.row)])),
    })),
  };
}

const withoutPredictors = () =>
  new Problem(409, 'no-predictors', 'It looks at no predictor: there are no reasons.');

function refuseUnknown(known: string[], names: string[]): void {
  for (const name of names) if (!known.includes(name)) throw notFound(`The predictor ${name}`);
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

/** What a fitted candidate is asked by, and what it stands on. */
export async function ready(candidateId: string) {
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
    design,
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
  if (column.type === 'number') return asWord(column.values[row]);
  if (column.type === 'text') return column.values[row] || null;
  return column.levels[column.codes[row]] ?? null;
}

function asWord(value: number | string | null): string | null {
  if (typeof value !== 'number') return value;
  return Number.isNaN(value) ? null : String(Number(value.toPrecision(6)));
}

import {
  caseScores,
  numbersOf,
  OutcomeError,
  packOutcome,
  packPredictions,
  readOutcome,
  widthOf,
  type CaseRule,
  type Outcome,
  type OutcomeHeader,
} from '@rook-scale/core/outcome';
import { scoreRows, unlikeThen, type Model } from '@rook-scale/core/model';
import {
  alignToModel,
  applyMatching,
  inputsBehind,
  suggestMatches,
  type AlignedPredictor,
  type Alignment,
  type Match,
  type Suggestion,
} from '@rook-scale/core/screening';
import { isMissing, type Table } from '@rook-scale/core/table';
import { packBits } from './bits.ts';

// What threads do with a list. Nothing here reads or writes anything else.

export interface MeetTask {
  model: Model;
  /** The list as it stands. */
  table: Table;
  matching: Match[];
  /** Predictors of the model without which nobody may be scored. */
  needed: string[];
}

/** How a list meets a model: what is said of its columns and counted of its patients. */
export interface Met {
  predictors: AlignedPredictor[];
  /** Columns of the list that the model does not use. */
  extra: string[];
  suggestions: Suggestion[];
  /** What must be known for anybody to be scored and is not there, or empty: of what is derived, what it reads. */
  lacking: { name: string; label: string }[];
  /** Patients who lack a predictor that must be known. */
  unscored: number;
  /** Patients of whom a value is one that hardly any development patient had, among those to be scored. */
  unfamiliar: number;
}

export function meetList(task: MeetTask): Met {
  const { table, alignment, unscored } = meet(task);
  return {
    predictors: alignment.predictors,
    extra: alignment.extra,
    suggestions: suggestMatches(task.model, table),
    lacking: lackingColumns(task, table, alignment),
    unscored: countOnes(unscored),
    unfamiliar: countOnes(unfamiliarRows(alignment, unscored)),
  };
}

export interface ScoreTask extends MeetTask {
  cases: CaseRule;
}

/** Everything that is kept of a scored list. */
export interface ScoredList {
  predictors: AlignedPredictor[];
  extra: string[];
  header: OutcomeHeader;
  values: Uint8Array;
  ranking: Int32Array;
  intervals?: Float64Array;
  /** What happened, where the list has the model's outcome. */
  outcome?: Uint8Array;
  /** Predictors with values that hardly any development patient had, and in which rows. */
  unfamiliar: { names: string[]; rows: Uint8Array };
  /** How unlike the development patients each is, all predictors together, and from where that is unusual. */
  unusual?: { scores: Float64Array; from: number };
}

export function scoreList(task: ScoreTask): ScoredList {
  const { model, cases } = task;
  const { table, alignment, unscored } = meet(task);
  const { predictions, intervals } = scoreRows(model, alignment.columns, table.rowCount);
  const width = widthOf(predictions);
  for (let row = 0; row < unscored.length; row++)
    if (unscored[row]) {
      numbersOf(predictions).fill(NaN, row * width, (row + 1) * width);
      intervals?.fill(NaN, 2 * row, 2 * row + 2);
    }
  const outcome = knownOutcome(table, model);
  const packed = packPredictions(predictions);
  const strange = alignment.unfamiliar.map(({ rows }) =>
    rows.map((marked, row) => (unscored[row] ? 0 : marked)),
  );
  return {
    predictors: alignment.predictors,
    extra: alignment.extra,
    header: outcome ? { ...packed.header, ...outcome.header } : packed.header,
    values: packed.bytes,
    ranking: rank(caseScores(predictions, cases)),
    ...(intervals && { intervals }),
    ...(outcome && { outcome: outcome.bytes }),
    unfamiliar: {
      names: alignment.unfamiliar.map(({ name }) => name),
      rows: packBits(strange, table.rowCount),
    },
    ...(model.surroundings && {
      unusual: {
        scores: unlikeThen(model.surroundings, alignment.columns, table.rowCount),
        from: model.surroundings.unusualFrom,
      },
    }),
  };
}

function meet({ model, table: given, matching, needed }: MeetTask) {
  const table = applyMatching(given, matching);
  const alignment = alignToModel(model, table);
  return { table, alignment, unscored: withoutNeeded(alignment, needed, table.rowCount) };
}

function lackingColumns(
  { model, needed }: MeetTask,
  table: Table,
  { predictors }: Alignment,
): Met['lacking'] {
  const empty = predictors.filter(
    ({ name, absent, gaps }) => needed.includes(name) && (absent || gaps === table.rowCount),
  );
  const there = new Set(table.dictionary.map(({ name }) => name));
  return empty.flatMap(({ name, label }) => {
    const missing = inputsBehind(model, name).filter((input) => !there.has(input.name));
    return missing.length > 0
      ? missing.map((input) => ({ name: input.name, label: input.label }))
      : [{ name, label }];
  });
}

/** 1 in the rows where a predictor that must be known is not. */
function withoutNeeded({ columns }: Alignment, needed: string[], count: number): Uint8Array {
  const rows = new Uint8Array(count);
  for (const column of columns) {
    if (!needed.includes(column.name)) continue;
    for (let row = 0; row < count; row++) if (isMissing(column, row)) rows[row] = 1;
  }
  return rows;
}

/** 1 in the rows with at least one value that hardly any development patient had. */
function unfamiliarRows({ unfamiliar }: Alignment, unscored: Uint8Array): Uint8Array {
  const rows = new Uint8Array(unscored.length);
  for (const one of unfamiliar)
    for (let row = 0; row < rows.length; row++) if (one.rows[row] && !unscored[row]) rows[row] = 1;
  return rows;
}

function countOnes(rows: Uint8Array): number {
  let count = 0;
  for (let row = 0; row < rows.length; row++) count += rows[row];
  return count;
}

/** Outcomes where the cohort has the model's outcome column as the model read it; undefined where it has not. */
function knownOutcome(table: Table, { outcome }: Model) {
  try {
    return packOutcome(inLevelsOf(outcome.levels, readOutcome(table, outcome.choice)));
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

import * as z from 'zod';
import { takeOutcome, type Outcome } from '../outcome/index.ts';
import { isCoded, type CodedColumn, type NumberColumn, type Table } from '../table/index.ts';
import type { Effect, EffectKind, EffectOf } from './effects.ts';
import { codesAmong, inputMeaningSchema, type InputMeaning, type Inputs } from '../inputs/index.ts';
import {
  applyStep,
  effectsOfStep,
  keptBy,
  learnedStepSchema,
  learnStep,
  usualSteps,
  type ArrangedStep,
  type StepId,
} from './steps/index.ts';
import { backingOf } from './support.ts';
import type { PlausibleEnds, WorkingColumn } from './working.ts';

export const preparationSchema = z.object({
  /** Patients it was fitted on. */
  patients: z.number(),
  /** In their order; none where the family takes columns as they are. */
  steps: z.array(learnedStepSchema),
  inputs: z.array(inputMeaningSchema),
});
/** A preparation as learned on some patients: plain JSON, the same for any later cohort. */
export type FittedPreparation = z.infer<typeof preparationSchema>;

/** One predictor as it stands in a table whose columns are already in the model's order. */
export type PredictorColumn = {
  name: string;
  ordered?: boolean;
  plausible?: PlausibleEnds;
} & (NumberColumn | CodedColumn);

/** What is learned from, as inputs. */
export interface Learning {
  inputs: Inputs;
  /** Places among the rows of those who are learned from; undefined where all are. */
  kept?: Int32Array;
}

/**
 * Learns a preparation on these rows only, and gives the inputs it makes of those learned from.
 *
 * @param outcome of each entry of `rows`
 * @param steps in the order in which they are done; without any, columns go in as they are
 */
export function fitPreparation(
  predictors: PredictorColumn[],
  rows: ArrayLike<number>,
  outcome: Outcome,
  steps: (ArrangedStep | { step: StepId })[] = withUsual(),
): { preparation: FittedPreparation } & Learning {
  let now: AtHand = { columns: takeRows(predictors, rows) };
  let backing = backingOf(outcome);
  const learned = steps.map((asked) => {
    const step = learnStep(asked, now.columns, { backing });
    const mask = keptBy(step, now.columns);
    now = { ...keepOnly(now, mask), columns: applyStep(step, keepOnly(now, mask).columns) };
    if (now.kept && mask) backing = backingOf(takeOutcome(outcome, now.kept));
    return step;
  });
  const effects = learned.flatMap(effectsOfStep);
  const inputs = now.columns.map((column) => meaning(column, effects));
  const patients = now.kept?.length ?? rows.length;
  const preparation = { patients, steps: learned, inputs };
  return { preparation, ...learningOf(preparation, now, patients) };
}

/** The columns of these rows before and after one of the steps, all learned on them. */
export function columnsAround(
  predictors: PredictorColumn[],
  rows: ArrayLike<number>,
  outcome: Outcome,
  steps: (ArrangedStep | { step: StepId })[],
  place: number,
): { before: WorkingColumn[]; after: WorkingColumn[] } {
  const backing = backingOf(outcome);
  let before = takeRows(predictors, rows);
  let after = before;
  for (const asked of steps.slice(0, place + 1)) {
    before = after;
    after = applyStep(learnStep(asked, before, { backing }), before);
  }
  return { before, after };
}

/** The inputs of those who are learned from, by a preparation that was learned on the same rows. */
export function learningInputs(
  fitted: FittedPreparation,
  predictors: PredictorColumn[],
  rows: ArrayLike<number>,
): Learning {
  let now: AtHand = { columns: takeRows(predictors, rows) };
  for (const step of fitted.steps) {
    const kept = keepOnly(now, keptBy(step, now.columns));
    now = { ...kept, columns: applyStep(step, kept.columns) };
  }
  return learningOf(fitted, now, now.kept?.length ?? rows.length);
}

/** The model inputs of these rows. Nothing is learned here, and nobody is left out. */
export function applyPreparation(
  fitted: FittedPreparation,
  predictors: PredictorColumn[],
  rows: ArrayLike<number>,
): Inputs {
  return prepared(fitted, takeRows(predictors, rows), rows.length);
}

/** The model inputs of the same rows of several tables, of which many columns may be the very same. */
export function applyToEach(
  fitted: FittedPreparation,
  tables: PredictorColumn[][],
  rows: ArrayLike<number>,
): Inputs[] {
  const taken = new Map<PredictorColumn, WorkingColumn>();
  const takeOnce = (column: PredictorColumn) => {
    const own = taken.get(column) ?? takeColumn(column, rows);
    taken.set(column, own);
    return own;
  };
  return tables.map((own) => prepared(fitted, own.map(takeOnce), rows.length));
}

function prepared(fitted: FittedPreparation, start: WorkingColumn[], rowCount: number): Inputs {
  const columns = fitted.steps.reduce((so, step) => applyStep(step, so), start);
  return asInputs(fitted, columns, rowCount);
}

/** The analyst's steps, and those that every preparation ends with. */
export const withUsual = (arranged: ArrangedStep[] = []): (ArrangedStep | { step: StepId })[] => [
  ...arranged,
  ...usualSteps.map((step) => ({ step })),
];

/** The analyst's steps for a family that takes gaps and levels. */
export const withGaps = (arranged: ArrangedStep[] = []): (ArrangedStep | { step: StepId })[] => [
  ...arranged,
  { step: 'keep gaps' },
];

/** Columns after some steps, and who of the rows they are of. */
interface AtHand {
  columns: WorkingColumn[];
  kept?: Int32Array;
}

function keepOnly({ columns, kept }: AtHand, mask: Uint8Array | undefined): AtHand {
  if (!mask || mask.every((one) => one === 1)) return { columns, ...(kept && { kept }) };
  const places = Int32Array.from(mask.keys()).filter((i) => mask[i] === 1);
  return {
    columns: columns.map((column) =>
      column.type === 'number'
        ? { ...column, values: Float64Array.from(places, (i) => column.values[i]) }
        : { ...column, codes: Int32Array.from(places, (i) => column.codes[i]) },
    ),
    kept: kept ? places.map((i) => kept[i]) : places,
  };
}

const learningOf = (
  preparation: FittedPreparation,
  { columns, kept }: AtHand,
  patients: number,
): Learning => ({ inputs: asInputs(preparation, columns, patients), ...(kept && { kept }) });

/** What a preparation does to which column, step after step. */
export const effectsOf = ({ steps }: Pick<FittedPreparation, 'steps'>): Effect[] =>
  steps.flatMap(effectsOfStep);

/** Those effects of one kind. */
export function effectsLike<What extends EffectKind>(
  fitted: Pick<FittedPreparation, 'steps'>,
  what: What,
): EffectOf<What>[] {
  return effectsOf(fitted).filter((effect): effect is EffectOf<What> => effect.what === what);
}

/** The predictors of a table by name, in the order asked for. Unknown and unusable ones are skipped. */
export function choosePredictors(table: Table, names: string[]): PredictorColumn[] {
  return names.flatMap((name): PredictorColumn[] => {
    const place = table.dictionary.findIndex((entry) => entry.name === name);
    const column = table.columns[place];
    if (!column || column.type === 'text') return [];
    const { kind, plausible } = table.dictionary[place];
    const ends = plausible && { least: plausible.least, most: plausible.most };
    return [
      {
        name,
        ...(isCoded(kind) && { ordered: kind === 'ordered category' }),
        ...(ends && { plausible: ends }),
        ...column,
      },
    ];
  });
}

function takeRows(predictors: PredictorColumn[], rows: ArrayLike<number>): WorkingColumn[] {
  return predictors.map((column) => takeColumn(column, rows));
}

function takeColumn({ name, ...column }: PredictorColumn, rows: ArrayLike<number>): WorkingColumn {
  if (column.type === 'number') {
    const values = new Float64Array(rows.length);
    for (let i = 0; i < rows.length; i++) values[i] = column.values[rows[i]];
    const { plausible } = column;
    return { source: name, part: 'value', type: 'number', values, ...(plausible && { plausible }) };
  }
  const codes = new Int32Array(rows.length);
  for (let i = 0; i < rows.length; i++) codes[i] = column.codes[rows[i]];
  const { levels, ordered } = column;
  return { source: name, part: 'value', type: 'coded', codes, levels, ordered };
}

function asInputs({ inputs }: FittedPreparation, columns: WorkingColumn[], rowCount: number) {
  if (columns.length !== inputs.length)
    throw new Error('The columns are not those that the preparation was learned on.');
  const made: Inputs = {
    rowCount,
    names: inputs.map((input) => input.name),
    columns: columns.map((column, i) =>
      column.type === 'number' ? column.values : codesAmong(column, inputs[i].levels ?? []),
    ),
    sources: inputs.map(({ kind, name, column }) => (kind === 'level' ? column : name)),
  };
  if (inputs.some(({ scaled }) => scaled))
    made.scaled = inputs.map(({ scaled }) => scaled === true);
  const coded = inputs.some(({ levels }) => levels);
  if (!coded) return made;
  return {
    ...made,
    levels: inputs.map(({ levels }) => levels),
    ordered: columns.map((column) => column.type === 'coded' && column.ordered === true),
  };
}

function meaning(column: WorkingColumn, effects: Effect[]): InputMeaning {
  const { source, part, level, reference, together = [] } = column;
  if (part === 'gap') {
    const name = `${together.join(', ')} not known`;
    return { name, column: source, kind: 'gap', ...(together.length > 1 && { columns: together }) };
  }
  if (part === 'level')
    return { name: `${source} = ${level}`, column: source, kind: 'level', level, reference };
  if (column.type === 'coded')
    return { name: source, column: source, kind: 'levels', levels: column.levels };
  const scale = effects.find(
    (effect): effect is EffectOf<'standardised'> =>
      effect.what === 'standardised' && effect.column === source,
  );
  const number = {
    mean: scale?.mean,
    sd: scale?.sd,
    ...(column.scale && { scale: column.scale }),
    ...(column.isScaled && { scaled: true as const }),
  };
  if (column.of)
    return { name: source, column: column.of[0], columns: column.of, kind: 'made', ...number };
  return { name: source, column: source, kind: 'number', ...number };
}

/** Whether an input is made of this column, alone or with others. */
export const readsColumn = ({ column, columns }: InputMeaning, name: string) =>
  column === name || columns?.includes(name) === true;

/** What becomes of the gaps of each column of the file, by the first step that fills them. */
export function fillingsOf(
  fitted: Pick<FittedPreparation, 'steps'>,
): Map<string, EffectOf<'filled'>> {
  const found = new Map<string, EffectOf<'filled'>>();
  for (const effect of effectsLike(fitted, 'filled'))
    if (!found.has(effect.column)) found.set(effect.column, effect);
  return found;
}

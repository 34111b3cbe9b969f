import * as z from 'zod';
import type { Outcome } from '../outcome/index.ts';
import { isCoded, type CodedColumn, type NumberColumn, type Table } from '../table/index.ts';
import type { Effect, EffectKind, EffectOf } from './effects.ts';
import { inputMeaningSchema, type InputMeaning, type Inputs } from './inputs.ts';
import {
  applyStep,
  effectsOfStep,
  learnedStepSchema,
  learnStep,
  usualSteps,
  type StepId,
} from './steps/index.ts';
import { backingOf } from './support.ts';
import type { WorkingColumn } from './working.ts';

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
export type PredictorColumn = { name: string; ordered?: boolean } & (NumberColumn | CodedColumn);

/**
 * Learns a preparation on these rows only, and gives the inputs it makes of them.
 *
 * @param outcome of each entry of `rows`
 * @param steps in the order in which they are done; without any, columns go in as they are
 */
export function fitPreparation(
  predictors: PredictorColumn[],
  rows: ArrayLike<number>,
  outcome: Outcome,
  steps: StepId[] = usualSteps,
): { preparation: FittedPreparation; inputs: Inputs } {
  const backing = backingOf(outcome);
  let columns = takeRows(predictors, rows);
  const learned = steps.map((id) => {
    const step = learnStep(id, columns, { backing });
    columns = applyStep(step, columns);
    return step;
  });
  const effects = learned.flatMap(effectsOfStep);
  const inputs = columns.map((column) => meaning(column, effects));
  const preparation = { patients: rows.length, steps: learned, inputs };
  return { preparation, inputs: asInputs(preparation, columns, rows.length) };
}

/** The model inputs of these rows. Nothing is learned here. */
export function applyPreparation(
  fitted: FittedPreparation,
  predictors: PredictorColumn[],
  rows: ArrayLike<number>,
): Inputs {
  const start = takeRows(predictors, rows);
  const columns = fitted.steps.reduce((so, step) => applyStep(step, so), start);
  return asInputs(fitted, columns, rows.length);
}

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
    const { kind } = table.dictionary[place];
    return [{ name, ...(isCoded(kind) && { ordered: kind === 'ordered category' }), ...column }];
  });
}

function takeRows(predictors: PredictorColumn[], rows: ArrayLike<number>): WorkingColumn[] {
  return predictors.map(({ name, ...column }): WorkingColumn => {
    if (column.type === 'number') {
      const values = new Float64Array(rows.length);
      for (let i = 0; i < rows.length; i++) values[i] = column.values[rows[i]];
      return { source: name, part: 'value', type: 'number', values };
    }
    const codes = new Int32Array(rows.length);
    for (let i = 0; i < rows.length; i++) codes[i] = column.codes[rows[i]];
    const { levels, ordered } = column;
    return { source: name, part: 'value', type: 'coded', codes, levels, ordered };
  });
}

function asInputs({ inputs }: FittedPreparation, columns: WorkingColumn[], rowCount: number) {
  if (columns.length !== inputs.length)
    throw new Error('The columns are not those that the preparation was learned on.');
  const made: Inputs = {
    rowCount,
    names: inputs.map((input) => input.name),
    columns: columns.map((column, i) =>
      column.type === 'number' ? column.values : codesOf(column, inputs[i]),
    ),
  };
  const coded = inputs.some(({ levels }) => levels);
  return coded ? { ...made, levels: inputs.map(({ levels }) => levels) } : made;
}

/** A coded column as it is, as places among the levels of then; one that was not known then is not known. */
function codesOf(column: WorkingColumn & CodedColumn, { levels = [] }: InputMeaning): Float64Array {
  const places = column.levels.map((level) => levels.indexOf(level));
  const values = new Float64Array(column.codes.length);
  for (let i = 0; i < values.length; i++) {
    const place = places[column.codes[i]] ?? -1;
    values[i] = place < 0 ? NaN : place;
  }
  return values;
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
  return { name: source, column: source, kind: 'number', mean: scale?.mean, sd: scale?.sd };
}

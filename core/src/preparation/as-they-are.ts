import type { InputMeaning, Inputs } from './inputs.ts';
import type { FittedPreparation, PredictorColumn } from './preparation.ts';

/** Columns as they are, gaps and levels too: for families that want nothing done to them. */
export function takeAsTheyAre(
  predictors: PredictorColumn[],
  rows: ArrayLike<number>,
): { preparation: FittedPreparation; inputs: Inputs } {
  const preparation: FittedPreparation = {
    asTheyAre: true,
    patients: rows.length,
    filled: [],
    gaps: { inputs: [], tooFew: [], comesWith: {} },
    indicators: [],
    standardised: [],
    inputs: predictors.map((column): InputMeaning => ({
      name: column.name,
      column: column.name,
      ...(column.type === 'coded' ? { kind: 'levels', levels: column.levels } : { kind: 'number' }),
    })),
  };
  return { preparation, inputs: inputsAsTheyAre(preparation, predictors, rows) };
}

/** The same columns of other patients; a level that was not known then is not known. */
export function inputsAsTheyAre(
  { inputs }: FittedPreparation,
  predictors: PredictorColumn[],
  rows: ArrayLike<number>,
): Inputs {
  return {
    rowCount: rows.length,
    names: inputs.map(({ name }) => name),
    levels: inputs.map(({ levels }) => levels),
    columns: inputs.map(({ column: name, levels }) => {
      const column = predictors.find((one) => one.name === name);
      if (!column) throw new Error(`The column ${name} is not there.`);
      const values = new Float64Array(rows.length);
      const places =
        column.type === 'coded' ? column.levels.map((level) => levels?.indexOf(level) ?? -1) : [];
      for (let i = 0; i < rows.length; i++) {
        if (column.type === 'number') values[i] = column.values[rows[i]];
        else {
          const place = places[column.codes[rows[i]]] ?? -1;
          values[i] = place < 0 ? NaN : place;
        }
      }
      return values;
    }),
  };
}

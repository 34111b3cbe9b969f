import { corrected, type Correction } from '../../balancing/index.ts';
import type { Inputs } from '../../inputs/index.ts';
import { emptyLike, numbersOf, type Predictions } from '../../outcome/index.ts';
import {
  applyPreparation,
  readsColumn,
  type FittedPreparation,
  type PredictorColumn,
} from '../../preparation/index.ts';
import type { Fitted } from '../family.ts';

/** A part of a blend, fitted, with the preparation that it has of its own. */
export interface BlendedPart {
  name: string;
  family: string;
  weight: number;
  /** Columns that it is given, of those of the blend. */
  predictors: string[];
  preparation: FittedPreparation;
  correction?: Correction;
  fitted: Fitted;
  /** Inputs that it looks at; all where absent. */
  reads?: string[];
}

/** What a part says of these rows. */
export const saidBy = (
  { fitted, preparation, correction }: Pick<BlendedPart, 'fitted' | 'preparation' | 'correction'>,
  columns: PredictorColumn[],
  rows: ArrayLike<number>,
): Predictions =>
  corrected(fitted.predict(applyPreparation(preparation, columns, rows)), correction);

/** The weighted sum of what the parts say of patients whose columns are as they are. */
export function blendOf(parts: BlendedPart[], inputs: Inputs): Predictions {
  const columns = columnsOf(inputs);
  const rows = Int32Array.from({ length: inputs.rowCount }, (_, row) => row);
  const said = parts
    .filter(({ weight }) => weight > 0)
    .map((part) => ({
      weight: part.weight,
      predictions: saidBy(part, chosenFrom(columns, part.predictors), rows),
    }));
  return weightedSum(said);
}

/** Columns of these names, in their order. */
export const chosenFrom = (columns: PredictorColumn[], names: string[]): PredictorColumn[] =>
  names.flatMap((name) => columns.filter((column) => column.name === name));

export function weightedSum(said: { weight: number; predictions: Predictions }[]): Predictions {
  const [first] = said;
  const together = emptyLike(first.predictions, rowsOf(first.predictions));
  const sums = numbersOf(together).fill(0);
  for (const { weight, predictions } of said) {
    const numbers = numbersOf(predictions);
    for (let i = 0; i < sums.length; i++) sums[i] += weight * numbers[i];
  }
  return together;
}

const rowsOf = (predictions: Predictions): number =>
  numbersOf(predictions).length / (predictions.kind === 'levels' ? predictions.levels.length : 1);

/** Columns of the file that any part with a weight looks at. */
export function columnsRead(parts: BlendedPart[], names: string[]): string[] {
  const read = parts
    .filter(({ weight }) => weight > 0)
    .flatMap(({ preparation, reads }) =>
      preparation.inputs.filter(({ name }) => reads?.includes(name) ?? true),
    );
  return names.filter((name) => read.some((input) => readsColumn(input, name)));
}

/** Inputs that are columns as they are, as columns again. */
function columnsOf({ names, columns, levels, ordered }: Inputs): PredictorColumn[] {
  return names.map((name, j): PredictorColumn => {
    const own = levels?.[j];
    if (!own) return { name, type: 'number', values: columns[j] };
    const codes = Int32Array.from(columns[j], (code) => (Number.isNaN(code) ? -1 : code));
    return { name, ordered: ordered?.[j] === true, type: 'coded', levels: own, codes };
  });
}

import { randomStream } from '../numeric/index.ts';
import type { PredictorColumn } from '../preparation/index.ts';
import { rowCountOf, takenRows, type Ask } from './ask.ts';

/** Predictors that are moved together. */
export interface Moved {
  name: string;
  columns: string[];
}

/** What is said of patients, as they are and with the values of some predictors dealt among them anew. */
export interface Permuted {
  plain: Float64Array;
  /** By group and time. */
  moved: Float64Array[][];
}

/**
 * Deals the values of each group of predictors among the patients anew, and asks about all: what that costs is
 * what these values are worth to the model (Breiman 2001, Machine Learning 45:5-32; Fisher, Rudin & Dominici 2019,
 * Journal of Machine Learning Research 20:177). The patients should be others than the model learned from.
 */
export function askPermuted(
  ask: Ask,
  columns: PredictorColumn[],
  groups: Moved[],
  { times = 5, seed = 1 } = {},
): Permuted {
  const rowCount = rowCountOf(columns);
  const plain = ask(columns, rowCount);
  return {
    plain,
    moved: groups.map(({ name, columns: own }) =>
      Array.from({ length: times }, (_, time) => {
        const places = shuffled(rowCount, seed, `${name} ${time}`);
        const asked = columns.map((column) =>
          own.includes(column.name) ? takenRows(column, places) : column,
        );
        return ask(asked, rowCount);
      }),
    ),
  };
}

function shuffled(count: number, seed: number, name: string): Int32Array {
  const draw = randomStream(seed, `permuted ${name}`);
  const places = Int32Array.from({ length: count }, (_, i) => i);
  for (let i = count - 1; i > 0; i--) {
    const other = Math.floor(draw.uniform() * (i + 1));
    [places[i], places[other]] = [places[other], places[i]];
  }
  return places;
}

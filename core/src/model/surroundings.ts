import * as z from 'zod';
import { quantile } from '../numeric/index.ts';
import type { PredictorColumn } from '../preparation/index.ts';
import { pickRows } from '../table/index.ts';
import {
  learnUnusualness,
  unusualnessOf,
  unusualnessSchema,
  type NamedColumn,
} from '../unusualness/index.ts';

export const surroundingsSchema = z.object({
  scores: unusualnessSchema,
  /** The score that one development patient in a hundred exceeds. */
  unusualFrom: z.number(),
});
/** What tells, all predictors together, who is unlike the development patients. */
export type Surroundings = z.infer<typeof surroundingsSchema>;

/** Of fewer patients the hundredth part is nobody. */
const fewest = 100;
/** More patients would not move a quantile that anybody could see. */
const most = 20_000;

/**
 * @param predictors of the whole cohort
 * @param rows the development patients; of many every so-manieth
 */
export function learnSurroundings(
  predictors: PredictorColumn[],
  rows: Int32Array,
): Surroundings | undefined {
  if (rows.length < fewest) return undefined;
  const every = Math.ceil(rows.length / most);
  const some = rows.filter((_, i) => i % every === 0);
  const columns = predictors.map((predictor) => ({
    ...named(predictor),
    column: pickRows(predictor, some) as NamedColumn['column'],
  }));
  const scores = learnUnusualness(columns, some.length);
  if (!scores) return undefined;
  const own = unusualnessOf(scores, columns, some.length).sort();
  return { scores, unusualFrom: quantile(own, 0.99) };
}

/** Of each patient how unlike the development patients they are, 0 to 1. */
export const unlikeThen = (
  { scores }: Surroundings,
  columns: PredictorColumn[],
  rowCount: number,
): Float64Array => unusualnessOf(scores, columns.map(named), rowCount);

const named = (column: PredictorColumn): NamedColumn => ({
  name: column.name,
  ordered: column.ordered,
  column,
});

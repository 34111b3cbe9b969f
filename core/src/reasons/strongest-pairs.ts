import type { PredictorColumn } from '../preparation/index.ts';
import { columnNamed, everyFew, rowCountOf, takenRows, valuesOf, type Ask } from './ask.ts';
import { interaction, partialDependence } from './partial-dependence.ts';

/** How strongly two predictors act together: see `interaction`. */
export interface Pair {
  names: [string, string];
  h: number;
}

/** Patients by whom it is told, and predictors whose pairs are looked at. */
const atMost = { patients: 30, predictors: 7 };

/**
 * Friedman's H of the pairs among the predictors along which what is said moves most, the strongest first.
 *
 * @param names predictors that may be among them
 */
export function strongestPairs(
  ask: Ask,
  columns: PredictorColumn[],
  names: string[],
): { pairs: Pair[]; patients: number } {
  const some = everyFew(rowCountOf(columns), atMost.patients);
  const own = columns.map((column) => takenRows(column, some));
  const moving = names
    .map((name) => ({ name, spread: spreadAlong(ask, own, name) }))
    .filter(({ spread }) => spread > 0)
    .sort((a, b) => b.spread - a.spread)
    .slice(0, atMost.predictors)
    .map(({ name }) => name);
  const pairs = moving.flatMap((one, i) =>
    moving.slice(i + 1).flatMap((other): Pair[] => {
      const h = interaction(ask, own, [one, other]);
      return h === undefined ? [] : [{ names: [one, other], h }];
    }),
  );
  return { pairs: pairs.sort((a, b) => b.h - a.h), patients: some.length };
}

function spreadAlong(ask: Ask, columns: PredictorColumn[], name: string): number {
  const values = [...new Set(Array.from(valuesOf(columnNamed(columns, name))))];
  const means = partialDependence(
    ask,
    columns,
    [name],
    values.map((value) => [value]),
  );
  return Math.max(...means) - Math.min(...means);
}

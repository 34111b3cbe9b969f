import { facetOf, type Facet, type ImportanceShown } from '../families/index.ts';
import type { Model } from '../model/index.ts';
import type { CaseRule } from '../outcome/index.ts';
import type { PredictorColumn } from '../preparation/index.ts';
import { everyFew, rowCountOf, takenRows } from './ask.ts';
import { explain, type Explained } from './explain.ts';

/** How much each predictor adds on the whole, whichever way. */
export interface OnTheWhole extends Pick<Explained, 'scale' | 'way'> {
  /** Patients over whom means are taken. */
  patients: number;
  /** Mean size of what each adds; the greatest first. */
  predictors: { name: string; size: number; gained?: number }[];
  /** What gains are shares of, where the family tells its own importance. */
  own?: Pick<ImportanceShown, 'whose' | 'patients'>;
}

/** Patients who are explained: exact sums are fast. */
const atMost = { ownSum: 2000, drawn: 50 };

/**
 * Mean sizes of contributions among development patients, beside what a family of trees says that each predictor
 * gained in its splits; gains of inputs made of one predictor are summed.
 */
export function onTheWhole(
  model: Model,
  cases: CaseRule,
  facets: Facet[],
  development: PredictorColumn[],
  seed: number,
): OnTheWhole {
  const some = (most: number) => {
    const rows = everyFew(rowCountOf(development), most);
    return explain(
      model,
      cases,
      development.map((column) => takenRows(column, rows)),
      development,
      seed,
    );
  };
  const few = some(1);
  const { names, patients, scale, way } = some(
    few.way === 'own sum' ? atMost.ownSum : atMost.drawn,
  );
  const importance = facetOf(facets, 'importance');
  const gains = importance && gainsOf(importance, model);
  const sizes = names.map((name, j) => ({
    name,
    size: patients.reduce((sum, { added }) => sum + Math.abs(added[j]), 0) / patients.length,
    ...(gains && { gained: gains.get(name) ?? 0 }),
  }));
  return {
    ...{ scale, way, patients: patients.length },
    predictors: sizes.sort((a, b) => b.size - a.size),
    ...(importance && { own: { whose: importance.whose, patients: importance.patients } }),
  };
}

function gainsOf({ inputs }: ImportanceShown, { preparation }: Model): Map<string, number> {
  const columns = new Map(preparation.inputs.map(({ name, column }) => [name, column]));
  const gains = new Map<string, number>();
  for (const { input, gained } of inputs) {
    const column = columns.get(input) ?? input;
    gains.set(column, (gains.get(column) ?? 0) + gained);
  }
  return gains;
}

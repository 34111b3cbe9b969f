import type { FittedPreparation } from './preparation.ts';
import type { Support } from './support.ts';

/** Something of a predictor that too few patients stand behind to be an input of its own. */
export type ThinInput = { column: string } & (
  | ({ what: 'level'; level: string; into: string | null } & Support)
  | ({ what: 'gap' } & Support)
  | ({ what: 'number' } & Support)
  | { what: 'together'; columns: string[] }
);

/**
 * What was pooled, joined or left out because too few patients stand behind it, in the order of the
 * predictors. A level that goes `into` null ends with its column: no other level is left beside it.
 */
export function thinInputs({ filled, gaps, pooled, indicators, standardised }: FittedPreparation) {
  const found: ThinInput[] = [];
  for (const { column } of filled) {
    const scale = standardised.find((entry) => entry.column === column);
    if (scale?.differ) found.push({ column, what: 'number', ...scale.differ });
    const pool = pooled?.find((entry) => entry.column === column);
    const left = indicators.find((entry) => entry.column === column)?.levels.length ?? 0;
    for (const { level, ...support } of pool?.thin ?? []) {
      const into = left > 0 ? (pool!.into[level] ?? null) : null;
      found.push({ column, what: 'level', level, into, ...support });
    }
    const few = gaps?.tooFew.find((entry) => entry.column === column);
    if (few) found.push({ what: 'gap', ...few });
    const shared = gaps?.inputs.find((entry) => entry.columns[0] === column);
    if (shared && shared.columns.length > 1)
      found.push({ column, what: 'together', columns: shared.columns });
  }
  return found;
}

import { effectsLike, type FittedPreparation } from './preparation.ts';
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
export function thinInputs(fitted: Pick<FittedPreparation, 'steps'>): ThinInput[] {
  const found: ThinInput[] = [];
  for (const effect of effectsLike(fitted, 'left out'))
    if (effect.why === 'too few differ') {
      const { why: _, ...few } = effect;
      found.push({ ...few, what: 'number' });
    }
  const made = new Map(effectsLike(fitted, 'indicators').map((one) => [one.column, one.levels]));
  for (const pooled of effectsLike(fitted, 'level pooled')) {
    const left = made.get(pooled.column)?.length ?? 0;
    found.push({ ...pooled, what: 'level', into: left > 0 ? (pooled.into ?? null) : null });
  }
  for (const few of effectsLike(fitted, 'gap not marked')) found.push({ ...few, what: 'gap' });
  for (const { column, columns } of effectsLike(fitted, 'gap marked'))
    if (columns.length > 1) found.push({ column, what: 'together', columns });
  return inOrder(found, effectsLike(fitted, 'filled'));
}

function inOrder(found: ThinInput[], predictors: { column: string }[]): ThinInput[] {
  const order = new Map(predictors.map(({ column }, place) => [column, place]));
  return found.sort((a, b) => (order.get(a.column) ?? 0) - (order.get(b.column) ?? 0));
}

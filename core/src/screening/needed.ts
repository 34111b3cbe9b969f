import { familyOf } from '../families/index.ts';
import type { Model } from '../model/index.ts';

/**
 * Predictors of a model without which nobody may be scored: those that are marked so, and whatever a
 * rule gives.
 */
export function neededOf({ predictors, family }: Model, marked: string[]): string[] {
  const names = predictors.map(({ name }) => name);
  if (familyOf(family.id).description.fixed) return names;
  return names.filter((name) => marked.includes(name));
}

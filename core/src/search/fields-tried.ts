import type { FamilyDescription, SettingField } from '../families/index.ts';
import { fewerFields } from './fewer/index.ts';
import { growingFields } from './growing/index.ts';
import type { SearchPlan } from './plan.ts';

/** Fields of what a search compares: settings of its family, predictors, or patients. */
export function fieldsTried(
  { settings }: Pick<FamilyDescription, 'settings'>,
  { fewer, growing }: Pick<SearchPlan, 'fewer' | 'growing'>,
): SettingField[] {
  if (fewer) return fewerFields;
  return growing ? growingFields : settings;
}

import type { Family } from './family.ts';
import { logisticRegression } from './logistic/logistic-regression.ts';
import { reference } from './reference/reference.ts';

/** Every model family, in the order the interface offers them. A new family is added here. */
export const families: Family[] = [reference, logisticRegression];

/** The family of this id; throws when there is none. */
export function familyOf(id: string): Family {
  const family = families.find((candidate) => candidate.id === id);
  if (!family) throw new Error(`There is no model family "${id}".`);
  return family;
}

export {
  settingsSchema,
  type Coefficient,
  type Family,
  type FitContext,
  type Fitted,
  type FitWarning,
  type LikelihoodSummary,
  type SettingField,
  type Settings,
} from './family.ts';

import * as z from 'zod';
import type { SettingField, Settings } from '../../families/index.ts';
import { SearchError } from '../search-error.ts';

/** On how many patients a family is fitted, to see whether more would help. */
export const growingPlanSchema = z.object({
  /** Numbers of patients, from few to all. */
  steps: z.number().int().min(4).max(12).default(7),
});
export type GrowingPlan = z.infer<typeof growingPlanSchema>;

/** Patients, and those with the rarer outcome, that are learned from at least (common practice). */
const fewestPatients = 40;
const fewestOfRarer = 5;

/**
 * Numbers of patients by equal ratios, up to all who are learned from in a fold.
 *
 * @param rarer those of them with the rarer outcome; of a number a tenth
 * @throws SearchError where they are too few for a curve
 */
export function growingTried({ steps }: GrowingPlan, learned: number, rarer: number): Settings[] {
  const least = Math.max(0.02, fewestPatients / learned, fewestOfRarer / Math.max(1, rarer));
  if (least > 0.5)
    throw new SearchError(
      `A fold learns from ${learned.toLocaleString('en')} patients, ${Math.floor(rarer).toLocaleString('en')} of them with the rarer outcome: too few for a curve.`,
    );
  const sizes = Array.from({ length: steps }, (_, k) =>
    Math.round(learned * least ** ((steps - 1 - k) / (steps - 1))),
  );
  return [...new Set(sizes)].map((patients) => ({ patients }));
}

export const growingFields: SettingField[] = [
  {
    name: 'patients',
    label: 'Patients learned from',
    help: 'How many patients each fold learns from.',
    type: 'number',
    least: 1,
    most: 1e9,
    step: 1,
    whole: true,
    default: 1,
  },
];

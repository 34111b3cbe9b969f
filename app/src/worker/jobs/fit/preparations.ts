import { createHash } from 'node:crypto';
import { outcomeChoice, type Design } from '@rook-scale/core/design';
import type { FittedPreparation, StepId } from '@rook-scale/core/preparation';
import type { CohortInfo } from '../../../contract/cohorts.ts';
import { cohortFingerprint } from '../../../server/cohorts/index.ts';

/** How many are kept: those of the last few designs, of a few kilobytes each as a rule. */
const keptAtMost = 36;

const kept = new Map<string, FittedPreparation>();

/**
 * What candidates of one design learn alike: a preparation depends on who is in the fold, the columns
 * the outcome and the steps, and not on the family otherwise. It takes twice as long to learn as to use.
 */
export function preparationsOf(
  divisionId: string,
  cohort: CohortInfo,
  design: Design,
  names: string[],
  steps: { step: StepId }[],
) {
  const outcome = outcomeChoice(design, cohort.dictionary);
  const key = createHash('sha256')
    .update(JSON.stringify([divisionId, cohortFingerprint(cohort), outcome, names, steps]))
    .digest('hex');
  return {
    /** What was learned for a part of a fit, by its name; undefined where nobody has yet. */
    learned: (part: string) => kept.get(`${key} ${part}`),
    keep(part: string, preparation: FittedPreparation): void {
      kept.set(`${key} ${part}`, preparation);
      for (const oldest of [...kept.keys()].slice(0, Math.max(0, kept.size - keptAtMost)))
        kept.delete(oldest);
    },
  };
}

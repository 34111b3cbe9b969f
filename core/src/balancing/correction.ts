import type { Predictions } from '../outcome/index.ts';

/** Shares of cases among the patients as they came, and among those learned from. */
export interface Correction {
  share: number;
  learned: number;
}

/**
 * Risks of a model that learned from balanced patients, brought back to the share of cases that there
 * is: the odds by the ratio of the odds of both shares (Elkan 2001, IJCAI 17:973-978, theorem 2).
 */
export function corrected(
  predictions: Predictions,
  correction: Correction | undefined,
): Predictions {
  if (!correction || predictions.kind !== 'event') return predictions;
  const factor = Math.exp(-shiftOf(correction));
  return {
    kind: 'event',
    risks: predictions.risks.map((risk) => (risk * factor) / (risk * factor + (1 - risk))),
  };
}

/** What balancing added to the logarithm of the odds of everybody. */
export const shiftOf = ({ share, learned }: Correction): number =>
  Math.log(learned / (1 - learned)) - Math.log(share / (1 - share));

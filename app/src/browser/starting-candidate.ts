import type { CandidateLine } from '../contract/candidates.ts';

/**
 * The candidate that a page begins with: the one chosen for the study, or else the cheapest out of fold among those
 * that are up to date.
 */
export function startingCandidate(
  lines: CandidateLine[],
  chosen: { id: string } | null,
): CandidateLine | undefined {
  const own = lines.find(({ id }) => id === chosen?.id);
  if (own) return own;
  const fitted = lines.filter(({ results }) => results);
  const rank = ({ outOfDate, family, results }: CandidateLine) =>
    (outOfDate ? 1e12 : 0) + (family === 'reference' ? 1e9 : 0) + results!.costPerThousand;
  return fitted.length === 0
    ? undefined
    : fitted.reduce((best, line) => (rank(line) < rank(best) ? line : best));
}

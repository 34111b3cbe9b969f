import type { CandidateLine } from '../../contract/candidates.ts';
import { useAddress } from '../../browser/address.ts';

/** The cutoff as it stands on the risk scale, moved or not. */
export function useCutoff({ results }: CandidateLine): number {
  const [moved] = useAddress('cutoff');
  return moved === undefined ? (results?.cutoff ?? 1) : Number(moved);
}

import { useQuery } from '@tanstack/react-query';
import type { CandidateLine } from '../../contract/candidates.ts';
import { reasonRoutes } from '../../contract/reasons.ts';
import { useAddress } from '../../browser/address.ts';
import { ask } from '../../browser/api.ts';

/** The predictor whose effect is looked at, those that could be (the most worth first), and the effect. */
export function useEffectView(line: CandidateLine | undefined) {
  const [asked, setAsked] = useAddress('predictor');
  const ids = { candidate: line?.id ?? '' };
  const { data: worth } = useQuery({
    queryKey: ['worth', line?.id, line?.fittedAt],
    queryFn: () => ask(reasonRoutes.worth, ids),
    enabled: line !== undefined,
  });
  const order = byWorth(line?.uses ?? [], worth?.worths?.[0]?.groups);
  const name = asked && order.includes(asked) ? asked : order[0];
  const { data: found, error } = useQuery({
    queryKey: ['effect', line?.id, line?.fittedAt, line?.results?.cutoff, name],
    queryFn: () => ask(reasonRoutes.effect, ids, { query: { name } }),
    enabled: name !== undefined,
    staleTime: Infinity,
    placeholderData: (before) => before,
  });
  return { order, name, found, error, setAsked };
}

/** The most worth first, where it was worked out. */
function byWorth(uses: string[], groups: { name: string; value: number }[] | undefined): string[] {
  if (!groups) return uses;
  const worthOf = (name: string) => groups.find((group) => group.name === name)?.value ?? -Infinity;
  return uses.toSorted((a, b) => worthOf(b) - worthOf(a));
}

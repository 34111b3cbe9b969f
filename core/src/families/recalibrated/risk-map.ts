import * as z from 'zod';
import { recalibration } from '../../measures/index.ts';
import { logistic, risingBlocks } from '../../numeric/index.ts';

/** How a risk becomes another one. Both kinds never turn the order of two patients round. */
export const riskMapSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('line'),
    /** Added to the log-odds, which are multiplied by the slope before. */
    constant: z.number(),
    slope: z.number().min(0),
    /** Log-odds farther out than this, either way, are taken as this. */
    farthest: z.number().positive(),
  }),
  z.object({
    kind: z.literal('steps'),
    /** Risks in rising order, and what each becomes; straight in between, level beyond the ends. */
    at: z.array(z.number()).min(1),
    to: z.array(z.number()).min(1),
  }),
]);

export type RiskMap = z.infer<typeof riskMapSchema>;

export type HowMoved = 'intercept' | 'line' | 'isotonic';

/**
 * The map under which risks come true among those whom they were told of. Undefined where nothing can be
 * learned: all had the same outcome, or an estimate has no finite value.
 *
 * A risk of 0 or 1 has no log-odds: it is taken as half a patient among as many as there are. A slope
 * below zero would turn the order round: everybody is then told the share of cases.
 */
export function learnRiskMap(
  how: HowMoved,
  risks: ArrayLike<number>,
  events: ArrayLike<number>,
): RiskMap | undefined {
  const { length } = risks;
  const cases = Array.from(events).reduce((sum, one) => sum + one, 0);
  if (cases === 0 || cases === length) return undefined;
  if (how === 'isotonic') return isotonic(risks, events);
  const least = 1 / (2 * (length + 1));
  const kept = Float64Array.from(risks, (risk) => Math.min(1 - least, Math.max(least, risk)));
  const farthest = Math.log((1 - least) / least);
  const flat = { kind: 'line' as const, constant: Math.log(cases / (length - cases)), slope: 0 };
  if (kept.every((risk) => risk === kept[0])) return { ...flat, farthest };
  const moved = recalibration(kept, events);
  if (!moved) return undefined;
  if (how === 'intercept') return { kind: 'line', constant: moved.large.value, slope: 1, farthest };
  return moved.slope.value > 0
    ? { kind: 'line', constant: moved.constant.value, slope: moved.slope.value, farthest }
    : { ...flat, farthest };
}

/** What a risk becomes. */
export function movedRisk(map: RiskMap, risk: number): number {
  if (map.kind === 'line') {
    const odds = Math.log(risk / (1 - risk));
    const kept = Math.min(map.farthest, Math.max(-map.farthest, odds));
    return logistic(map.constant + map.slope * kept);
  }
  const { at, to } = map;
  const last = at.length - 1;
  if (risk <= at[0]) return to[0];
  if (risk >= at[last]) return to[last];
  let [low, high] = [0, last];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (at[middle] <= risk) low = middle;
    else high = middle;
  }
  return to[low] + ((risk - at[low]) / (at[high] - at[low])) * (to[high] - to[low]);
}

/**
 * The rising shares of cases with the least squared error. Below the first case they are 0 and above the last
 * other patient 1, however few lie there: such an end is told what one case and one other patient more would
 * leave of it (the rule of succession), as far as it stays in order.
 */
function isotonic(risks: ArrayLike<number>, events: ArrayLike<number>): RiskMap {
  const groups = sameRisks(risks, events);
  const blocks = risingBlocks(
    groups.map(({ cases, patients }) => cases / patients),
    groups.map(({ patients }) => patients),
  );
  const counts = blocks.map(({ from, to }) =>
    groups.slice(from, to).reduce((sum, { patients }) => sum + patients, 0),
  );
  const shares = blocks.map(({ mean }) => mean);
  const last = shares.length - 1;
  if (shares[0] === 0) shares[0] = Math.min(shares[1], 1 / (counts[0] + 2));
  if (shares[last] === 1)
    shares[last] = Math.max(shares[last - 1], (counts[last] + 1) / (counts[last] + 2));
  const points = blocks.flatMap(({ from, to }, k) => [
    [groups[from].risk, shares[k]],
    ...(to - from > 1 ? [[groups[to - 1].risk, shares[k]]] : []),
  ]);
  return { kind: 'steps', at: points.map(([at]) => at), to: points.map(([, share]) => share) };
}

/** Patients of the same risk together, the lowest first. */
function sameRisks(risks: ArrayLike<number>, events: ArrayLike<number>) {
  const order = Int32Array.from({ length: risks.length }, (_, i) => i);
  order.sort((a, b) => risks[a] - risks[b]);
  const groups: { risk: number; cases: number; patients: number }[] = [];
  for (const i of order) {
    const group = groups[groups.length - 1];
    if (group?.risk === risks[i]) {
      group.cases += events[i];
      group.patients++;
    } else groups.push({ risk: risks[i], cases: events[i], patients: 1 });
  }
  return groups;
}

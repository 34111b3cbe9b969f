import type { RankedRisks } from './ranked.ts';

/** What is found among the patients most at risk. */
export interface Lift {
  patients: number;
  /** Cases among them; of patients with the same risk, where only some are among them, as many as is to be expected. */
  cases: number;
  /** Share of all cases. */
  share: number;
  /** How many times as many as among as many patients drawn by chance; undefined without a case. */
  times?: number;
}

/** @param patients so many, those most at risk first; no more than there are */
export function liftAmong(ranked: RankedRisks, patients: number): Lift {
  const { risks, events, eventsAbove, times } = ranked;
  const count = Math.min(risks.length, Math.round(patients * times));
  const cases = casesAbove(risks, eventsAbove, count) / times;
  const share = events === 0 ? 0 : cases / events;
  return {
    patients: count / times,
    cases,
    share,
    ...(events > 0 && count > 0 && { times: share / (count / risks.length) }),
  };
}

function casesAbove(risks: Float64Array, eventsAbove: Int32Array, count: number): number {
  if (count === 0 || count === risks.length) return eventsAbove[count];
  const risk = risks[count - 1];
  if (risks[count] !== risk) return eventsAbove[count];
  let [from, to] = [count - 1, count];
  while (from > 0 && risks[from - 1] === risk) from--;
  while (to < risks.length && risks[to] === risk) to++;
  const own = (eventsAbove[to] - eventsAbove[from]) * ((count - from) / (to - from));
  return eventsAbove[from] + own;
}

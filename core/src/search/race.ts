import { randomStream } from '../numeric/index.ts';
import type { SearchMeasure } from './measures.ts';
import type { Tried } from './choose.ts';

/** In each round one of so many stays, on so many times the patients. */
const factor = 3;
/** Patients of whom a round has at least so many, and so many of the rarer kind. */
const fewestPatients = 300;
const fewestOfRarer = 30;

/**
 * Shares of the patients on which the rounds of a race run, the last on all: successive halving (Jamieson & Talwalkar
 * 2016, AISTATS 51:240-248), with thirds. One round where there are too few settings or patients for more.
 *
 * @param rarer patients with the rarer outcome; of a number a tenth of all
 */
export function raceShares(settings: number, patients: number, rarer: number): number[] {
  const times = (many: number) => Math.floor(Math.log(many) / Math.log(factor) + 1e-9);
  const rounds = Math.max(
    0,
    Math.min(times(settings / 2), times(patients / fewestPatients), times(rarer / fewestOfRarer)),
  );
  return Array.from({ length: rounds + 1 }, (_, round) => factor ** (round - rounds));
}

/** Places of the third that goes on, in their order; those without a figure do not. */
export function survivorsOf(tried: Tried[], { better }: Pick<SearchMeasure, 'better'>): number[] {
  const sign = better === 'higher' ? -1 : 1;
  return tried
    .flatMap(({ figure }, place) => (figure ? [{ place, value: sign * figure.value }] : []))
    .sort((a, b) => a.value - b.value || a.place - b.place)
    .slice(0, Math.ceil(tried.length / factor))
    .map(({ place }) => place)
    .sort((a, b) => a - b);
}

/**
 * Places of a share of the patients, as many of each stratum; a smaller share is part of a larger one.
 *
 * @param strata of each patient, from 0
 */
export function shareOf(strata: ArrayLike<number>, share: number, seed: number): Int32Array {
  const { length } = strata;
  if (share >= 1) return Int32Array.from({ length }, (_, i) => i);
  const draw = randomStream(seed, 'patients of a race');
  const order = Float64Array.from({ length }, () => draw.uniform());
  const members: number[][] = [];
  for (let i = 0; i < length; i++) (members[strata[i]] ??= []).push(i);
  const kept = members
    .filter(Boolean)
    .flatMap((own) =>
      own.sort((a, b) => order[a] - order[b]).slice(0, Math.ceil(share * own.length)),
    );
  return Int32Array.from(kept).sort();
}

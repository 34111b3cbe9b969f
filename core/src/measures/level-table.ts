import type { Outcome, Predictions } from '../outcome/index.ts';
import { takeClusters, type Clusters } from './clusters.ts';
import { rate, ratesOf, type Rate } from './rates.ts';
import { tableSpread } from './table-spread.ts';

/** Patients by true level (rows) and given level (columns). */
export interface LevelTable {
  levels: string[];
  /** `counts[i][j]`: patients with level i who were given level j. */
  counts: number[][];
}

/** How the level that a patient is given follows from the shares. */
export type LevelRule =
  /** The one with the largest share; of equal ones the first. */
  | { rule: 'likeliest' }
  /** The one whose expected cost is least. @see errorCosts rows true, columns given */
  | { rule: 'cheapest'; costs: number[][] };

/** The rule that errors of this cost ask for: the likeliest level where every error costs the same. */
export const levelRule = (costs: number[][] | undefined): LevelRule =>
  costs ? { rule: 'cheapest', costs } : { rule: 'likeliest' };

/** Code of the level that each patient is given. */
export function giveLevels({ levels, shares }: Predictions<'levels'>, rule: LevelRule): Int32Array {
  const width = levels.length;
  const given = new Int32Array(shares.length / width);
  for (let i = 0; i < given.length; i++) {
    const own = shares.subarray(i * width, (i + 1) * width);
    given[i] = rule.rule === 'likeliest' ? placeOfLargest(own) : placeOfCheapest(own, rule.costs);
  }
  return given;
}

/** Counts patients whose outcome is known. */
export function levelTable({ values, levels }: Outcome<'levels'>, given: Int32Array): LevelTable {
  const counts = levels.map(() => levels.map(() => 0));
  for (let i = 0; i < given.length; i++) if (values[i] >= 0) counts[values[i]][given[i]]++;
  return { levels, counts };
}

/** What is said of one level against all others. */
export interface LevelRates {
  level: string;
  /** Patients with the level who were given it. */
  sensitivity: Rate;
  specificity: Rate;
  /** Patients given the level who have it. */
  positivePredictiveValue: Rate;
  negativePredictiveValue: Rate;
}

/** Level that each row has and is given, and which rows are of one patient or group. */
export interface LevelRows {
  values: ArrayLike<number>;
  given: Int32Array;
  clusters: Clusters;
}

/** @param rows where several are of one patient or group: intervals are then by cluster */
export function levelRates({ levels, counts }: LevelTable, rows?: LevelRows): LevelRates[] {
  if (rows) return levels.map((level, k) => ({ level, ...ratesByCluster(rows, k) }));
  const all = sum(counts.flat());
  return levels.map((level, k) => {
    const right = counts[k][k];
    const have = sum(counts[k]);
    const given = sum(counts.map((row) => row[k]));
    const neither = all - have - given + right;
    return {
      level,
      sensitivity: rate(right, have),
      specificity: rate(neither, all - have),
      positivePredictiveValue: rate(right, given),
      negativePredictiveValue: rate(neither, all - given),
    };
  });
}

/** The rates of one level against the others, by cluster: those of the error table that calls it in. */
function ratesByCluster({ values, given, clusters }: LevelRows, level: number) {
  const known = Array.from(given.keys()).filter((row) => values[row] >= 0);
  const isGiven = (row: number) => given[row] === level;
  const order = [...known.filter(isGiven), ...known.filter((row) => !isGiven(row))];
  const called = known.filter(isGiven).length;
  const events = order.map((row) => Number(values[row] === level));
  const found = sum(events.slice(0, called));
  const have = sum(events);
  const own = takeClusters(clusters, order);
  return ratesOf({
    found,
    missed: have - found,
    falseAlarms: called - found,
    rightlyLeft: order.length - called - have + found,
    ...(own && { spread: tableSpread(events, called, own, 1) }),
  });
}

/** Cost of the errors per 1,000 patients. @param costs true level in rows, given level in columns */
export function levelCostPerThousand({ counts }: LevelTable, costs: number[][]): number {
  const patients = sum(counts.flat());
  if (patients === 0) return 0;
  const cost = sum(counts.flatMap((row, i) => row.map((count, j) => count * costs[i][j])));
  return (1000 * cost) / patients;
}

/**
 * The one level that is cheapest to give everybody, and its cost per 1,000: what knowing nothing costs.
 *
 * @param have patients of each true level
 */
export function oneLevelForAll(
  have: number[],
  costs: number[][],
): { place: number; costPerThousand: number } {
  const patients = sum(have);
  const each = have.map((_, j) => sum(have.map((count, i) => count * costs[i][j])));
  const least = Math.min(...each);
  return {
    place: each.indexOf(least),
    costPerThousand: patients === 0 ? 0 : (1000 * least) / patients,
  };
}

/** What giving everybody the cheapest level would cost the patients of a table, per 1,000. */
export const levelReferenceCost = ({ counts }: LevelTable, costs: number[][]): number =>
  oneLevelForAll(counts.map(sum), costs).costPerThousand;

/** Tables of error costs that are often wanted; an error costs 1, its distance in levels, or that squared. */
export const costPresets = {
  equal: (levels: number) => square(levels, (i, j) => Number(i !== j)),
  distance: (levels: number) => square(levels, (i, j) => Math.abs(i - j)),
  'squared distance': (levels: number) => square(levels, (i, j) => (i - j) ** 2),
} as const;
export type CostPreset = keyof typeof costPresets;

const square = (levels: number, cost: (i: number, j: number) => number) =>
  Array.from({ length: levels }, (_, i) => Array.from({ length: levels }, (__, j) => cost(i, j)));

function placeOfLargest(values: Float64Array): number {
  let best = 0;
  for (let k = 1; k < values.length; k++) if (values[k] > values[best]) best = k;
  return best;
}

function placeOfCheapest(shares: Float64Array, costs: number[][]): number {
  let best = 0;
  let least = Infinity;
  for (let given = 0; given < shares.length; given++) {
    let cost = 0;
    for (let k = 0; k < shares.length; k++) cost += shares[k] * costs[k][given];
    // Rounding must not decide between equals: the earlier level stays.
    if (cost < least - 1e-12) [best, least] = [given, cost];
  }
  return best;
}

const sum = (values: number[]) => values.reduce((total, value) => total + value, 0);

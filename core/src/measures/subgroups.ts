import { chiSquareUpperTail, sortedPresent, sortedQuantile, z95 } from '../numeric/index.ts';
import type { CodedColumn, NumberColumn } from '../table/index.ts';
import { costOfCall, type ErrorCosts } from './costs.ts';
import { errorTable, type ErrorTable } from './error-table.ts';
import type { Interval } from './intervals.ts';
import { rankRisks } from './ranked.ts';
import { ratesOf, type Figure } from './rates.ts';
import { areaUnderCurve } from './roc.ts';

/** Patients who have something in common. */
export interface Subgroup {
  name: string;
  patients: number;
  cases: number;
  table: ErrorTable;
  figures: Record<SubgroupMeasure, Figure>;
}

export const subgroupMeasures = [
  'sensitivity',
  'specificity',
  'positivePredictiveValue',
  'negativePredictiveValue',
  'accuracy',
  'area',
  'cost',
  'brier',
] as const;
export type SubgroupMeasure = (typeof subgroupMeasures)[number];

export interface SubgroupTask {
  scores: ArrayLike<number>;
  /** 1 where the patient is a case. */
  events: ArrayLike<number>;
  cutoff: number;
  costs: ErrorCosts;
}

/** The levels of a column, or numbers in four bands of as many patients each; those who lack it by themselves. */
export function groupsBy(column: NumberColumn | CodedColumn): { name: string; places: number[] }[] {
  const places = new Map<string, number[]>();
  const put = (name: string, place: number) => {
    const own = places.get(name);
    if (own) own.push(place);
    else places.set(name, [place]);
  };
  const names = column.type === 'coded' ? column.levels : bandsOf(column.values);
  if (column.type === 'coded')
    column.codes.forEach((code, i) => put(column.levels[code] ?? unknown, i));
  else {
    const edges = edgesOf(column.values);
    column.values.forEach((value, i) =>
      put(Number.isNaN(value) ? unknown : names[edges.filter((edge) => value >= edge).length], i),
    );
  }
  return [...names, unknown].flatMap((name) => {
    const own = places.get(name);
    return own ? [{ name, places: own }] : [];
  });
}

export const unknown = 'not known';

/** Quartiles of the known numbers, each once. */
function edgesOf(values: Float64Array): number[] {
  const sorted = sortedPresent(values);
  if (sorted.length === 0) return [];
  const edges = [0.25, 0.5, 0.75].map((share) => sortedQuantile(sorted, share));
  return [...new Set(edges)].filter((edge) => edge > sorted[0]);
}

function bandsOf(values: Float64Array): string[] {
  const edges = toldApart(edgesOf(values));
  if (edges.length === 0) return ['all'];
  return [
    `below ${edges[0]}`,
    ...edges.slice(1).map((edge, i) => `${edges[i]} to below ${edge}`),
    `${edges[edges.length - 1]} or more`,
  ];
}

/** Numbers with as few digits as tell them apart, four at least. */
function toldApart(numbers: number[]): string[] {
  for (let digits = 4; digits < 17; digits++) {
    const texts = numbers.map((one) => String(Number(one.toPrecision(digits))));
    if (new Set(texts).size === texts.length) return texts;
  }
  return numbers.map(String);
}

/** Every measure of each group. */
export function subgroupsOf(
  groups: { name: string; places: number[] }[],
  { scores, events, cutoff, costs }: SubgroupTask,
): Subgroup[] {
  return groups.map(({ name, places }) => {
    const own = Float64Array.from(places, (place) => scores[place]);
    const happened = Uint8Array.from(places, (place) => events[place]);
    const table = errorTable(rankRisks(own, happened, Infinity), cutoff);
    const rates = ratesOf(table);
    const cases = table.found + table.missed;
    return {
      name,
      patients: places.length,
      cases,
      table,
      figures: {
        sensitivity: rates.sensitivity,
        specificity: rates.specificity,
        positivePredictiveValue: rates.positivePredictiveValue,
        negativePredictiveValue: rates.negativePredictiveValue,
        accuracy: rates.accuracy,
        area: areaUnderCurve(own, happened) ?? {},
        cost: meanOf(own, (score, i) => 1000 * costOfCall(score, happened[i], cutoff, costs)),
        brier: meanOf(own, (score, i) => (score - happened[i]) ** 2),
      },
    };
  });
}

/** A mean with its large-sample 95% interval. @param least that it can be */
export function meanOf(
  scores: Float64Array,
  of: (score: number, i: number) => number,
  least = 0,
): Figure {
  const { length } = scores;
  if (length === 0) return {};
  const values = scores.map(of);
  const value = values.reduce((sum, one) => sum + one, 0) / length;
  if (length < 2) return { value };
  const squares = values.reduce((sum, one) => sum + (one - value) ** 2, 0);
  const reach = z95 * Math.sqrt(squares / (length - 1) / length);
  if (reach === 0) return { value };
  return { value, interval: [Math.max(least, value - reach), value + reach] };
}

/**
 * Whether groups differ by more than chance. Proportions: Pearson's chi-square. Others: Cochran's Q, squared distances
 * from the mean weighed by the variances (Cochran 1954, Biometrics 10:101-129), of the groups that have an
 * interval. Undefined where fewer than two can be compared.
 */
export function differenceTest(
  groups: Subgroup[],
  measure: SubgroupMeasure,
): { chiSquare: number; degrees: number; p: number } | undefined {
  const counts = groups.map(({ table }) => countsFor[measure]?.(table));
  const found = counts[0] ? pearson(counts.map((one) => one!)) : cochran(groups, measure);
  return found && { ...found, p: chiSquareUpperTail(found.chiSquare, found.degrees) };
}

/** Of a proportion, how many of how many. */
const countsFor: Partial<Record<SubgroupMeasure, (table: ErrorTable) => [number, number]>> = {
  sensitivity: ({ found, missed }) => [found, found + missed],
  specificity: ({ rightlyLeft, falseAlarms }) => [rightlyLeft, rightlyLeft + falseAlarms],
  positivePredictiveValue: ({ found, falseAlarms }) => [found, found + falseAlarms],
  negativePredictiveValue: ({ rightlyLeft, missed }) => [rightlyLeft, rightlyLeft + missed],
  accuracy: ({ found, missed, falseAlarms, rightlyLeft }) => [
    found + rightlyLeft,
    found + missed + falseAlarms + rightlyLeft,
  ],
};

function pearson(counts: [number, number][]) {
  const known = counts.filter(([, total]) => total > 0);
  const all = known.reduce((sum, [, total]) => sum + total, 0);
  const share = known.reduce((sum, [count]) => sum + count, 0) / all;
  if (known.length < 2 || !(share > 0 && share < 1)) return undefined;
  const chiSquare = known.reduce(
    (sum, [count, total]) => sum + (count - total * share) ** 2 / (total * share * (1 - share)),
    0,
  );
  return { chiSquare, degrees: known.length - 1 };
}

function cochran(groups: Subgroup[], measure: SubgroupMeasure) {
  const known = groups.flatMap(({ figures }) => {
    const { value, interval } = figures[measure];
    const error = interval && errorFrom(value!, interval);
    return error ? [{ value: value!, weight: 1 / error ** 2 }] : [];
  });
  if (known.length < 2) return undefined;
  const weights = known.reduce((sum, { weight }) => sum + weight, 0);
  const mean = known.reduce((sum, { value, weight }) => sum + value * weight, 0) / weights;
  return {
    chiSquare: known.reduce((sum, { value, weight }) => sum + weight * (value - mean) ** 2, 0),
    degrees: known.length - 1,
  };
}

/** Standard error by the end of the interval that no bound has drawn in. */
const errorFrom = (value: number, [lower, upper]: Interval): number =>
  Math.max(upper - value, value - lower) / z95;

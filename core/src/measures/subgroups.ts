import { sortedPresent, sortedQuantile } from '../numeric/index.ts';
import type { CodedColumn, NumberColumn } from '../table/index.ts';
import { takeClusters, type Clusters } from './clusters.ts';
import { costFigure } from './cost-figure.ts';
import type { ErrorCosts } from './costs.ts';
import { errorTable, type ErrorTable } from './error-table.ts';
import { meanFigure } from './mean-figure.ts';
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
  /** Where several rows are of one patient or group. */
  clusters?: Clusters;
}

/**
 * The levels of a column, or numbers in four bands of as many patients each; those who lack it by themselves.
 *
 * @param showEdge how an edge between bands is written; dates are numbers of days
 */
export function groupsBy(
  column: NumberColumn | CodedColumn,
  showEdge?: (edge: number) => string,
): { name: string; places: number[] }[] {
  const places = new Map<string, number[]>();
  const put = (name: string, place: number) => {
    const own = places.get(name);
    if (own) own.push(place);
    else places.set(name, [place]);
  };
  const names = column.type === 'coded' ? column.levels : bandsOf(column.values, showEdge);
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

export const unknown = 'missing';

/** Quartiles of the known numbers, each once. */
function edgesOf(values: Float64Array): number[] {
  const sorted = sortedPresent(values);
  if (sorted.length === 0) return [];
  const edges = [0.25, 0.5, 0.75].map((share) => sortedQuantile(sorted, share));
  return [...new Set(edges)].filter((edge) => edge > sorted[0]);
}

function bandsOf(values: Float64Array, showEdge?: (edge: number) => string): string[] {
  const edges = showEdge ? edgesOf(values).map(showEdge) : toldApart(edgesOf(values));
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
  { scores, events, cutoff, costs, clusters }: SubgroupTask,
): Subgroup[] {
  return groups.map(({ name, places }) => {
    const own = Float64Array.from(places, (place) => scores[place]);
    const happened = Uint8Array.from(places, (place) => events[place]);
    const together = takeClusters(clusters, places);
    const table = errorTable(rankRisks(own, happened, Infinity, undefined, 1, together), cutoff);
    const rates = ratesOf(table);
    return {
      name,
      patients: places.length,
      cases: table.found + table.missed,
      table,
      figures: {
        sensitivity: rates.sensitivity,
        specificity: rates.specificity,
        positivePredictiveValue: rates.positivePredictiveValue,
        negativePredictiveValue: rates.negativePredictiveValue,
        accuracy: rates.accuracy,
        area: areaUnderCurve(own, happened, together) ?? {},
        cost: costFigure(table, costs),
        brier: meanFigure(
          own.map((score, i) => (score - happened[i]) ** 2),
          together,
        ),
      },
    };
  });
}

import type { Grades } from '../../numeric/index.ts';
import { areaOfCounts, type Clusters, type Interval } from '../../measures/index.ts';
import { isCoded } from '../../table/index.ts';
import {
  chiSquareTest,
  correlationInterval,
  correlationP,
  crossTable,
  gradesOfColumn,
  momentsOfGroups,
  rankCorrelateGrades,
  rankSumTest,
  rankTestOfGroups,
  varianceBetween,
  welch,
  type Grouped,
  type Measured,
} from '../associate/index.ts';
import { designEffect, type DesignEffect } from './by-cluster.ts';
import { holm } from './holm.ts';
import { classTable, informationShare, tenths } from './information.ts';
import { oddsPerSd } from './one-predictor.ts';
import type { Outcome } from './outcome.ts';
import { shareDifference } from './share-difference.ts';

/** A figure with its 95% interval. */
export interface Estimate {
  value: number;
  interval?: Interval;
}

/** How one column goes with the outcome, by itself. */
export interface Relation {
  name: string;
  /** Patients in whom both are known. */
  patients: number;
  measure: 'AUC' | 'Cramér’s V' | 'correlation ratio' | 'Spearman';
  strength: Estimate;
  /**
   * Event: mean with the event minus mean without; of two levels the event share in the second
   * minus that in the first. Number: mean outcome in the second level minus that in the first.
   */
  difference?: Estimate;
  /** Event: odds ratio, of a number per SD, of two levels for the second. */
  oddsRatio?: Estimate;
  test: 'Mann–Whitney' | 'chi-square' | 'Kruskal–Wallis' | 'rank correlation';
  p: number;
  /** Holm, over all columns looked at. */
  adjustedP: number;
  /** Share of the outcome's entropy it takes away; numbers in tenths. */
  information: number;
}

type Unadjusted = Omit<Relation, 'adjustedP'>;

/**
 * Each column against the outcome; those that cannot be set against it are left out.
 *
 * @param clusters where rows are of one patient or group: intervals and tests are then by cluster
 */
export function relateAll(columns: Measured[], outcome: Outcome, clusters?: Clusters): Relation[] {
  return adjust(columns.flatMap((column) => relate(column, outcome, clusters) ?? []));
}

/** p adjusted for as many looks as there are relations. */
export function adjust(relations: Unadjusted[]): Relation[] {
  const adjusted = holm(relations.map(({ p }) => p));
  return relations.map((relation, i) => ({ ...relation, adjustedP: adjusted[i] }));
}

/** Undefined for text, and where one of the two does not vary. */
export function relate(
  measured: Measured,
  outcome: Outcome,
  clusters?: Clusters,
): Unadjusted | undefined {
  if (measured.column.type === 'text') return undefined;
  const found =
    outcome.shape === 'event'
      ? toEvent(measured, outcome.events)
      : outcome.shape === 'levels'
        ? toLevels(measured, outcome)
        : toNumber(measured, outcome.grades);
  if (!found) return undefined;
  const { statistic, ...own } = found;
  const effect = clusters && designEffect(measured, outcome, clusters);
  const information = informationShare(classTable(classesOf(measured), outcomeClasses(outcome)));
  return {
    name: measured.name,
    ...(effect ? byCluster(own, statistic, effect) : own),
    information,
  };
}

type Told = Omit<Unadjusted, 'name' | 'information'>;

/** With the statistic whose distribution is chi-square where rows are independent; absent where there is none. */
type Found = Told & { statistic?: { chiSquare: number; degrees: number } };

/** The same with p and intervals that do not take rows of one patient or group as independent. */
function byCluster(found: Told, statistic: Found['statistic'], effect: DesignEffect): Told {
  const wider = (of: Estimate | undefined, scale: Parameters<DesignEffect['interval']>[2]) =>
    of && { ...of, interval: effect.interval(of.value, of.interval, scale) };
  const { strength, difference, oddsRatio, measure } = found;
  return {
    ...found,
    strength: wider(strength, measure === 'Spearman' ? 'correlation' : 'share')!,
    ...(difference && { difference: wider(difference, 'plain') }),
    ...(oddsRatio && { oddsRatio: wider(oddsRatio, 'ratio') }),
    p: statistic ? effect.p(statistic.chiSquare, statistic.degrees) : NaN,
  };
}

function toEvent(measured: Measured, events: Int8Array): Found | undefined {
  const { column, kind } = measured;
  if (column.type === 'coded' && column.levels.length !== 2 && kind !== 'ordered category')
    return byChiSquare(column.codes, column.levels.length, events, 2);
  const grades = gradesOfColumn(measured);
  const two: Grouped = { grades, groups: events, count: 2 };
  const [nones, withEvent] = countsByOutcome(grades, events);
  const patients = nones.map((count, k) => count + withEvent[k]);
  const area = areaOfCounts(withEvent, nones);
  if (!area || patients.filter((count) => count > 0).length < 2) return undefined;
  const common = {
    patients: patients.reduce((sum, count) => sum + count, 0),
    measure: 'AUC' as const,
    strength: { value: area.value, interval: area.interval },
  };
  if (column.type === 'coded' && column.levels.length === 2) {
    const { counts } = crossTable(column.codes, 2, events, 2);
    return { ...common, ...twoByTwo(counts) };
  }
  const means = kind === 'ordered category' ? undefined : welch(momentsOfGroups(two));
  const odds = oddsPerSd(grades.values, withEvent, nones);
  const test = rankSumTest(two);
  return {
    ...common,
    difference: means && { value: means.difference, interval: means.interval },
    oddsRatio: odds && { value: odds.ratio, interval: odds.interval },
    test: 'Mann–Whitney',
    p: test?.p ?? NaN,
    statistic: test && { chiSquare: test.z ** 2, degrees: 1 },
  };
}

/** Patients with each value, without the event and with it. */
function countsByOutcome(
  { values, codes }: Grades,
  events: Int8Array,
): [nones: Float64Array, events: Float64Array] {
  const counts: [Float64Array, Float64Array] = [
    new Float64Array(values.length),
    new Float64Array(values.length),
  ];
  for (let row = 0; row < codes.length; row++)
    if (codes[row] >= 0 && events[row] >= 0) counts[events[row]][codes[row]]++;
  return counts;
}

/** @param counts [first level, second level][none, event] */
function twoByTwo(counts: number[][]) {
  const [[firstNone, firstEvent], [secondNone, secondEvent]] = counts;
  const test = chiSquareTest(counts);
  const difference = shareDifference(
    [secondEvent, secondNone + secondEvent],
    [firstEvent, firstNone + firstEvent],
  );
  return {
    difference,
    oddsRatio: woolf(secondEvent, secondNone, firstEvent, firstNone),
    test: 'chi-square' as const,
    p: test?.p ?? NaN,
    statistic: test && { chiSquare: test.statistic, degrees: test.degreesOfFreedom },
  };
}

/** Odds ratio with the interval of Woolf (1955), Annals of Human Genetics 19:251-253; none with an empty cell. */
function woolf(a: number, b: number, c: number, d: number): Estimate | undefined {
  if (a * b * c * d === 0) return undefined;
  const log = Math.log((a * d) / (b * c));
  const reach = 1.959963984540054 * Math.sqrt(1 / a + 1 / b + 1 / c + 1 / d);
  return { value: Math.exp(log), interval: [Math.exp(log - reach), Math.exp(log + reach)] };
}

function toLevels(
  measured: Measured,
  { codes, levels }: { codes: Int32Array; levels: number },
): Found | undefined {
  const { column, kind } = measured;
  if (column.type === 'coded' && kind !== 'ordered category')
    return byChiSquare(column.codes, column.levels.length, codes, levels);
  return byGroups({ grades: gradesOfColumn(measured), groups: codes, count: levels });
}

function toNumber(measured: Measured, outcome: Grades): Found | undefined {
  const { column, kind } = measured;
  if (column.type === 'number' || kind === 'ordered category') {
    const { value, patients } = rankCorrelateGrades(gradesOfColumn(measured), outcome);
    if (Number.isNaN(value)) return undefined;
    return {
      patients,
      measure: 'Spearman',
      strength: { value, interval: correlationInterval(value, patients, true) },
      test: 'rank correlation',
      p: correlationP(value, patients),
      statistic: { chiSquare: ((patients - 2) * value ** 2) / (1 - value ** 2), degrees: 1 },
    };
  }
  if (column.type !== 'coded') return undefined;
  const groups = { grades: outcome, groups: column.codes, count: column.levels.length };
  const found = byGroups(groups);
  if (!found || groups.count !== 2) return found;
  const means = welch(momentsOfGroups(groups));
  return { ...found, difference: means && { value: means.difference, interval: means.interval } };
}

function byGroups(groups: Grouped): Found | undefined {
  const moments = momentsOfGroups(groups);
  const between = varianceBetween(moments);
  if (!between) return undefined;
  const test = rankTestOfGroups(groups);
  return {
    patients: moments.sizes.reduce((sum, size) => sum + size, 0),
    measure: 'correlation ratio',
    strength: { value: Math.sqrt(between.share) },
    test: 'Kruskal–Wallis',
    p: test?.p ?? NaN,
    statistic: test && { chiSquare: test.statistic, degrees: test.degreesOfFreedom },
  };
}

function byChiSquare(
  codes: ArrayLike<number>,
  levels: number,
  outcome: ArrayLike<number>,
  outcomeLevels: number,
): Found | undefined {
  const { counts, patients } = crossTable(codes, levels, outcome, outcomeLevels);
  const test = chiSquareTest(counts);
  if (!test) return undefined;
  return {
    patients,
    measure: 'Cramér’s V',
    strength: { value: test.cramersV },
    test: 'chi-square',
    p: test.p,
    statistic: { chiSquare: test.statistic, degrees: test.degreesOfFreedom },
  };
}

function classesOf(measured: Measured) {
  const { column, kind } = measured;
  if (column.type === 'coded' && isCoded(kind))
    return { codes: column.codes, levels: column.levels.length };
  return tenths(gradesOfColumn(measured));
}

function outcomeClasses(outcome: Outcome) {
  if (outcome.shape === 'event') return { codes: outcome.events, levels: 2 };
  return outcome.shape === 'levels' ? outcome : tenths(outcome.grades);
}

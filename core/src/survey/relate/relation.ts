import { areaUnderCurve, type Interval } from '../../measures/index.ts';
import { isCoded } from '../../table/index.ts';
import {
  byLevel,
  chiSquareTest,
  correlationInterval,
  correlationP,
  crossTable,
  rankCorrelate,
  rankSumTest,
  rankTestOfGroups,
  varianceBetween,
  welch,
  type Measured,
} from '../associate/index.ts';
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

/** Each column against the outcome; those that cannot be set against it are left out. */
export function relateAll(columns: Measured[], outcome: Outcome): Relation[] {
  return adjust(columns.flatMap((column) => relate(column, outcome) ?? []));
}

/** p adjusted for as many looks as there are relations. */
export function adjust(relations: Unadjusted[]): Relation[] {
  const adjusted = holm(relations.map(({ p }) => p));
  return relations.map((relation, i) => ({ ...relation, adjustedP: adjusted[i] }));
}

/** Undefined for text, and where one of the two does not vary. */
export function relate(measured: Measured, outcome: Outcome): Unadjusted | undefined {
  if (measured.column.type === 'text') return undefined;
  const found =
    outcome.shape === 'event'
      ? toEvent(measured, outcome.events)
      : outcome.shape === 'levels'
        ? toLevels(measured, outcome)
        : toNumber(measured, outcome.values);
  if (!found) return undefined;
  const information = informationShare(classTable(classesOf(measured), outcomeClasses(outcome)));
  return { name: measured.name, ...found, information };
}

type Found = Omit<Unadjusted, 'name' | 'information'>;

function toEvent(measured: Measured, events: Int8Array): Found | undefined {
  const { column, kind } = measured;
  if (column.type === 'coded' && column.levels.length !== 2 && kind !== 'ordered category')
    return byChiSquare(column.codes, column.levels.length, events, 2);
  const { values, outcomes } = known(scaleOf(measured), events);
  const area = areaUnderCurve(values, outcomes);
  const [none, event] = byLevel(values, outcomes, 2);
  if (!area || !values.some((value) => value !== values[0])) return undefined;
  const common = {
    patients: values.length,
    measure: 'AUC' as const,
    strength: { value: area.value, interval: area.interval },
  };
  if (column.type === 'coded' && column.levels.length === 2) {
    const { counts } = crossTable(values, 2, outcomes, 2);
    return { ...common, ...twoByTwo(counts) };
  }
  const means = kind === 'ordered category' ? undefined : welch(event, none);
  const odds = oddsPerSd(values, outcomes);
  return {
    ...common,
    difference: means && { value: means.difference, interval: means.interval },
    oddsRatio: odds && { value: odds.ratio, interval: odds.interval },
    test: 'Mann–Whitney',
    p: rankSumTest(event, none)?.p ?? NaN,
  };
}

/** @param counts [first level, second level][none, event] */
function twoByTwo(counts: number[][]) {
  const [[firstNone, firstEvent], [secondNone, secondEvent]] = counts;
  const difference = shareDifference(
    [secondEvent, secondNone + secondEvent],
    [firstEvent, firstNone + firstEvent],
  );
  return {
    difference,
    oddsRatio: woolf(secondEvent, secondNone, firstEvent, firstNone),
    test: 'chi-square' as const,
    p: chiSquareTest(counts)?.p ?? NaN,
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
  return byGroups(byLevel(scaleOf(measured), codes, levels));
}

function toNumber(measured: Measured, values: Float64Array): Found | undefined {
  const { column, kind } = measured;
  if (column.type === 'number' || kind === 'ordered category') {
    const { value, patients } = rankCorrelate(scaleOf(measured), values);
    if (Number.isNaN(value)) return undefined;
    return {
      patients,
      measure: 'Spearman',
      strength: { value, interval: correlationInterval(value, patients, true) },
      test: 'rank correlation',
      p: correlationP(value, patients),
    };
  }
  if (column.type !== 'coded') return undefined;
  const groups = byLevel(values, column.codes, column.levels.length);
  const found = byGroups(groups);
  if (!found || groups.length !== 2) return found;
  const means = welch(groups[1], groups[0]);
  return { ...found, difference: means && { value: means.difference, interval: means.interval } };
}

function byGroups(groups: Float64Array[]): Found | undefined {
  const between = varianceBetween(groups);
  if (!between) return undefined;
  return {
    patients: groups.reduce((sum, group) => sum + group.length, 0),
    measure: 'correlation ratio',
    strength: { value: Math.sqrt(between.share) },
    test: 'Kruskal–Wallis',
    p: rankTestOfGroups(groups)?.p ?? NaN,
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
  };
}

/** Numbers as they are, ordered levels by their codes. */
function scaleOf({ column }: Measured): Float64Array {
  if (column.type === 'number') return column.values;
  if (column.type === 'coded')
    return Float64Array.from(column.codes, (code) => (code < 0 ? NaN : code));
  throw new Error('Text has no scale.');
}

function known(scale: Float64Array, events: Int8Array) {
  const rows: number[] = [];
  for (let i = 0; i < scale.length; i++)
    if (!Number.isNaN(scale[i]) && events[i] >= 0) rows.push(i);
  return {
    values: Float64Array.from(rows, (row) => scale[row]),
    outcomes: Int8Array.from(rows, (row) => events[row]),
  };
}

function classesOf({ column, kind }: Measured) {
  if (column.type === 'coded' && isCoded(kind))
    return { codes: column.codes, levels: column.levels.length };
  return tenths((column as { values: Float64Array }).values);
}

function outcomeClasses(outcome: Outcome) {
  if (outcome.shape === 'event') return { codes: outcome.events, levels: 2 };
  return outcome.shape === 'levels' ? outcome : tenths(outcome.values);
}

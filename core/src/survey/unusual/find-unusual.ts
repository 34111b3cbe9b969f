import { areaUnderCurve, type Interval } from '../../measures/index.ts';
import { takeInputs, type Inputs } from '../../preparation/index.ts';
import { growIsolationForest, isolationScores, type IsolationForest } from '../../trees/index.ts';
import type { Measured } from '../associate/index.ts';
import { everyFew } from '../patients/index.ts';
import { inputsFrom, usualValues } from './inputs.ts';
import { unusualRules, type UnusualRule } from './rules.ts';

/** Patients who are unlike the others, found without the outcome. */
export interface UnusualPatients {
  patients: number;
  /** Columns that it rests on. */
  columns: number;
  trees: number;
  /** Patients that each tree was grown on. */
  sample: number;
  /** Counts of scores in steps of equal width. */
  scores: { from: number; step: number; all: number[]; cases?: number[] };
  /** The most unusual first. */
  listed: UnusualPatient[];
  rules: UnusualRule[];
  /** Where it is known who is a case: whether the unusual ones are. */
  cases?: {
    known: number;
    cases: number;
    /** The twentieth that is most unusual. */
    top: { score: number; known: number; cases: number };
    area?: { value: number; interval?: Interval };
  };
}

export interface UnusualPatient {
  /** In the cohort. */
  row: number;
  score: number;
  isCase?: boolean;
  /** What makes them so, most first: by how much the score falls with the usual value instead. */
  because: {
    column: string;
    value: number | string | null;
    usual: number | string;
    fall: number;
  }[];
}

const trees = 100;
const sample = 256;
/** Patients who are listed. */
const listed = 100;
/** Patients that rules are learned from at most. */
const ruledAtMost = 20_000;

/**
 * @param rows row number in the cohort of each patient at hand
 * @param events 1, 0, or -1 where not known, of each patient at hand; nothing is learned from it
 */
export function findUnusual(
  columns: Measured[],
  rows: ArrayLike<number>,
  seed: number,
  events?: ArrayLike<number>,
): UnusualPatients | undefined {
  const inputs = inputsFrom(columns, rows.length);
  if (rows.length < 2 || inputs.columns.length === 0) return undefined;
  const forest = growIsolationForest(inputs, { trees, sample, seed });
  const scores = isolationScores(forest, inputs);
  const order = [...scores.keys()].sort((one, other) => scores[other] - scores[one] || one - other);
  const usual = usualValues(inputs);
  const some = everyFew(rows.length, ruledAtMost);
  return {
    patients: rows.length,
    columns: inputs.names.length,
    trees,
    sample: forest.sample,
    scores: countScores(scores, events),
    listed: order.slice(0, listed).map((place) => ({
      row: rows[place],
      score: scores[place],
      ...(events && events[place] >= 0 && { isCase: events[place] === 1 }),
      because: reasonsOf(forest, inputs, usual, place, scores[place]),
    })),
    rules: unusualRules(
      takeInputs(inputs, some),
      Float64Array.from(some, (place) => scores[place]),
    ),
    ...(events && casesAmong(scores, order, events)),
  };
}

const step = 0.01;

function countScores(scores: Float64Array, events?: ArrayLike<number>): UnusualPatients['scores'] {
  const binOf = (score: number) => Math.floor(score / step + 1e-9);
  let [first, last] = [Infinity, -Infinity];
  for (const score of scores) {
    first = Math.min(first, binOf(score));
    last = Math.max(last, binOf(score));
  }
  const all = Array<number>(last - first + 1).fill(0);
  const cases = all.slice();
  scores.forEach((score, i) => {
    all[binOf(score) - first]++;
    if (events?.[i] === 1) cases[binOf(score) - first]++;
  });
  return { from: Number((first * step).toFixed(2)), step, all, ...(events && { cases }) };
}

/** Reasons that are told, and the least fall that is one. */
const reasons = 3;
const leastFall = 0.002;

function reasonsOf(
  forest: IsolationForest,
  inputs: Inputs,
  usual: number[],
  place: number,
  score: number,
): UnusualPatient['because'] {
  const { names, levels, columns } = inputs;
  // The patient once for each column, with the usual value in it.
  const changed: Inputs = {
    ...inputs,
    rowCount: names.length,
    columns: columns.map((values, j) =>
      Float64Array.from(names, (_, k) => (j === k ? usual[j] : values[place])),
    ),
  };
  const without = isolationScores(forest, changed);
  const said = (j: number, value: number) => levels?.[j]?.[value] ?? value;
  return names
    .map((column, j) => {
      const value = columns[j][place];
      return {
        column,
        value: Number.isNaN(value) ? null : said(j, value),
        usual: said(j, usual[j]),
        fall: score - without[j],
      };
    })
    .filter(({ fall }) => fall >= leastFall)
    .sort((one, other) => other.fall - one.fall)
    .slice(0, reasons);
}

function casesAmong(
  scores: Float64Array,
  order: number[],
  events: ArrayLike<number>,
): Pick<UnusualPatients, 'cases'> {
  const isKnown = order.filter((place) => events[place] >= 0);
  const count = (places: number[]) => places.filter((place) => events[place] === 1).length;
  const top = isKnown.slice(0, Math.ceil(isKnown.length / 20));
  const area = areaUnderCurve(
    isKnown.map((place) => scores[place]),
    isKnown.map((place) => events[place]),
  );
  if (top.length === 0) return {};
  return {
    cases: {
      known: isKnown.length,
      cases: count(isKnown),
      top: { score: scores[top.at(-1)!], known: top.length, cases: count(top) },
      ...(area && {
        area: { value: area.value, ...(area.interval && { interval: area.interval }) },
      }),
    },
  };
}

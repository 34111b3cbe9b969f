import { largestNumber } from '../table/index.ts';
import type { Node } from './parse.ts';
import type { ValueType, Vector } from './vector.ts';

/** One function of the formulas. */
export interface FormulaFunction {
  name: string;
  /** How it is written, with an example. */
  example: string;
  about: string;
  /** Least and most of what may be given to it. */
  takes: [least: number, most: number];
  /** What each given part must be; the last holds for all that follow. `any` takes everything. */
  given: (ValueType | 'any')[];
  gives: ValueType;
  /** Whether what is given from the second on must be plain numbers. */
  plainNumbers?: boolean;
  apply: (given: Vector[], rows: number, nodes: Node[]) => Vector;
}

const one = (
  name: string,
  example: string,
  about: string,
  f: (x: number) => number,
): FormulaFunction => ({
  name,
  example,
  about,
  takes: [1, 1],
  given: ['number'],
  gives: 'number',
  apply: ([vector], rows) => numbers(rows, (i) => f(valuesOf(vector)[i])),
});

const several = (
  name: string,
  example: string,
  about: string,
  f: (values: number[]) => number,
  type: 'number' | 'yes/no' = 'number',
): FormulaFunction => ({
  name,
  example,
  about,
  takes: [1, 200],
  given: [type],
  gives: 'number',
  apply: (given, rows) => {
    const columns = given.map(valuesOf);
    const at = new Array<number>(columns.length);
    return numbers(rows, (i) => {
      for (let j = 0; j < columns.length; j++) {
        at[j] = columns[j][i];
        if (Number.isNaN(at[j])) return NaN;
      }
      return f(at);
    });
  },
});

/** Every function. Whatever is not known makes the result not known, except where it says otherwise. */
export const functions: FormulaFunction[] = [
  several('min', 'min(systolic_1, systolic_2)', 'the least of several numbers', (v) =>
    Math.min(...v),
  ),
  several('max', 'max(creatinine, 40)', 'the greatest of several numbers', (v) => Math.max(...v)),
  several(
    'mean',
    'mean(systolic_1, systolic_2)',
    'the mean of several numbers',
    (v) => total(v) / v.length,
  ),
  several(
    'count',
    "count(hypertension, heart_failure = 'yes', age > 75)",
    'how many of several conditions hold',
    total,
    'yes/no',
  ),
  one('log', 'log(crp)', 'natural logarithm; not known at zero and below', Math.log),
  one('log10', 'log10(crp)', 'logarithm to base 10', Math.log10),
  one('exp', 'exp(x)', 'e to this power', Math.exp),
  one('sqrt', 'sqrt(x)', 'square root; not known below zero', Math.sqrt),
  one('abs', 'abs(x)', 'size without sign', Math.abs),
  {
    name: 'round',
    example: 'round(egfr, 1)',
    about: 'rounded, to whole numbers or to so many decimals',
    takes: [1, 2],
    given: ['number'],
    gives: 'number',
    plainNumbers: true,
    apply: ([vector], rows, nodes) => {
      const scale = 10 ** Math.round(plainNumber(nodes[1]) ?? 0);
      return numbers(rows, (i) => Math.round(valuesOf(vector)[i] * scale) / scale);
    },
  },
  {
    name: 'days',
    example: 'days(admitted, discharged)',
    about: 'days from one date to another',
    takes: [2, 2],
    given: ['date'],
    gives: 'number',
    apply: ([from, to], rows) => numbers(rows, (i) => valuesOf(to)[i] - valuesOf(from)[i]),
  },
  {
    name: 'years',
    example: 'years(born, clinic_date)',
    about: 'completed years from one date to another, as an age is counted',
    takes: [2, 2],
    given: ['date'],
    gives: 'number',
    apply: ([from, to], rows) =>
      numbers(rows, (i) => completedYears(valuesOf(from)[i], valuesOf(to)[i])),
  },
  {
    name: 'year',
    example: 'year(clinic_date)',
    about: 'the year of a date',
    takes: [1, 1],
    given: ['date'],
    gives: 'number',
    apply: ([date], rows) =>
      numbers(rows, (i) => new Date(valuesOf(date)[i] * 86_400_000).getUTCFullYear()),
  },
  {
    name: 'month',
    example: 'month(clinic_date)',
    about: 'the month of a date, 1 to 12',
    takes: [1, 1],
    given: ['date'],
    gives: 'number',
    apply: ([date], rows) =>
      numbers(rows, (i) => new Date(valuesOf(date)[i] * 86_400_000).getUTCMonth() + 1),
  },
  {
    name: 'known',
    example: 'known(albumin)',
    about: 'yes where the value is known, no where not',
    takes: [1, 1],
    given: ['any'],
    gives: 'yes/no',
    apply: ([vector], rows) => ({
      type: 'yes/no',
      values: Float64Array.from({ length: rows }, (_, i) => Number(isKnown(vector, i))),
    }),
  },
  {
    name: 'bands',
    example: 'bands(age, 50, 65, 80)',
    about: 'a number cut into bands; each begins with its edge',
    takes: [2, 50],
    given: ['number'],
    gives: 'levels',
    plainNumbers: true,
    apply: ([vector], rows, nodes) => {
      const edges = nodes.slice(1).map((node) => plainNumber(node)!);
      return {
        type: 'levels',
        levels: bandNames(edges),
        codes: Int32Array.from({ length: rows }, (_, i) => {
          const value = valuesOf(vector)[i];
          if (Number.isNaN(value)) return -1;
          const place = edges.findIndex((edge) => value < edge);
          return place < 0 ? edges.length : place;
        }),
      };
    },
  },
];

/**
 * Birthdays reached from one day to another, in days since 1970-01-01; negative the other way round.
 * Born on 29 February, the birthday of a common year is 1 March (common practice).
 */
function completedYears(from: number, to: number): number {
  if (Number.isNaN(from) || Number.isNaN(to)) return NaN;
  if (to < from) return -completedYears(to, from);
  const [birth, day] = [from, to].map((at) => new Date(at * 86_400_000));
  const years = day.getUTCFullYear() - birth.getUTCFullYear();
  const months = day.getUTCMonth() - birth.getUTCMonth();
  const reached = months > 0 || (months === 0 && day.getUTCDate() >= birth.getUTCDate());
  return reached ? years : years - 1;
}

/** The names of the bands that these edges make: "below 50", "50 to 65", "80 and above". */
export function bandNames(edges: number[]): string[] {
  return [
    `below ${edges[0]}`,
    ...edges.slice(1).map((edge, i) => `${edges[i]} to ${edge}`),
    `${edges[edges.length - 1]} and above`,
  ];
}

/** The number that a part of a formula plainly is, if it is one. */
export function plainNumber(node: Node | undefined): number | undefined {
  if (node?.node === 'number') return node.value;
  if (node?.node === 'unary' && node.operator === '-') {
    const inner = plainNumber(node.operand);
    return inner === undefined ? undefined : -inner;
  }
  return undefined;
}

export function isKnown(vector: Vector, row: number): boolean {
  return vector.type === 'levels' ? vector.codes[row] >= 0 : !Number.isNaN(vector.values[row]);
}

/** Numbers by row; what is not finite, or larger than a table holds, is missing. */
export function numbers(rows: number, f: (row: number) => number): Vector {
  const values = new Float64Array(rows);
  for (let i = 0; i < rows; i++) {
    const value = f(i);
    values[i] = Math.abs(value) <= largestNumber ? value : NaN;
  }
  return { type: 'number', values };
}

export function valuesOf(vector: Vector): Float64Array {
  if (vector.type === 'levels') throw new Error('Levels have no numbers.');
  return vector.values;
}

function total(values: number[]): number {
  let sum = 0;
  for (const value of values) sum += value;
  return sum;
}

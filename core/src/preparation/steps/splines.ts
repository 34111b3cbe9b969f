import * as z from 'zod';
import { quantiles } from '../../numeric/index.ts';
import type { Effect } from '../effects.ts';
import { isNumber, knownOf, type NumberWorking } from '../working.ts';
import { changeEach, choose, chosenColumns, freeName } from './chosen-columns.ts';
import type { Step } from './step.ts';

const choice = z.object({ columns: chosenColumns, knots: z.number().int().min(3).max(7) });
type Choice = z.infer<typeof choice>;

const learned = z.array(
  z.object({
    column: z.string(),
    /** Ascending; fewer than three where the values do not allow them. */
    knots: z.array(z.number()),
    /** Names of the columns that are made, one fewer than inner knots and ends together. */
    names: z.array(z.string()),
  }),
);
type Learned = z.infer<typeof learned>;

/**
 * Restricted cubic splines: the number itself and columns that let its effect bend between knots at
 * fixed quantiles, linear beyond the outer ones (Harrell 2015, Regression Modeling Strategies, 2nd
 * ed., section 2.4.6). The quantiles of six and seven knots are from memory.
 */
export const splines: Step<Learned, Choice> = {
  name: 'Splines',
  about: 'The effect of a number may bend at knots; beyond the outer ones it is a straight line.',
  choice,
  learned,
  learn(columns, _, { columns: chosen, knots: count }) {
    return choose(columns, chosen, isNumber).map((column) => {
      const knots = knotsOf(column, count);
      const names = Array.from({ length: Math.max(0, knots.length - 2) }, (_, j) =>
        freeName(`${column.source}, bend ${j + 1}`, columns),
      );
      return { column: column.source, knots, names };
    });
  },
  apply: (fitted, columns) =>
    changeEach(fitted, columns, isNumber, (column, { knots, names }) => [
      column,
      ...names.map((name, j): NumberWorking => ({
        source: name,
        part: 'value',
        of: column.of ?? [column.source],
        type: 'number',
        values: bend(column.values, knots, j),
      })),
    ]),
  effects: (fitted) =>
    fitted.flatMap(({ column, names }): Effect[] =>
      names.length === 0
        ? [
            {
              what: 'left as it is' as const,
              column,
              why: 'it has too few different values for three knots',
            },
          ]
        : names.map((name) => ({
            what: 'made' as const,
            column: name,
            of: [column],
            how: 'spline' as const,
          })),
    ),
};

const places: Record<number, number[]> = {
  3: [0.1, 0.5, 0.9],
  4: [0.05, 0.35, 0.65, 0.95],
  5: [0.05, 0.275, 0.5, 0.725, 0.95],
  6: [0.05, 0.23, 0.41, 0.59, 0.77, 0.95],
  7: [0.025, 0.1833, 0.3417, 0.5, 0.6583, 0.8167, 0.975],
};

/** The most knots that are all different, of as many as are wanted or fewer; none below three. */
function knotsOf(column: NumberWorking, wanted: number): number[] {
  const known = knownOf(column);
  if (known.length === 0) return [];
  for (let count = wanted; count >= 3; count--) {
    const knots = quantiles(known, places[count]);
    if (knots.every((knot, j) => j === 0 || knot > knots[j - 1])) return knots;
  }
  return [];
}

/** The j-th column of the basis besides the number itself, in the unit of the number. */
function bend(values: Float64Array, knots: number[], j: number): Float64Array {
  const last = knots.length - 1;
  const [t, a, b, first] = [knots[j], knots[last - 1], knots[last], knots[0]];
  const square = (b - first) ** 2;
  const made = new Float64Array(values.length);
  for (let i = 0; i < made.length; i++) {
    const x = values[i];
    const beyond =
      cube(x - t) - (cube(x - a) * (b - t)) / (b - a) + (cube(x - b) * (a - t)) / (b - a);
    made[i] = Number.isFinite(x) ? beyond / square : NaN;
  }
  return made;
}

const cube = (value: number) => (value > 0 ? value * value * value : 0);

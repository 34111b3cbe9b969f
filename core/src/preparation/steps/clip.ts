import * as z from 'zod';
import { quantiles } from '../../numeric/index.ts';
import { isNumber } from '../working.ts';
import { changeEach, choose, chosenColumns } from './chosen-columns.ts';
import type { Step } from './step.ts';

const choice = z.object({
  columns: chosenColumns,
  to: z.enum(['plausible', 'quantiles']),
  /** To 'quantiles': the share of patients at each end. */
  share: z.number().min(0.0005).max(0.25).default(0.01),
});
type Choice = z.infer<typeof choice>;

const learned = z.array(
  z.object({
    column: z.string(),
    low: z.number().nullable(),
    high: z.number().nullable(),
    patients: z.number(),
  }),
);
type Learned = z.infer<typeof learned>;

/** Numbers beyond an end become the end: quantiles by linear interpolation (Hyndman & Fan type 7). */
export const clip: Step<Learned, Choice> = {
  name: 'Clip',
  about: 'Numbers beyond the plausible range, or beyond quantiles, become its ends.',
  choice,
  learned,
  learn: (columns, _, { columns: chosen, to, share }) =>
    choose(columns, chosen, isNumber).flatMap(({ source, values, plausible }) => {
      const [low, high] =
        to === 'plausible'
          ? [plausible?.least ?? null, plausible?.most ?? null]
          : quantiles(values, [share, 1 - share]);
      if ((low === null && high === null) || Number.isNaN(low)) return [];
      let patients = 0;
      for (let i = 0; i < values.length; i++)
        if ((low !== null && values[i] < low) || (high !== null && values[i] > high)) patients++;
      return [{ column: source, low, high, patients }];
    }),
  apply: (fitted, columns) =>
    changeEach(fitted, columns, isNumber, (column, { low, high }) => ({
      ...column,
      values: clipped(column.values, low ?? -Infinity, high ?? Infinity),
    })),
  effects: (fitted) => fitted.map((entry) => ({ what: 'clipped', ...entry })),
};

function clipped(values: Float64Array, low: number, high: number): Float64Array {
  const made = new Float64Array(values.length);
  for (let i = 0; i < made.length; i++) {
    const value = values[i];
    made[i] = value < low ? low : value > high ? high : value;
  }
  return made;
}

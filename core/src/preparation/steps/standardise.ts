import * as z from 'zod';
import type { Effect } from '../effects.ts';
import {
  count,
  hasSupport,
  nobody,
  supportOf,
  supportSchema,
  type Backing,
  type Standing,
} from '../support.ts';
import { isValue, type WorkingColumn } from '../working.ts';
import type { Step } from './step.ts';

const standardisedColumn = z.object({
  column: z.string(),
  mean: z.number(),
  /** 0 where the column is left out: nothing varies, or in too few patients. */
  sd: z.number(),
  /** The analyst chose another scale, which stays. */
  isScaled: z.literal(true).optional(),
  /** Where it is left out because too few differ from the rest: who they are. */
  differ: supportSchema.optional(),
});
/** Mean and standard deviation (divisor n) that a number column is standardised with. */
type StandardisedColumn = z.infer<typeof standardisedColumn>;

export const standardise: Step<StandardisedColumn[]> = {
  name: 'Standardise',
  about: 'Numbers become (value − mean) / SD, with divisor n, unless a step before rescaled them.',
  learned: z.array(standardisedColumn),
  learn: (columns, { backing }) => learn(columns, backing),
  apply,
  effects: (fitted) => fitted.filter(({ isScaled }) => !isScaled).map(effectOf),
};

function effectOf({ column, mean, sd, differ }: StandardisedColumn): Effect {
  if (differ) return { what: 'left out', column, why: 'too few differ', ...differ };
  return sd === 0
    ? { what: 'left out', column, why: 'no variation' }
    : { what: 'standardised', column, mean, sd };
}

/**
 * Mean and SD of each number column. One that is the same in all but a few patients is left out: its
 * slope would be those few patients' story.
 */
function learn(columns: WorkingColumn[], backing: Backing): StandardisedColumn[] {
  return columns.flatMap((column) => {
    if (column.type !== 'number' || !isValue(column)) return [];
    const { values } = column;
    const n = values.length;
    let sum = 0;
    for (let i = 0; i < n; i++) sum += values[i];
    const mean = sum / n;
    let squares = 0;
    for (let i = 0; i < n; i++) squares += (values[i] - mean) ** 2;
    // Rounding in the mean leaves a constant column a variance of about (1e-16 × mean)².
    const sd = Math.sqrt(squares / n);
    if (!(sd > 1e-12 * Math.abs(mean))) return [{ column: column.source, mean, sd: 0 }];
    const differ = differing(values, backing);
    if (hasSupport(differ) && column.isScaled)
      return [{ column: column.source, mean: 0, sd: 1, isScaled: true }];
    return hasSupport(differ)
      ? [{ column: column.source, mean, sd }]
      : [{ column: column.source, mean, sd: 0, differ: supportOf(backing, differ) }];
  });
}

/** (value - mean) / SD for number columns; indicators stay 0 and 1, and rescaled numbers as they were rescaled. */
function apply(fitted: StandardisedColumn[], columns: WorkingColumn[]): WorkingColumn[] {
  const scales = new Map(fitted.map((entry) => [entry.column, entry]));
  return columns.flatMap((column) => {
    if (column.type !== 'number' || !isValue(column)) return [column];
    const scale = scales.get(column.source);
    if (!scale || scale.sd === 0) return [];
    const { mean, sd, isScaled } = scale;
    if (isScaled) return [column];
    const { values: given } = column;
    const values = new Float64Array(given.length);
    for (let i = 0; i < values.length; i++) values[i] = (given[i] - mean) / sd;
    return [{ ...column, values }];
  });
}

/**
 * Who differs from the value that more than half have (Boyer & Moore 1981, the majority vote); where
 * none is so common, those who differ from some value are more than half and enough in any case.
 */
function differing(values: Float64Array, backing: Backing): Standing {
  let common = NaN;
  let lead = 0;
  for (let i = 0; i < values.length; i++) {
    if (lead === 0) common = values[i];
    lead += values[i] === common ? 1 : -1;
  }
  const standing = nobody(backing);
  for (let i = 0; i < values.length; i++) {
    if (values[i] === common) continue;
    count(standing, backing, i);
    // More of them change nothing.
    if (standing.patients % 64 === 0 && hasSupport(standing)) break;
  }
  return standing;
}

import * as z from 'zod';
import { boxCox, boxCoxLambda, yeoJohnson, yeoJohnsonLambda } from '../../numeric/index.ts';
import { isNumber, knownOf } from '../working.ts';
import { changeEach, choose, chosenColumns, mapValues } from './chosen-columns.ts';
import type { Step } from './step.ts';

const ways = ['log', 'square root', 'Box–Cox', 'Yeo–Johnson'] as const;
export type ReshapeWay = (typeof ways)[number];

const choice = z.object({
  columns: chosenColumns,
  how: z.enum(ways),
  /** The power, where it is given; learned by maximum likelihood where not. */
  lambda: z.number().min(-5).max(5).nullable().default(null),
});
type Choice = z.infer<typeof choice>;

const learned = z.array(
  z.object({
    column: z.string(),
    how: z.enum(ways),
    lambda: z.number().optional(),
    /** Why it stays as it is. */
    stays: z.string().optional(),
  }),
);
type Learned = z.infer<typeof learned>;

/**
 * Takes the skew out of numbers. A later value that the function has no value for, such as the
 * logarithm of 0, counts as not known.
 */
export const reshape: Step<Learned, Choice> = {
  name: 'Reshape',
  about: 'Skewed numbers become log, square root, or a power learned from the patients.',
  choice,
  learned,
  learn: (columns, _, { columns: chosen, how, lambda }) =>
    choose(columns, chosen, isNumber).map((column) => {
      const known = knownOf(column);
      const why = obstacle(known, how);
      const entry = { column: column.source, how };
      if (why) return { ...entry, stays: why };
      if (how === 'Box–Cox') return { ...entry, lambda: lambda ?? boxCoxLambda(known) };
      if (how === 'Yeo–Johnson') return { ...entry, lambda: lambda ?? yeoJohnsonLambda(known) };
      return entry;
    }),
  apply: (fitted, columns) =>
    changeEach(fitted, columns, isNumber, (column, { how, lambda = 1, stays }) =>
      stays
        ? column
        : {
            ...column,
            values: mapValues(column.values, (value) => reshaped(value, how, lambda)),
            scale: scaleOf(how, lambda),
            isScaled: undefined,
          },
    ),
  effects: (fitted) =>
    fitted.map(({ column, how, lambda, stays }) =>
      stays
        ? { what: 'left as it is', column, why: stays }
        : { what: 'reshaped', column, how, ...(lambda !== undefined && { lambda }) },
    ),
};

function obstacle(known: Float64Array, how: ReshapeWay): string | undefined {
  if (known.length === 0) return 'nothing is known';
  if (known.every((value) => value === known[0])) return 'nothing varies';
  if (how === 'square root' && known.some((value) => value < 0)) return 'some are below 0';
  if ((how === 'log' || how === 'Box–Cox') && known.some((value) => value <= 0))
    return 'some are 0 or below';
  return undefined;
}

function reshaped(value: number, how: ReshapeWay, lambda: number): number {
  if (how === 'log') return value > 0 ? Math.log(value) : NaN;
  if (how === 'square root') return value >= 0 ? Math.sqrt(value) : NaN;
  if (how === 'Box–Cox') return value > 0 ? boxCox(value, lambda) : NaN;
  return yeoJohnson(value, lambda);
}

const scaleOf = (how: ReshapeWay, lambda: number) =>
  how === 'log' || how === 'square root' ? how : `${how}, λ ${Number(lambda.toPrecision(3))}`;

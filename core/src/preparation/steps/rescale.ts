import * as z from 'zod';
import { quantile } from '../../numeric/index.ts';
import { isNumber, knownOf, meanAndSd } from '../working.ts';
import { changeEach, choose, chosenColumns } from './chosen-columns.ts';
import type { Step } from './step.ts';

const ways = ['mean and SD', '0 to 1', 'median and quartiles'] as const;
type Way = (typeof ways)[number];

const choice = z.object({ columns: chosenColumns, how: z.enum(ways) });
type Choice = z.infer<typeof choice>;

const learned = z.array(
  z.object({ column: z.string(), how: z.enum(ways), centre: z.number(), width: z.number() }),
);
type Learned = z.infer<typeof learned>;

/** (value − centre) / width; a number that has no width stays as it is. */
export const rescale: Step<Learned, Choice> = {
  name: 'Rescale',
  about: 'Numbers by mean and SD, to 0 to 1, or by median and distance of the quartiles.',
  choice,
  learned,
  learn: (columns, _, { columns: chosen, how }) =>
    choose(columns, chosen, isNumber).flatMap((column) => {
      const known = knownOf(column);
      const [centre, width] = known.length > 0 ? measures[how](known) : [0, 0];
      return width > 1e-12 * Math.abs(centre)
        ? [{ column: column.source, how, centre, width }]
        : [];
    }),
  apply: (fitted, columns) =>
    changeEach(fitted, columns, isNumber, (column, { how, centre, width }) => ({
      ...column,
      values: scaled(column.values, centre, width),
      scale: how,
      isScaled: true as const,
    })),
  effects: (fitted) => fitted.map((entry) => ({ what: 'rescaled', ...entry })),
};

function scaled(values: Float64Array, centre: number, width: number): Float64Array {
  const made = new Float64Array(values.length);
  for (let i = 0; i < values.length; i++) made[i] = (values[i] - centre) / width;
  return made;
}

const measures: { [How in Way]: (known: Float64Array) => [number, number] } = {
  'mean and SD'(known) {
    const { mean, sd } = meanAndSd(known);
    return [mean, sd];
  },
  '0 to 1'(known) {
    let [least, most] = [Infinity, -Infinity];
    for (let i = 0; i < known.length; i++) {
      if (known[i] < least) least = known[i];
      if (known[i] > most) most = known[i];
    }
    return [least, most - least];
  },
  'median and quartiles': (known) => [
    quantile(known, 0.5),
    quantile(known, 0.75) - quantile(known, 0.25),
  ],
};

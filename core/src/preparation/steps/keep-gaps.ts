import * as z from 'zod';
import type { Effect } from '../effects.ts';
import { countGaps, isValue } from '../working.ts';
import { companionsOf, gapCompanions } from './mark-gaps.ts';
import type { Step } from './step.ts';

const learned = z.object({
  columns: z.array(z.object({ column: z.string(), gaps: z.number() })),
  comesWith: gapCompanions,
});
type Learned = z.infer<typeof learned>;

/** For families that take gaps: nothing is done, but which gaps there were is known of later patients. */
export const keepGaps: Step<Learned> = {
  name: 'Keep gaps',
  about: 'That something is not known goes into the model as it is.',
  learned,
  learn(columns) {
    const own = columns.filter((column) => isValue(column) && !column.of);
    return {
      columns: own.map((column) => ({ column: column.source, gaps: countGaps(column) })),
      comesWith: companionsOf(own),
    };
  },
  apply: (_, columns) => columns,
  effects: ({ columns, comesWith }) => [
    ...columns.map((entry): Effect => ({ what: 'gap kept', ...entry })),
    ...Object.entries(comesWith).map(([column, others]): Effect => ({
      what: 'gap companions',
      column,
      others,
    })),
  ],
};

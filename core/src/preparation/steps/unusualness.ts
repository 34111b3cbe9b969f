import * as z from 'zod';
import {
  learnUnusualness,
  unusualnessOf,
  unusualnessSchema,
  type NamedColumn,
} from '../../unusualness/index.ts';
import { isValue, lengthOf, type WorkingColumn } from '../working.ts';
import { choose, chosenColumns, freeName } from './chosen-columns.ts';
import type { Step } from './step.ts';

const choice = z.object({ columns: chosenColumns });
type Choice = z.infer<typeof choice>;

/** Null where there is nothing to tell patients apart by. */
const learned = z.object({ name: z.string(), of: z.array(z.string()), scores: unusualnessSchema });
type Learned = z.infer<typeof learned> | null;

/** How unlike the patients that were learned from each one is, as a column of its own. */
export const unusualness: Step<Learned, Choice> = {
  name: 'Unusualness',
  about: 'How unlike the others a patient is, all columns together, as a number of its own.',
  choice,
  learned: learned.nullable(),
  learn(columns, _, { columns: chosen }) {
    const used = choose(columns, chosen, (column): column is WorkingColumn => isValue(column));
    const rowCount = columns.length > 0 ? lengthOf(columns[0]) : 0;
    const scores = learnUnusualness(used.map(named), rowCount);
    if (!scores) return null;
    const of = [...new Set(used.flatMap((column) => column.of ?? [column.source]))];
    return { name: freeName('unusualness', columns), of, scores };
  },
  apply(fitted, columns) {
    if (!fitted || columns.length === 0) return columns;
    const { name, of, scores } = fitted;
    const values = unusualnessOf(scores, columns.filter(isValue).map(named), lengthOf(columns[0]));
    return [...columns, { source: name, part: 'value', of, type: 'number', values }];
  },
  effects: (fitted) =>
    fitted ? [{ what: 'made', column: fitted.name, of: fitted.of, how: 'unusualness' }] : [],
};

const named = (column: WorkingColumn): NamedColumn => ({
  name: column.source,
  ordered: column.ordered,
  column,
});

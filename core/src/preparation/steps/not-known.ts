import * as z from 'zod';
import { isValue, type WorkingColumn } from '../working.ts';
import { changeEach, mapValues } from './chosen-columns.ts';
import type { Step } from './step.ts';

const choice = z.object({
  column: z.string(),
  /** Numbers below or above these are not known. */
  below: z.number().nullable().default(null),
  above: z.number().nullable().default(null),
  /** Numbers, or levels, that stand for "not known". */
  values: z.array(z.string()).max(200).default([]),
});
type Choice = z.infer<typeof choice>;

const learned = choice.extend({ patients: z.number() });
type Learned = z.infer<typeof learned>;

/** Values that stand for a gap, such as a lab value of 0. */
export const notKnown: Step<Learned, Choice> = {
  name: 'Take as not known',
  about: 'Values that cannot be, or stand for a gap, become gaps.',
  choice,
  learned,
  learn(columns, _, asked) {
    const column = columns.find((one) => isValue(one) && one.source === asked.column);
    let patients = 0;
    if (column?.type === 'number')
      for (const value of column.values) if (isTaken(asked, value)) patients++;
    if (column?.type === 'coded')
      for (const code of column.codes)
        if (code >= 0 && asked.values.includes(column.levels[code])) patients++;
    return { ...asked, patients };
  },
  apply: (asked, columns) =>
    changeEach([asked], columns, isAny, (column) =>
      column.type === 'number'
        ? {
            ...column,
            values: mapValues(column.values, (value) => (isTaken(asked, value) ? NaN : value)),
          }
        : {
            ...column,
            codes: column.codes.map((code) =>
              code >= 0 && asked.values.includes(column.levels[code]) ? -1 : code,
            ),
          },
    ),
  effects: ({ column, patients }) => [{ what: 'made unknown', column, patients }],
};

const isAny = (column: WorkingColumn): column is WorkingColumn => isValue(column);

function isTaken({ below, above, values }: Choice, value: number): boolean {
  if (below !== null && value < below) return true;
  if (above !== null && value > above) return true;
  return values.some((text) => text.trim() !== '' && Number(text) === value);
}

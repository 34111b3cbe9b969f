import * as z from 'zod';
import { gapAt, isValue, lengthOf } from '../working.ts';
import type { Step } from './step.ts';

const choice = z.object({
  /** Share of the columns that are not known from which on a patient is not learned from. */
  share: z.number().min(0.05).max(1),
});
type Choice = z.infer<typeof choice>;

const learned = choice.extend({
  columns: z.array(z.string()),
  patients: z.number(),
  of: z.number(),
});
type Learned = z.infer<typeof learned>;

/** Who has too many gaps is not learned from; everybody is predicted all the same. */
export const leaveOutPatients: Step<Learned, Choice> = {
  name: 'Leave out patients with many gaps',
  about: 'They are not learned from. Held-out and later patients are predicted all the same.',
  choice,
  learned,
  learn(columns, _, { share }) {
    const names = columns.filter((one) => isValue(one) && !one.of).map(({ source }) => source);
    const stay = keeps({ share, columns: names, patients: 0, of: 0 }, columns);
    const left = stay.reduce((sum, one) => sum + 1 - one, 0);
    return { share, columns: names, patients: left, of: stay.length };
  },
  apply: (_, columns) => columns,
  keeps,
  effects: ({ patients, of }) => [{ what: 'patients left out', column: '', patients, of }],
};

function keeps({ share, columns: names }: Learned, columns: Parameters<typeof gapAt>[0][]) {
  const wanted = new Set(names);
  const among = columns.filter((column) => isValue(column) && wanted.has(column.source));
  const rows = columns.length > 0 ? lengthOf(columns[0]) : 0;
  const gaps = new Int32Array(rows);
  for (const column of among) {
    const isGap = gapAt(column);
    for (let row = 0; row < rows; row++) if (isGap(row)) gaps[row]++;
  }
  return Uint8Array.from(gaps, (count) => Number(count < share * Math.max(1, among.length)));
}

import * as z from 'zod';
import {
  countGaps,
  gapAt,
  isNumber,
  isValue,
  lengthOf,
  type NumberWorking,
  type WorkingColumn,
} from '../working.ts';
import { choose, chosenColumns } from './chosen-columns.ts';
import type { Step } from './step.ts';

const choice = z.object({
  columns: chosenColumns,
  why: z.enum(['gaps', 'no variation', 'alike']),
  /** Why 'gaps': the share of patients without it from which on it goes. */
  share: z.number().min(0.01).max(1).default(0.5),
  /** Why 'alike': how closely two numbers must go together. */
  correlation: z.number().min(0.5).max(1).default(0.95),
});
type Choice = z.infer<typeof choice>;

const learned = z.array(
  z.object({
    column: z.string(),
    why: z.enum(['gaps', 'no variation', 'alike']),
    share: z.number().optional(),
    other: z.string().optional(),
    correlation: z.number().optional(),
  }),
);
type Learned = z.infer<typeof learned>;

/** Columns that cannot say much. Of two numbers that say nearly the same, the later one goes. */
export const leaveOutColumns: Step<Learned, Choice> = {
  name: 'Leave out columns',
  about: 'Columns with many gaps, without variation, or that say nearly what another says.',
  choice,
  learned,
  learn(columns, _, asked) {
    const all = choose(columns, asked.columns, isAny);
    if (asked.why === 'gaps')
      return all.flatMap((column) => {
        const share = countGaps(column) / Math.max(1, lengthOf(column));
        return share >= asked.share ? [{ column: column.source, why: asked.why, share }] : [];
      });
    if (asked.why === 'no variation')
      return all.filter(isSame).map(({ source }) => ({ column: source, why: asked.why }));
    return alike(all.filter(isNumber), asked.correlation);
  },
  apply(fitted, columns) {
    const gone = new Set(fitted.map(({ column }) => column));
    return columns.filter((column) => !(isValue(column) && gone.has(column.source)));
  },
  effects: (fitted) =>
    fitted.map(({ column, why, share = 0, other = '', correlation = 0 }) =>
      why === 'gaps'
        ? { what: 'left out', column, why, share }
        : why === 'alike'
          ? { what: 'left out', column, why, other, correlation }
          : { what: 'left out', column, why },
    ),
};

const isAny = (column: WorkingColumn): column is WorkingColumn => isValue(column);

/** Whether nobody differs: known from the first who does, mostly at once. */
function isSame(column: WorkingColumn): boolean {
  const values = column.type === 'number' ? column.values : column.codes;
  const isGap = gapAt(column);
  let first: number | undefined;
  for (let row = 0; row < values.length; row++) {
    if (isGap(row)) continue;
    first ??= values[row];
    if (values[row] !== first) return false;
  }
  return true;
}

function alike(numbers: NumberWorking[], least: number): Learned {
  const kept: NumberWorking[] = [];
  const gone: Learned = [];
  for (const column of numbers) {
    let found: Learned[number] | undefined;
    for (const other of kept) {
      const correlation = correlationOf(other.values, column.values);
      if (Math.abs(correlation) < least) continue;
      found = { column: column.source, why: 'alike', other: other.source, correlation };
      break;
    }
    if (found) gone.push(found);
    else kept.push(column);
  }
  return gone;
}

/** Pearson, over the patients for whom both are known; 0 where one does not vary. */
function correlationOf(a: Float64Array, b: Float64Array): number {
  let [n, sumA, sumB] = [0, 0, 0];
  for (let i = 0; i < a.length; i++) {
    if (Number.isNaN(a[i]) || Number.isNaN(b[i])) continue;
    n++;
    sumA += a[i];
    sumB += b[i];
  }
  const [meanA, meanB] = [sumA / n, sumB / n];
  let [aa, bb, ab] = [0, 0, 0];
  for (let i = 0; i < a.length; i++) {
    if (Number.isNaN(a[i]) || Number.isNaN(b[i])) continue;
    const [x, y] = [a[i] - meanA, b[i] - meanB];
    aa += x * x;
    bb += y * y;
    ab += x * y;
  }
  return aa > 0 && bb > 0 ? ab / Math.sqrt(aa * bb) : 0;
}

import * as z from 'zod';
import { quantile } from '../../../numeric/index.ts';
import type { Effect, FillHow } from '../../effects.ts';
import type { Backing } from '../../support.ts';
import {
  countGaps,
  isNumber,
  isValue,
  knownOf,
  lengthOf,
  meanAndSd,
  type WorkingColumn,
} from '../../working.ts';
import { choose, chosenColumns } from '../chosen-columns.ts';
import { learnMarks, markGaps } from '../mark-gaps.ts';
import type { Step } from '../step.ts';
import { applyChained, chainedSchema, learnChained, type Chained } from './chained.ts';
import { applyNearest, learnNearest, nearestSchema, reader, type Nearest } from './nearest.ts';

const ways = [
  'mean',
  'median',
  'most common',
  'constant',
  'own level',
  'nearest patients',
  'chained regressions',
] as const satisfies FillHow[];

const choice = z.object({
  columns: chosenColumns,
  how: z.enum(ways),
  /** How 'constant': the number, or the level. */
  value: z.string().max(200).default(''),
  neighbours: z.number().int().min(1).max(50).default(5),
  rounds: z.number().int().min(1).max(20).default(5),
  /** Whether an input says beside it that it was not known, where enough patients lack it. */
  mark: z.boolean().default(true),
});
type Choice = z.infer<typeof choice>;

const filledColumn = z.object({
  column: z.string(),
  gaps: z.number(),
  how: z.enum(ways),
  number: z.number().nullable().optional(),
  level: z.string().nullable().optional(),
});
type FilledColumn = z.infer<typeof filledColumn>;

const learned = z.object({
  columns: z.array(filledColumn),
  /** Which gaps are inputs of their own; absent where none is to be. */
  marks: markGaps.learned.optional(),
  chained: chainedSchema.optional(),
  nearest: nearestSchema.optional(),
});
type Learned = z.infer<typeof learned>;

/** Gaps filled in the way that is said, with or without inputs that say what was a gap. */
export const fill: Step<Learned, Choice> = {
  name: 'Fill gaps as said',
  about: 'A gap becomes one value for all, or what the patient’s other values suggest.',
  choice,
  learned,
  learn: learnFill,
  apply: applyFill,
  effects: ({ columns, marks }) => [
    ...columns.map((entry): Effect => ({ what: 'filled', ...entry })),
    ...(marks ? markGaps.effects(marks) : []),
  ],
};

const isAny = (column: WorkingColumn): column is WorkingColumn => isValue(column);

function learnFill(
  columns: WorkingColumn[],
  { backing }: { backing: Backing },
  asked: Choice,
): Learned {
  const { how, mark } = asked;
  const chosen = choose(columns, asked.columns, isAny).filter((column) => canFill(column, how));
  const numbers = chosen.filter(isNumber);
  return {
    columns: chosen.map((column): FilledColumn => {
      return { column: column.source, gaps: countGaps(column), ...valueFor(column, asked) };
    }),
    ...(mark && {
      marks: learnMarks(columns, backing, new Set(chosen.map(({ source }) => source))),
    }),
    ...(how === 'chained regressions' && { chained: learnChained(numbers, asked.rounds) }),
    ...(how === 'nearest patients' && { nearest: learnNearest(chosen, asked.neighbours) }),
  };
}

/** Numbers have no commonest value or level of their own; levels have no mean. */
function canFill(column: WorkingColumn, how: FillHow): boolean {
  if (how === 'own level') return column.type === 'coded';
  if (how === 'mean' || how === 'median') return column.type === 'number';
  return true;
}

function valueFor(
  column: WorkingColumn,
  { how, value }: Choice,
): Omit<FilledColumn, 'column' | 'gaps'> {
  if (column.type === 'coded') {
    if (how === 'own level') return { how, level: 'not known' };
    if (how === 'constant')
      return { how, level: column.levels.includes(value) ? value : mostCommon(column) };
    return how === 'nearest patients'
      ? { how, level: mostCommon(column) }
      : { how: 'most common', level: mostCommon(column) };
  }
  const known = knownOf(column);
  if (known.length === 0) return { how, number: null };
  if (how === 'constant' && value.trim() !== '' && Number.isFinite(Number(value)))
    return { how, number: Number(value) };
  if (how === 'mean' || how === 'chained regressions')
    return { how, number: meanAndSd(known).mean };
  if (how === 'most common') return { how, number: commonest(known) };
  return { how: how === 'nearest patients' ? how : 'median', number: quantile(known, 0.5) };
}

function applyFill({ columns: fitted, marks, chained, nearest }: Learned, given: WorkingColumn[]) {
  const columns = marks ? markGaps.apply(marks, given) : given;
  const known = new Map(fitted.map((entry) => [entry.column, entry]));
  const rows = columns.length > 0 ? lengthOf(columns[0]) : 0;
  const by = chained
    ? byChain(chained, columns, rows)
    : nearest
      ? byNearest(nearest, columns, rows)
      : undefined;
  return columns.map((column) => {
    const entry = isValue(column) ? known.get(column.source) : undefined;
    return entry ? fillOne(column, entry, by?.get(column.source)) : column;
  });
}

function fillOne(
  column: WorkingColumn,
  { number, level }: FilledColumn,
  suggested: Float64Array | undefined,
): WorkingColumn {
  if (column.type === 'number') {
    const values = column.values.slice();
    for (let i = 0; i < values.length; i++) {
      if (!Number.isNaN(values[i])) continue;
      const own = suggested?.[i] ?? NaN;
      values[i] = Number.isNaN(own) ? (number ?? NaN) : own;
    }
    return { ...column, values };
  }
  if (level == null) return column;
  const levels = column.levels.includes(level) ? column.levels : [...column.levels, level];
  const common = levels.indexOf(level);
  const codes = column.codes.slice();
  for (let i = 0; i < codes.length; i++) {
    if (codes[i] >= 0) continue;
    const own = suggested?.[i] ?? NaN;
    codes[i] = Number.isNaN(own) ? common : own;
  }
  return { ...column, codes, levels };
}

function byChain(chained: Chained, columns: WorkingColumn[], rows: number) {
  const numbers = new Map(columns.filter(isNumber).map((one) => [one.source, one.values]));
  const given = chained.columns.map((name) => numbers.get(name));
  const filled = applyChained(chained, given, rows);
  return new Map(chained.columns.map((name, j) => [name, filled[j]]));
}

/** Codes of a cohort as places among the levels of the donors, and back. */
function byNearest(nearest: Nearest, columns: WorkingColumn[], rows: number) {
  const there = new Map(columns.filter(isValue).map((column) => [column.source, column]));
  const given = nearest.columns.map(({ column: name, levels }) => {
    const column = there.get(name);
    const values = new Float64Array(rows).fill(NaN);
    if (!column) return values;
    const at = reader(column);
    const places =
      column.type === 'coded'
        ? column.levels.map((level) => levels?.indexOf(level) ?? -1)
        : undefined;
    for (let i = 0; i < rows; i++) {
      const value = at(i);
      const place = places && !Number.isNaN(value) ? places[value] : value;
      values[i] = places && place < 0 ? NaN : place;
    }
    return values;
  });
  const filled = applyNearest(nearest, given);
  return new Map(
    nearest.columns.map(({ column: name, levels }, j) => {
      const column = there.get(name);
      if (!levels || column?.type !== 'coded') return [name, filled[j]] as const;
      const codes = levels.map((level) => column.levels.indexOf(level));
      return [
        name,
        filled[j].map((place) => (Number.isNaN(place) || codes[place] < 0 ? NaN : codes[place])),
      ] as const;
    }),
  );
}

function mostCommon({ codes, levels }: Extract<WorkingColumn, { type: 'coded' }>): string | null {
  const counts = levels.map(() => 0);
  for (const code of codes) if (code >= 0) counts[code]++;
  const most = Math.max(0, ...counts);
  return most > 0 ? levels[counts.indexOf(most)] : null;
}

/** The value that most have; of several the least. */
function commonest(values: Float64Array): number {
  const counts = new Map<number, number>();
  for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
  let [best, most] = [NaN, 0];
  for (const [value, count] of counts)
    if (count > most || (count === most && value < best)) [best, most] = [value, count];
  return best;
}

import * as z from 'zod';
import { isCodes, type CodedWorking, type WorkingColumn } from '../working.ts';
import { byName } from './by-name.ts';
import { changeEach, choose, chosenColumns } from './chosen-columns.ts';
import { indicatorsOf } from './indicators.ts';
import type { Backing } from '../support.ts';
import type { Step } from './step.ts';

const ways = ['indicators', 'order', 'case share'] as const;

const choice = z.object({
  columns: chosenColumns,
  how: z.enum(ways),
  /** How 'indicators': the level that the others are compared with; the first where it is not there. */
  reference: z.string().default(''),
  /** How 'case share': as many patients with the share of all are added to each level. */
  shrinkage: z.number().min(0).max(10_000).default(10),
});
type Choice = z.infer<typeof choice>;

const learned = z.array(
  z.discriminatedUnion('how', [
    z.object({
      how: z.literal('indicators'),
      column: z.string(),
      reference: z.string(),
      levels: z.array(z.string()),
    }),
    z.object({
      how: z.enum(['order', 'case share']),
      column: z.string(),
      values: byName<number>(),
      /** For levels that nobody had. */
      otherwise: z.number().nullable(),
    }),
  ]),
);
type Learned = z.infer<typeof learned>;

/**
 * Levels as indicators against a reference level, as numbers in their order, or each as the share of
 * cases among its patients, drawn towards the share of all: (cases + m·share) / (patients + m)
 * (Micci-Barreca 2001, SIGKDD Explorations 3:27-32). A number as the outcome gives means instead.
 */
export const codeLevels: Step<Learned, Choice> = {
  name: 'Code levels',
  about: 'As indicators, as numbers in their order, or as the share of cases of each level.',
  choice,
  learned,
  learn: (columns, { backing }, asked) =>
    choose(columns, asked.columns, isCodes).map((column) => learnOne(column, backing, asked)),
  apply: (fitted, columns) =>
    changeEach(fitted, columns, isCodes, (column, entry) =>
      entry.how === 'indicators' ? indicatorsOf(column, entry) : numbered(column, entry),
    ),
  effects: (fitted) =>
    fitted.map((entry) =>
      entry.how === 'indicators'
        ? {
            what: 'indicators',
            column: entry.column,
            reference: entry.reference,
            levels: entry.levels,
          }
        : { what: 'numbered', column: entry.column, how: entry.how, values: entry.values },
    ),
};

function learnOne(
  column: CodedWorking,
  backing: Backing,
  { how, reference, shrinkage }: Choice,
): Learned[number] {
  const { source, levels, codes } = column;
  const patients = levels.map(() => 0);
  const sums = levels.map(() => 0);
  let [all, total] = [0, 0];
  for (let i = 0; i < codes.length; i++) {
    const value = backing.values[i];
    all++;
    total += value;
    if (codes[i] < 0) continue;
    patients[codes[i]]++;
    sums[codes[i]] += value;
  }
  const seen = levels.filter((_, code) => patients[code] > 0);
  // The share of cases means nothing where there are several levels: they stay indicators.
  if (how === 'indicators' || (how === 'case share' && backing.kind === 'levels')) {
    const base = seen.includes(reference) ? reference : (seen[0] ?? '');
    return {
      how: 'indicators',
      column: source,
      reference: base,
      levels: seen.filter((level) => level !== base),
    };
  }
  if (how === 'order')
    return {
      how,
      column: source,
      values: Object.fromEntries(seen.map((level) => [level, levels.indexOf(level)])),
      otherwise: null,
    };
  const overall = total / Math.max(1, all);
  const value = (level: string) => {
    const code = levels.indexOf(level);
    return (sums[code] + shrinkage * overall) / (patients[code] + shrinkage);
  };
  return {
    how,
    column: source,
    values: Object.fromEntries(seen.map((level) => [level, value(level)])),
    otherwise: overall,
  };
}

function numbered(
  { codes, levels, source, of }: CodedWorking,
  { how, values, otherwise }: Extract<Learned[number], { values: unknown }>,
): WorkingColumn {
  const known = new Map(Object.entries(values));
  const numbers = levels.map((level) => known.get(level) ?? otherwise ?? NaN);
  const made = new Float64Array(codes.length);
  for (let i = 0; i < codes.length; i++) made[i] = codes[i] < 0 ? NaN : numbers[codes[i]];
  return { source, part: 'value', ...(of && { of }), type: 'number', values: made, scale: how };
}

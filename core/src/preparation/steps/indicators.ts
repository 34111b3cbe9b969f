import * as z from 'zod';
import type { CodedWorking, WorkingColumn } from '../working.ts';
import type { Step } from './step.ts';

const indicatorColumn = z.object({
  column: z.string(),
  reference: z.string(),
  levels: z.array(z.string()),
});
/** The levels of a coded column that get an indicator, and the one all are compared with. */
type IndicatorColumn = z.infer<typeof indicatorColumn>;

export const indicators: Step<IndicatorColumn[]> = {
  name: 'Indicators',
  about: 'Each level but the reference level becomes a column of 0 and 1.',
  learned: z.array(indicatorColumn),
  learn,
  apply,
  effects: (fitted) => fitted.map((entry) => ({ what: 'indicators', ...entry })),
};

/**
 * Which levels of each coded column get a 0/1 column: all but the reference level, the first in the
 * dictionary's order. Levels that no patient of the fit has get none; where one turns up later it
 * counts as not known and is reported before scoring.
 */
function learn(columns: WorkingColumn[]): IndicatorColumn[] {
  return columns.flatMap((column) => {
    if (column.type !== 'coded') return [];
    const seen = new Uint8Array(column.levels.length);
    for (let i = 0; i < column.codes.length; i++)
      if (column.codes[i] >= 0) seen[column.codes[i]] = 1;
    const levels = column.levels.filter((_, code) => seen[code] === 1);
    return [{ column: column.source, reference: levels[0] ?? '', levels: levels.slice(1) }];
  });
}

/** Coded columns as one 0/1 column a level; number columns as they are. */
function apply(fitted: IndicatorColumn[], columns: WorkingColumn[]): WorkingColumn[] {
  const known = new Map(fitted.map((entry) => [entry.column, entry]));
  return columns.flatMap((column): WorkingColumn[] => {
    if (column.type !== 'coded') return [column];
    const entry = known.get(column.source);
    return entry ? indicatorsOf(column, entry) : [];
  });
}

/** A 0/1 column for each of these levels. */
export function indicatorsOf(
  { codes, levels, source }: CodedWorking,
  entry: Pick<IndicatorColumn, 'reference' | 'levels'>,
): WorkingColumn[] {
  return entry.levels.map((level) => ({
    source,
    part: 'level',
    level,
    reference: entry.reference,
    type: 'number',
    values: indicator(codes, levels.indexOf(level)),
  }));
}

function indicator(codes: Int32Array, wanted: number): Float64Array {
  const values = new Float64Array(codes.length);
  if (wanted >= 0) for (let i = 0; i < codes.length; i++) if (codes[i] === wanted) values[i] = 1;
  return values;
}

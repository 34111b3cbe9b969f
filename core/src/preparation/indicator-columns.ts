import type { Step, WorkingColumn } from './working.ts';

/** The levels of a coded column that get an indicator, and the one all are compared with. */
export interface IndicatorColumn {
  column: string;
  reference: string;
  levels: string[];
}

/**
 * Turns each coded column into one 0/1 column a level, without the reference level: the first in
 * the dictionary's order. Levels that no patient of the fit has get none; where one turns up
 * later it counts as the reference and is reported before scoring.
 */
export const indicatorColumns: Step<IndicatorColumn[]> = {
  id: 'indicator columns',

  fit(columns) {
    return columns.flatMap((column) => {
      if (column.type !== 'coded') return [];
      const seen = new Set(column.codes);
      const levels = column.levels.filter((_, code) => seen.has(code));
      return [{ column: column.source, reference: levels[0] ?? '', levels: levels.slice(1) }];
    });
  },

  apply(fitted, columns) {
    const known = new Map(fitted.map((entry) => [entry.column, entry]));
    return columns.flatMap((column): WorkingColumn[] => {
      if (column.type !== 'coded') return [column];
      const entry = known.get(column.source);
      if (!entry) return [];
      return entry.levels.map((level) => {
        const wanted = column.levels.indexOf(level);
        return {
          source: column.source,
          part: 'level',
          level,
          reference: entry.reference,
          type: 'number',
          values: indicator(column.codes, wanted),
        };
      });
    });
  },
};

function indicator(codes: Int32Array, wanted: number): Float64Array {
  const values = new Float64Array(codes.length);
  if (wanted >= 0) for (let i = 0; i < codes.length; i++) if (codes[i] === wanted) values[i] = 1;
  return values;
}

import type { PredictorColumn } from '../preparation/index.ts';

/**
 * The columns as whoever learned on these rows knows them: a level that nobody there has is not known,
 * as it is in a later cohort.
 */
export function knownLevels(columns: PredictorColumn[], learnRows: Int32Array): PredictorColumn[] {
  return columns.map((column) => {
    if (column.type !== 'coded') return column;
    const seen = new Uint8Array(column.levels.length);
    let count = 0;
    for (let i = 0; i < learnRows.length && count < seen.length; i++) {
      const code = column.codes[learnRows[i]];
      if (code >= 0 && seen[code] === 0) {
        seen[code] = 1;
        count++;
      }
    }
    if (count === seen.length) return column;
    const codes = column.codes.slice();
    for (let row = 0; row < codes.length; row++)
      if (codes[row] >= 0 && seen[codes[row]] === 0) codes[row] = -1;
    return { ...column, codes };
  });
}

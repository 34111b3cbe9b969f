import {
  pickRows,
  summarise,
  type CodedColumn,
  type ColumnSummary,
  type Table,
} from '../table/index.ts';
import type { ModelPredictor } from './model.ts';

/** What the model remembers of its predictors: levels, range and gaps of the development patients only. */
export function describePredictors(
  table: Table,
  names: string[],
  developmentRows: Int32Array,
): ModelPredictor[] {
  return names.flatMap((name): ModelPredictor[] => {
    const position = table.dictionary.findIndex((entry) => entry.name === name);
    const entry = table.dictionary[position];
    const whole = table.columns[position];
    if (!entry || whole.type === 'text') return [];
    const { label, unit, kind, missingCodes, format, spellings, formula, plausible } = entry;
    const described = {
      name,
      label,
      unit,
      kind,
      missingCodes,
      ...(format && { format }),
      ...(spellings && { spellings }),
      ...(formula && { formula }),
      ...(plausible && { plausible }),
    };
    const column = pickRows(whole, developmentRows);
    const summary = summarise(column);
    const gapShare = summary.missing / developmentRows.length;
    return [
      {
        ...described,
        gapShare,
        ...(column.type === 'coded' ? describeLevels(column, summary) : describeNumbers(summary)),
      },
    ];
  });
}

function describeNumbers({ numbers }: ColumnSummary) {
  if (!numbers) return {};
  const { least, greatest, mean, sd, lowerQuartile, median, upperQuartile } = numbers;
  return {
    range: [least, greatest] as [number, number],
    mean,
    sd,
    quartiles: [lowerQuartile, median, upperQuartile] as [number, number, number],
  };
}

/** Only levels that some development patient has: the model knows nothing of others. */
function describeLevels(column: CodedColumn, summary: ColumnSummary) {
  const counts = summary.counts!;
  const known = counts.reduce((sum, count) => sum + count, 0);
  const seen = (_: unknown, code: number) => counts[code] > 0;
  return {
    levels: column.levels.filter(seen),
    levelShares: counts.filter(seen).map((count) => count / known),
  };
}

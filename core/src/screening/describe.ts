import { countMissing, type Table } from '../table/index.ts';
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
    const { label, unit, kind, missingCodes, format, spellings } = entry;
    const described = {
      name,
      label,
      unit,
      kind,
      missingCodes,
      ...(format && { format }),
      ...(spellings && { spellings }),
    };
    if (whole.type === 'number') {
      const values = Float64Array.from(developmentRows, (row) => whole.values[row]);
      const known = values.filter((value) => !Number.isNaN(value));
      const gapShare = countMissing({ type: 'number', values }) / values.length;
      if (known.length === 0) return [{ ...described, gapShare }];
      const range: [number, number] = [known.reduce(least), known.reduce(greatest)];
      return [{ ...described, gapShare, range }];
    }
    const codes = Int32Array.from(developmentRows, (row) => whole.codes[row]);
    const seen = new Set(codes);
    return [
      {
        ...described,
        gapShare: countMissing({ type: 'coded', codes, levels: whole.levels }) / codes.length,
        levels: whole.levels.filter((_, code) => seen.has(code)),
      },
    ];
  });
}

const least = (a: number, b: number) => Math.min(a, b);
const greatest = (a: number, b: number) => Math.max(a, b);

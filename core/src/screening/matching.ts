import * as z from 'zod';
import { convert, type Column, type Table } from '../table/index.ts';

/** A column of a list that stands for a predictor of the model: another name, unit, or levels. */
export const matchSchema = z.object({
  /** What the model calls it. */
  predictor: z.string().min(1).max(200),
  /** What the list calls it. */
  column: z.string().min(1).max(200),
  /** Numbers become factor × value + offset. */
  conversion: z
    .object({
      from: z.string().max(60),
      factor: z
        .number()
        .refine((factor) => factor !== 0 && Number.isFinite(factor), 'The factor cannot be 0.'),
      offset: z.number(),
    })
    .optional(),
  /** Levels of the list with the model's level that each stands for; empty for not known. */
  levels: z
    .array(z.object({ from: z.string().max(200), to: z.string().max(200) }))
    .max(1000)
    .optional(),
});
export type Match = z.infer<typeof matchSchema>;

export const matchingSchema = z
  .array(matchSchema)
  .max(2000)
  .refine(
    (matching) => new Set(matching.map(({ predictor }) => predictor)).size === matching.length,
    'Two columns are matched with the same predictor. Choose one of them.',
  );

/**
 * The list with its matched columns under the names, in the units and with the levels of the model.
 * A column that the list has under a predictor's name gives way to the one matched with it. Matches
 * whose column is not there do nothing.
 */
export function applyMatching(table: Table, matching: Match[]): Table {
  const found = matching.flatMap((match) => {
    const place = table.dictionary.findIndex(({ name }) => name === match.column);
    return place < 0 ? [] : [{ match, place }];
  });
  if (found.length === 0) return table;
  const taken = new Set([
    ...found.map(({ place }) => table.dictionary[place].name),
    ...found.map(({ match }) => match.predictor),
  ]);
  const kept = [...table.dictionary.keys()].filter((i) => !taken.has(table.dictionary[i].name));
  return {
    rowCount: table.rowCount,
    dictionary: [
      ...kept.map((i) => table.dictionary[i]),
      ...found.map(({ match, place }) => ({ ...table.dictionary[place], name: match.predictor })),
    ],
    columns: [
      ...kept.map((i) => table.columns[i]),
      ...found.map(({ match, place }) => matched(table.columns[place], match)),
    ],
  };
}

function matched(column: Column, { conversion, levels }: Match): Column {
  if (column.type === 'number' && conversion) {
    const values = new Float64Array(column.values.length);
    for (let i = 0; i < values.length; i++) values[i] = convert(column.values[i], conversion);
    return { type: 'number', values };
  }
  if (column.type !== 'coded' || !levels || levels.length === 0) return column;
  const to = new Map(levels.map((one) => [one.from, one.to]));
  const names: string[] = [];
  const codeOf = column.levels.map((level) => {
    const name = to.get(level) ?? level;
    if (name === '') return -1;
    if (!names.includes(name)) names.push(name);
    return names.indexOf(name);
  });
  const codes = new Int32Array(column.codes.length);
  for (let i = 0; i < codes.length; i++)
    codes[i] = column.codes[i] < 0 ? -1 : codeOf[column.codes[i]];
  return { type: 'coded', codes, levels: names };
}

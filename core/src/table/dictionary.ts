import * as z from 'zod';

/** What the values of a column are. */
export const kinds = ['number', 'category', 'ordered category', 'yes/no', 'date', 'text'] as const;
export type Kind = (typeof kinds)[number];

/** What a column is for. */
export const roles = [
  'predictor',
  'outcome',
  'identifier',
  /** Each row stands for so many patients who are alike in every column. */
  'number of patients',
  'set aside',
] as const;
export type Role = (typeof roles)[number];

/** How the cells of a column spell numbers or dates where the usual way (1.5, 2024-12-31) is not meant. */
export const cellFormats = ['decimal comma', 'day first', 'month first'] as const;
export type CellFormat = (typeof cellFormats)[number];

/** One line of the dictionary: how a column of the file is understood. */
export const dictionaryEntrySchema = z.object({
  name: z.string().min(1).max(200),
  label: z.string().max(200),
  unit: z.string().max(40),
  kind: z.enum(kinds),
  role: z.enum(roles),
  /** Spellings in the file that mean "not known", beyond the empty cell. */
  missingCodes: z.array(z.string().max(100)).max(50),
  /** Absent for a decimal point and ISO 8601 dates. */
  format: z.enum(cellFormats).optional(),
  /** Coded kinds: cells that stand for a level of another name, such as 1 for "never". */
  spellings: z.record(z.string().max(200), z.string().min(1).max(200)).optional(),
  /** Levels in their order; filled for the coded kinds once the file is read. */
  levels: z.array(z.string()).optional(),
  /** A derived column: what it is worked out from, instead of cells of the file. */
  formula: z.string().min(1).max(4000).optional(),
  /** Numbers outside these ends are not plausible. */
  plausible: z
    .object({
      least: z.number().nullable(),
      most: z.number().nullable(),
      /** What becomes of a value beyond them. */
      beyond: z.enum(['kept', 'not known']),
    })
    .optional(),
  /** What the analyst wants remembered of the column. */
  note: z.string().max(2000).optional(),
});
export type DictionaryEntry = z.infer<typeof dictionaryEntrySchema>;

export const dictionarySchema = z.array(dictionaryEntrySchema).max(10_000);
export type Dictionary = DictionaryEntry[];

/** Kinds that are stored as codes of a list of levels. */
export function isCoded(kind: Kind): boolean {
  return kind === 'category' || kind === 'ordered category' || kind === 'yes/no';
}

/** Kinds that a model can use. */
export function canPredict(kind: Kind): boolean {
  return kind === 'number' || isCoded(kind);
}

/** Whether a column says who a row is, or how many: no model can use it, and no outcome can it be. */
export function isAboutRows({ role }: Pick<DictionaryEntry, 'role'>): boolean {
  return role === 'identifier' || role === 'number of patients';
}

/** The label if there is one, else the name. */
export function display(entry: { name: string; label: string }): string {
  return entry.label || entry.name;
}

/** Whether two entries read the cells of a file alike: label, unit and role do not matter. */
export function readsAlike(a: DictionaryEntry, b: DictionaryEntry): boolean {
  return readingOf(a) === readingOf(b);
}

/** What decides how cells are read, as text. */
export function readingOf(entry: DictionaryEntry): string {
  const { name, kind, missingCodes, format, spellings, levels, formula, plausible } = entry;
  const ends = plausible?.beyond === 'not known' ? [plausible.least, plausible.most] : null;
  const renamed = Object.entries(spellings ?? {}).sort(([a], [b]) => (a < b ? -1 : 1));
  return JSON.stringify([
    name,
    kind,
    [...missingCodes].sort(),
    format ?? null,
    renamed,
    levels ?? null,
    ...(formula ? [formula] : []),
    ...(ends ? [ends] : []),
  ]);
}

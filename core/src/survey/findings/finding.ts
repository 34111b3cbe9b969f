/** What the program can notice in a table of patients before anything is fitted. */
export const findingCodes = [
  'identifier-like',
  'constant',
  'near-duplicates',
  'implausible zeros',
  'gives the answer away',
  'missing by outcome',
  'later by name',
  'units differ by group',
  'code for missing',
  'spelled twice',
  'duplicated patients',
  'sorted by outcome',
  'counted rows',
] as const;
export type FindingCode = (typeof findingCodes)[number];

/** One thing noticed, with the figures that show it. The interface puts it into words. */
export interface Finding {
  code: FindingCode;
  /** Names of the columns it is about; none when it is about the whole table. */
  columns: string[];
  /** Levels or cells it is about. */
  values: string[];
  figures: Record<string, number>;
}

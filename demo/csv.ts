import type { DemoCohort } from './cohort.ts';

/** The cohort as the text of a CSV file. The made-up values hold no comma, quote or line break. */
export function toCsv({ header, rows }: DemoCohort): string {
  return [header, ...rows].map((cells) => `${cells.join(',')}\n`).join('');
}

import { cleanText } from './clean-text.ts';
import { limits, tooDeep } from './limits.ts';

/** A value as the text of a cell; what is nested stays as its JSON. */
export function cellOf(value: unknown): string {
  if (value === null || value === undefined) return '';
  if (typeof value === 'string') return cleanText(value);
  if (value instanceof Date) return dateText(value);
  if (typeof value === 'number' || typeof value === 'boolean' || typeof value === 'bigint')
    return String(value);
  mindDepth(value);
  return JSON.stringify(value, (_, part: unknown) =>
    typeof part === 'bigint' ? String(part) : part,
  );
}

/** A date without its time where that is midnight. */
export function dateText(date: Date): string {
  if (Number.isNaN(date.getTime())) return '';
  const text = date.toISOString();
  return text.endsWith('T00:00:00.000Z') ? text.slice(0, 10) : text.slice(0, 19).replace('T', ' ');
}

/** Refuses what holds too much inside of each other to be written out again. */
function mindDepth(value: unknown, depth = 1): void {
  if (depth > limits.depth) throw tooDeep();
  if (typeof value === 'object' && value !== null)
    for (const item of Object.values(value)) mindDepth(item, depth + 1);
}

/** Spellings of "not known" that no analyst has to declare (common practice). */
const commonMissing = new Set([
  '',
  'na',
  'n/a',
  'nan',
  'null',
  'none recorded',
  '.',
  '-',
  '--',
  '?',
]);

const yesWords = new Set(['yes', 'y', 'true', 't', '1']);
const noWords = new Set(['no', 'n', 'false', 'f', '0']);
const numberForm = /^[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?$/;
const dateForm =
  /^(\d{4})-(\d{2})-(\d{2})(?:[T ]\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?(?:Z|[+-]\d{2}:?\d{2})?)?$/;

/** Whether a cell, already trimmed, means "not known" in any column. */
export function isCommonMissing(cell: string): boolean {
  return cell.length <= 13 && commonMissing.has(cell.toLowerCase());
}

/** The number a trimmed cell spells, or NaN when it spells none. */
export function readNumber(cell: string): number {
  return numberForm.test(cell) ? Number(cell) : NaN;
}

/** Days since 1970-01-01 of an ISO 8601 date (a time of day is dropped), or NaN. */
export function readDay(cell: string): number {
  const parts = dateForm.exec(cell);
  if (!parts) return NaN;
  const [year, month, day] = [Number(parts[1]), Number(parts[2]), Number(parts[3])];
  const time = Date.UTC(year, month - 1, day);
  const back = new Date(time);
  const real = back.getUTCMonth() === month - 1 && back.getUTCDate() === day;
  return real ? time / 86_400_000 : NaN;
}

/** true, false, or undefined when the cell is neither. */
export function readYesNo(cell: string): boolean | undefined {
  const word = cell.toLowerCase();
  if (yesWords.has(word)) return true;
  if (noWords.has(word)) return false;
  return undefined;
}

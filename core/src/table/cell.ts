import type { CellFormat } from './dictionary.ts';

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

/** Spellings of yes and no in extracts of several languages (common practice). */
const yesWords = new Set('yes y true t 1 ja j oui o si sí s positive pos present x ✓ +'.split(' '));
const noWords = new Set('no n false f 0 nein nee non negative neg absent'.split(' '));

// Thousands are never parted behind a leading zero: 0,123 is no 123.
const pointForm = /^[+-]?(?:\d+\.?\d*|\.\d+|[1-9]\d{0,2}(?:,\d{3})+(?:\.\d+)?)(?:[eE][+-]?\d+)?$/;
const commaForm = /^[+-]?(?:\d+,?\d*|,\d+|[1-9]\d{0,2}(?:\.\d{3})+(?:,\d+)?)(?:[eE][+-]?\d+)?$/;
const time = '(?:[T ]\\d{1,2}:\\d{2}(?::\\d{2}(?:\\.\\d+)?)?(?:Z|[+-]\\d{2}:?\\d{2})?)?';
const yearFirst = new RegExp(`^(\\d{4})-(\\d{2})-(\\d{2})${time}$`);
const yearLast = new RegExp(`^(\\d{1,2})([./-])(\\d{1,2})\\2(\\d{4})${time}$`);

/** The one spelling of a plain number that all its spellings are compared by; other text as it is. */
export function plainSpelling(cell: string): string {
  if (!/^[+-]?\d*\.?\d+\.?0*$/.test(cell) || cell.length > 15) return cell;
  const value = readNumber(cell);
  return Number.isNaN(value) ? cell : String(value);
}

/** Whether a cell, already trimmed, means "not known" in any column. */
export function isCommonMissing(cell: string): boolean {
  return cell.length <= 13 && commonMissing.has(cell.toLowerCase());
}

/**
 * The number a trimmed cell spells, or NaN when it spells none. With a decimal point, commas may
 * part thousands (1,250.5); with a decimal comma, points may (1.250,5). A size beyond 1e100 is none.
 */
export function readNumber(cell: string, format?: CellFormat): number {
  if (format === 'decimal comma')
    return commaForm.test(cell) ? measurable(cell.replaceAll('.', '').replace(',', '.')) : NaN;
  if (!pointForm.test(cell)) return NaN;
  return measurable(cell.includes(',') ? cell.replaceAll(',', '') : cell);
}

/** Beyond this nothing is measured, and squares of it would be beyond what a number can hold. */
export const largestNumber = 1e100;

function measurable(text: string): number {
  const value = Number(text);
  // A whole number with more digits than a number can hold is an identifier, not a measurement.
  if (Math.abs(value) > Number.MAX_SAFE_INTEGER && /^[+-]?\d+$/.test(text)) return NaN;
  return Math.abs(value) <= largestNumber ? value : NaN;
}

/**
 * Days since 1970-01-01, or NaN when the cell spells no date; a time of day is dropped. ISO 8601
 * dates are read under every format; 31/12/2024 and the like only when the format says which part
 * comes first.
 */
export function readDay(cell: string, format?: CellFormat): number {
  const iso = yearFirst.exec(cell);
  if (iso) return dayNumber(Number(iso[1]), Number(iso[2]), Number(iso[3]));
  if (format !== 'day first' && format !== 'month first') return NaN;
  const parts = yearLast.exec(cell);
  if (!parts) return NaN;
  const [first, second, year] = [Number(parts[1]), Number(parts[3]), Number(parts[4])];
  return format === 'day first' ? dayNumber(year, second, first) : dayNumber(year, first, second);
}

/** true, false, or undefined when the cell is neither. */
export function readYesNo(cell: string): boolean | undefined {
  if (cell.length > 8) return undefined;
  const word = cell.toLowerCase();
  if (yesWords.has(word)) return true;
  if (noWords.has(word)) return false;
  // Programs that write numbers write 1.0 and 0.0.
  if (oneOrZero.test(word)) return word.startsWith('1') || word.startsWith('+1');
  return undefined;
}

const oneOrZero = /^\+?[01][.,]0+$/;

/** Before this year no patient was seen: such a year is a slip, or one of two digits (0024). */
const firstYear = 1000;

function dayNumber(year: number, month: number, day: number): number {
  if (year < firstYear) return NaN;
  const at = Date.UTC(year, month - 1, day);
  const back = new Date(at);
  const real = back.getUTCMonth() === month - 1 && back.getUTCDate() === day;
  return real ? at / 86_400_000 : NaN;
}

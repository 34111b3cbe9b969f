const groups = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 0 });

/**
 * A number with a fixed number of decimals, thousands separated, a minus sign in print, and no "−0.0"; a dash where
 * there is none.
 *
 * @example showFixed(-12345.678, 1) is "−12,345.7"
 */
export function showFixed(value: number | null | undefined, decimals: number): string {
  if (value === null || value === undefined) return '–';
  const text = value.toFixed(decimals);
  return inPrint(Number(text) === 0 ? text.replace('-', '') : text, 1e3);
}

/**
 * A number rounded to significant digits, without trailing zeros; thousands are separated from 10,000 on, so that years
 * stay as they are.
 *
 * @example showDigits(4.803999999999999, 4) is "4.804", showDigits(-123456, 3) is "−123,000"
 */
export function showDigits(value: number, digits: number): string {
  return showExact(Number(value.toPrecision(digits)));
}

/** All digits of a number, thousands separated from 10,000 on. */
export function showExact(value: number): string {
  const text = String(value);
  return inPrint(text === '-0' ? '0' : text, 1e4);
}

/** Rounds to a number of decimals. */
export const roundTo = (value: number, decimals: number): number => Number(value.toFixed(decimals));

/** Rounds to a number of significant digits. */
export const roundDigits = (value: number, digits: number): number =>
  Number(value.toPrecision(digits));

/**
 * A number as people write it: with a decimal point or comma, thousands separated by commas or spaces, a minus sign
 * or hyphen. NaN where it is none, or is empty.
 *
 * @example readNumber("10,000") is 10000, readNumber("2,5") is 2.5, readNumber("0,125") is 0.125
 */
export function readNumber(text: string): number {
  const plain = text.trim().replace('−', '-');
  if (/^-?[1-9]\d{0,2}(?:[,\s]\d{3})+(?:\.\d*)?$/.test(plain))
    return Number(plain.replaceAll(/[,\s]/g, ''));
  return /^[+-]?(?:\d+[.,]?\d*|[.,]\d+)(?:e[+-]?\d+)?$/i.test(plain)
    ? Number(plain.replace(',', '.'))
    : NaN;
}

/** The text of a number with a minus sign, and thousands separated from a size on. */
export function inPrint(text: string, from = Infinity): string {
  const [, sign, whole, rest] = /^(-?)(\d*)(.*)$/.exec(text)!;
  const isLarge = Number(whole) >= from && !rest.includes('e');
  const before = isLarge ? groups.format(BigInt(whole)) : whole;
  return `${sign && '−'}${before}${rest.replace('e-', 'e−').replace('e+', 'e')}`;
}

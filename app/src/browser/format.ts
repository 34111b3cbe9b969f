import { format } from 'date-fns';
import type { Figure, Interval, Rate } from '@rook-scale/core/measures';

const counts = new Intl.NumberFormat('en-GB');

/** 2412 → "2,412". */
export const showCount = (value: number) => counts.format(value);

/** 1 patient, 2 patients. */
export const plural = (count: number, one: string, many = `${one}s`) =>
  `${showCount(count)} ${count === 1 ? one : many}`;

/** A share as a whole per cent, or with one decimal below 10%. */
export function showPercent(share: number): string {
  const percent = 100 * share;
  return `${percent !== 0 && percent < 10 ? percent.toFixed(1) : percent.toFixed(0)}%`;
}

/** Costs per 1,000: whole from 100 on. */
export function showCost(value: number): string {
  return value >= 100 ? showCount(Math.round(value)) : String(Number(value.toPrecision(3)));
}

/** A cutoff in full: reading it off and typing it in again must give the same calls. */
export function showCutoff(cutoff: number): string {
  if (cutoff > 1) return 'above 1';
  return cutoff.toFixed(Math.max(2, Math.min(6, String(cutoff).split('.')[1]?.length ?? 0)));
}

/** Risks with as many digits as tell patients apart on a list. */
export const showRisk = (risk: number) => risk.toFixed(3);

export const showRate = (rate: Rate | Figure) =>
  rate.value === undefined ? '–' : rate.value.toFixed(2);

/** "0.71 – 0.88", or a dash where there is none. */
export function showInterval(interval: Interval | undefined, digits = 2): string {
  return interval ? `${interval[0].toFixed(digits)} – ${interval[1].toFixed(digits)}` : '–';
}

/** At least `digits` significant digits, without trailing noise. */
export function showNumber(value: number, digits = 4): string {
  if (value === 0) return '0';
  const size = Math.abs(value);
  if (size >= 1e6 || size < 1e-4) return value.toExponential(Math.max(1, digits - 2));
  const decimals = Math.max(0, digits - 1 - Math.floor(Math.log10(size)));
  return size >= 10 ** (digits - 1)
    ? showCount(Math.round(value))
    : value.toFixed(Math.min(decimals, 6));
}

/** A number as the data carry it: no digits added, at most five significant ones. */
export function showValue(value: number): string {
  const rounded = Number(value.toPrecision(5));
  return Math.abs(rounded) < 1e9 ? String(rounded) : rounded.toExponential().replace('e+', 'e');
}

/** A mean with as many digits as its spread gives reason for: one beyond the first of the SD. */
export function roundBySpread(value: number, sd: number): number {
  if (!(sd > 0)) return value;
  const digits = 1 - Math.floor(Math.log10(sd));
  return Number(value.toFixed(Math.min(8, Math.max(0, digits))));
}

export const showP = (p: number) => (p < 0.001 ? '<0.001' : p.toFixed(3));

export const showDate = (at: Date | string) => format(new Date(at), 'd MMM yyyy');

export const showMoment = (at: Date | string) => format(new Date(at), 'd MMM yyyy, HH:mm');

export function showSize(bytes: number): string {
  if (bytes < 1024) return `${bytes} bytes`;
  if (bytes < 1024 ** 2) return `${Math.round(bytes / 1024)} KB`;
  return `${(bytes / 1024 ** 2).toFixed(1)} MB`;
}

/** "Kidney injury" → "kidney injury" within a sentence, but "ICU stay" and "eGFR" as they are. */
export function lowerFirst(text: string): string {
  return /^[A-Z][a-z]/.test(text) ? text[0].toLowerCase() + text.slice(1) : text;
}

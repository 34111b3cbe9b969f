import { readScore } from '@rook-scale/core/outcome';
import { caseRule, type Design } from '@rook-scale/core/design';
import type { Model } from '@rook-scale/core/model';
import { format } from 'date-fns';
import type { Figure, Interval, Rate } from '@rook-scale/core/measures';
import { inPrint, showDigits, showExact, showFixed } from './numbers.ts';

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
  return value >= 100 ? showCount(Math.round(value)) : showDigits(value, 3);
}

/**
 * A cutoff in full: reading it off and typing it in again must give the same calls.
 *
 * @param outcome what is predicted, where it may be a number: the cutoff is then in its unit
 */
export function showCutoff(cutoff: number, outcome?: Model['outcome']): string {
  if (outcome?.choice.kind === 'number') {
    if (Math.abs(cutoff) > 1e300) return 'beyond all';
    return withUnit(showExact(readScore(cutoff, outcome.cases)), outcome.unit);
  }
  if (cutoff > 1) return 'above 1';
  return cutoff.toFixed(Math.max(2, Math.min(6, String(cutoff).split('.')[1]?.length ?? 0)));
}

/** A number of the outcome, with as many digits as tell patients apart. */
export function showInUnit(value: number, unit: string): string {
  return withUnit(showDigits(value, 4), unit);
}

const withUnit = (text: string, unit: string) => `${text}${unit && ` ${unit}`}`;

/** A score as it is read: a risk or share with three decimals, a number in its unit. */
export function showScore(score: number, outcome: Model['outcome']): string {
  if (outcome.choice.kind !== 'number') return showRisk(score);
  return showInUnit(readScore(score, outcome.cases), outcome.unit);
}

/** Who is a case, to stand behind "with": "the event", "mild or severe", "177 µmol/L or more". */
export function caseWords({ cases, unit }: Pick<Model['outcome'], 'cases' | 'unit'>): string {
  if (cases.kind === 'event') return 'the event';
  if (cases.kind === 'levels') return listWords(cases.levels, 'or');
  const { value, side } = cases;
  return `${withUnit(showExact(value), unit)} or ${side === 'from' ? 'more' : 'less'}`;
}

/**
 * What a score is of.
 *
 * @example the outcome "Diagnosis" with the event "M" gives "Risk of diagnosis = M"; "yes" is not named
 */
export function scoreHead({ choice, label, cases, unit }: Model['outcome']): string {
  const name = lowerFirst(label || choice.column);
  if (choice.kind === 'event')
    return choice.event.toLowerCase() === 'yes'
      ? `Risk of ${name}`
      : `Risk of ${name} = ${choice.event}`;
  if (choice.kind === 'number') return `Predicted ${name}`;
  return `Share of ${caseWords({ cases, unit })} in ${name}`;
}

/** What a case is under a design, behind the name of its outcome; empty while that is open. */
export function designWords(design: Design, unit: string): string {
  const { kind, event, cases, caseFrom } = design;
  if (kind === 'event') return event && ` = ${event}`;
  if (kind === 'levels' ? cases.length === 0 : caseFrom === null) return '';
  return `; ${caseWords({ cases: caseRule(design), unit })} is a case`;
}

/** What the rows of an error table are called: cases first, then the others. */
export function errorWords(outcome: Model['outcome'], other?: string) {
  const { choice, cases, levels = [], label } = outcome;
  const words = {
    event: () => ({
      event: choice.kind === 'event' ? choice.event : '',
      other: other ?? `not ${choice.kind === 'event' ? choice.event : ''}`,
    }),
    levels: () => ({
      event: caseWords(outcome),
      other: listWords(
        levels.filter((level) => cases.kind !== 'levels' || !cases.levels.includes(level)),
        'or',
      ),
    }),
    number: () => ({ event: caseWords(outcome), other: 'others' }),
  };
  const isEvent = choice.kind === 'event';
  return { label: label || choice.column, isEvent, ...words[choice.kind]() };
}

/** "a, b and c". */
export function listWords(words: string[], last: 'and' | 'or'): string {
  if (words.length < 2) return words.join('');
  return `${words.slice(0, -1).join(', ')} ${last} ${words[words.length - 1]}`;
}

/**
 * Risks with as many digits as keep patients apart on a list. No risk reads as certain: no calibration supports it.
 *
 * @example showRisk(0.99996) is ">0.999", showRisk(0.0001) is "<0.001"
 */
export function showRisk(risk: number): string {
  if (risk > 0.9995) return '>0.999';
  return risk < 0.0005 ? '<0.001' : risk.toFixed(3);
}

export const showRate = (rate: Rate | Figure) =>
  rate.value === undefined ? '–' : rate.value.toFixed(2);

/** "0.71 – 0.88", or a dash where there is none. */
export function showInterval(interval: Interval | undefined, digits = 2): string {
  if (!interval) return '–';
  return interval.map((end) => showFixed(end, digits)).join(' – ');
}

/** At least `digits` significant digits, without trailing noise. */
export function showNumber(value: number, digits = 4): string {
  if (value === 0) return '0';
  const size = Math.abs(value);
  if (size >= 1e6 || size < 1e-4) return inPrint(value.toExponential(Math.max(1, digits - 2)));
  const decimals = Math.max(0, digits - 1 - Math.floor(Math.log10(size)));
  return size >= 10 ** (digits - 1) ? showFixed(value, 0) : showFixed(value, Math.min(decimals, 6));
}

/** A number as the data carry it: no digits added, at most five significant ones. */
export function showValue(value: number): string {
  const rounded = Number(value.toPrecision(5));
  return Math.abs(rounded) < 1e9 ? showExact(rounded) : inPrint(rounded.toExponential());
}

/** A mean with as many digits as its spread gives reason for: one beyond the first of the SD. */
export function roundBySpread(value: number, sd: number): number {
  if (!(sd > 0)) return value;
  const digits = 1 - Math.floor(Math.log10(sd));
  return Number(value.toFixed(Math.min(8, Math.max(0, digits))));
}

/**
 * An area under the ROC curve: as many decimals as keep it apart from 0 and 1, unless it is one of them.
 *
 * @example showArea(0.9996) is "0.9996", showArea(0.8249) is "0.82"
 */
export function showArea(value: number, decimals = 2): string {
  if (value === 0 || value === 1) return value.toFixed(decimals);
  for (let more = decimals; more < 6; more++) {
    const text = value.toFixed(more);
    if (Number(text) > 0 && Number(text) < 1) return text;
  }
  return value > 0.5 ? '>0.99999' : '<0.00001';
}

export const showAreaInterval = (interval: Interval, decimals = 2): string =>
  interval.map((end) => showArea(end, decimals)).join(' – ');

/** A p-value; a dash where there is none. */
export function showP(p: number | null | undefined): string {
  if (p === null || p === undefined || Number.isNaN(p)) return '–';
  return p < 0.001 ? '<0.001' : p.toFixed(3);
}

export const showDate = (at: string) => format(new Date(at), 'd MMM yyyy');

export const showMoment = (at: string) => format(new Date(at), 'd MMM yyyy, HH:mm');

export function showSize(bytes: number): string {
  if (bytes < 1024) return `${bytes} bytes`;
  if (bytes < 1024 ** 2) return `${Math.round(bytes / 1024)} KB`;
  return `${(bytes / 1024 ** 2).toFixed(1)} MB`;
}

/** "Kidney injury" → "kidney injury" within a sentence, but "ICU stay" and "eGFR" as they are. */
export function lowerFirst(text: string): string {
  return /^[A-Z][a-z]/.test(text) ? text[0].toLowerCase() + text.slice(1) : text;
}

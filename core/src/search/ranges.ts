import type { SettingField } from '../families/index.ts';

type NumberField = Extract<SettingField, { type: 'number' }>;

/**
 * Values from one to another, evenly or each as many times the one before; those of a setting of whole numbers are
 * rounded, each once. Four digits, as they are read.
 */
export function rangeOf(
  { whole }: Pick<NumberField, 'whole'>,
  from: number,
  to: number,
  count: number,
  by: 'step' | 'ratio',
): number[] {
  if (count < 2 || from === to) return [from];
  const at = (share: number) =>
    by === 'ratio' ? from * (to / from) ** share : from + share * (to - from);
  const values = Array.from({ length: count }, (_, i) => {
    if (i === 0) return from;
    if (i === count - 1) return to;
    const value = at(i / (count - 1));
    return whole ? Math.round(value) : Number(value.toPrecision(4));
  });
  return [...new Set(values)];
}

/**
 * Values around one that was found good: half way to those beside it that were tried, and where it is the last on a
 * side as far beyond it as the next stands before it. Half way means by ratio where the tried values
 * go by ratio. None that was tried already.
 *
 * @param tried ascending
 */
export function finerValues(field: NumberField, tried: number[], around: number): number[] {
  const place = tried.indexOf(around);
  const [below, above] = [tried[place - 1], tried[place + 1]];
  const isRatio = goesByRatio(tried);
  const between = (a: number, b: number) => (isRatio ? Math.sqrt(a * b) : (a + b) / 2);
  const beyond = (from: number, past: number) => (isRatio ? (past * past) / from : 2 * past - from);
  const wanted = [
    ...(below !== undefined ? [between(below, around)] : above ? [beyond(above, around)] : []),
    ...(above !== undefined ? [between(around, above)] : below ? [beyond(below, around)] : []),
  ];
  const { least, most, whole } = field;
  const rounded = wanted.map((value) => (whole ? Math.round(value) : Number(value.toPrecision(4))));
  return [...new Set(rounded)].filter(
    (value) => value >= least && value <= most && !tried.includes(value),
  );
}

/** Whether values that ascend stand by ratio rather than by step. */
function goesByRatio(values: number[]): boolean {
  if (values.length < 3) return values.length === 2 && values[0] > 0 && values[1] > 4 * values[0];
  const [first, second] = [values[0], values[1]];
  const [before, last] = values.slice(-2);
  if (first <= 0) return false;
  const ratios = Math.log(last / before) / Math.log(second / first);
  const steps = (last - before) / (second - first);
  return Math.abs(Math.log(ratios)) < Math.abs(Math.log(steps));
}

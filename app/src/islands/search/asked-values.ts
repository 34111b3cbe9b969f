import type { SettingField, Settings } from '@rook-scale/core/families';
import { rangeOf, type SearchPlan } from '@rook-scale/core/search';
import { plural } from '../../browser/format.ts';

type Value = SearchPlan['tried'][string][number];

/** How a setting is asked for in a search. */
export type Asked =
  | { as: 'one'; value: Settings[string] }
  | { as: 'list'; text: string }
  | { as: 'range'; from: string; to: string; count: string; by: 'step' | 'ratio' }
  | { as: 'options'; values: Value[] };

/** What a setting has to be tried with, or why that is not known. */
export type AskedValues = { values: Settings[string][] } | { error: string };

/** Values of a range at most. */
const mostOfRange = 200;

export function valuesOf(field: SettingField, asked: Asked): AskedValues {
  if (asked.as === 'one') {
    if (field.type !== 'number') return { values: [asked.value] };
    return checked(field, [numberOf(asked.value)]);
  }
  if (asked.as === 'options')
    return asked.values.length > 0
      ? { values: asked.values }
      : { error: `${field.label}: choose at least one.` };
  if (field.type !== 'number') return { error: `${field.label}: choose a value.` };
  if (asked.as === 'list') {
    const parts = asked.text.split(/[\s;,]+/).filter(Boolean);
    return parts.length > 0
      ? checked(field, [...new Set(parts.map(numberOf))])
      : { error: `${field.label}: write one value or more, with a comma between them.` };
  }
  const [from, to, count] = [asked.from, asked.to, asked.count].map(numberOf);
  if (![from, to, count].every(Number.isFinite))
    return { error: `${field.label}: say from, to and how many.` };
  if (!Number.isInteger(count) || count < 2 || count > mostOfRange)
    return { error: `${field.label}: from 2 to ${mostOfRange} values.` };
  if (asked.by === 'ratio' && !(from > 0 && to > 0))
    return { error: `${field.label}: by ratio, both ends lie above 0.` };
  return checked(field, rangeOf(field, from, to, count, asked.by));
}

/** "5 values: 50, 100, 200, 400, 800". */
export function valuesText(values: Settings[string][]): string {
  const most = 12;
  const shown = values.slice(0, most).map(String).join(', ');
  return `${plural(values.length, 'value')}: ${shown}${values.length > most ? ' …' : ''}`;
}

const numberOf = (text: unknown): number => {
  const plain = typeof text === 'string' ? text.trim() : text;
  return plain === '' || plain === undefined ? NaN : Number(plain);
};

function checked(
  { label, least, most, whole }: Extract<SettingField, { type: 'number' }>,
  values: number[],
): AskedValues {
  if (values.some((value) => !(value >= least && value <= most)))
    return { error: `${label}: from ${least} to ${most}.` };
  if (whole && !values.every(Number.isInteger)) return { error: `${label}: whole numbers.` };
  return { values };
}

import type { UnusualRule } from '@rook-scale/core/survey';
import { listWords } from '../../../browser/format.ts';
import { showDigits } from '../../../browser/numbers.ts';

type Condition = UnusualRule['conditions'][number];

/** A rule as words: "Creatinine 120 µmol/L or more; Albumin below 30 g/L." */
export function ruleWords(
  { conditions }: UnusualRule,
  nameOf: (column: string) => string,
  unitOf: (column: string) => string,
): string {
  return conditions
    .map((one) => `${nameOf(one.column)} ${words(one, unitOf(one.column))}`)
    .join('; ');
}

function words({ from, below, levels, orNotKnown }: Condition, unit: string): string {
  const show = (value: number) => `${showDigits(value, 3)}${unit && ` ${unit}`}`;
  const said = levels
    ? listWords(levels, 'or')
    : from !== undefined && below !== undefined
      ? `${showDigits(from, 3)} to below ${show(below)}`
      : from !== undefined
        ? `${show(from)} or more`
        : below !== undefined
          ? `below ${show(below)}`
          : '';
  if (!said) return orNotKnown ? 'not known' : 'known';
  return orNotKnown ? `${said}, or not known` : said;
}

import {
  familyDescriptions,
  type FamilyDescription,
  type SettingField,
  type Settings,
} from '@rook-scale/core/families';
import { fieldsTried, type SearchMeasure } from '@rook-scale/core/search';
import type { SearchLine, SelectionShown } from '../../contract/searches.ts';
import { plural, showCost, showCount } from '../../browser/format.ts';
import { showDigits, showFixed } from '../../browser/numbers.ts';

export const familyOfSearch = ({ family }: Pick<SearchLine, 'family'>): FamilyDescription =>
  familyDescriptions.find(({ id }) => id === family)!;

/** What a search compares: settings of its family, or predictors. */
export const fieldsOfSearch = (line: Pick<SearchLine, 'family' | 'plan'>): SettingField[] =>
  fieldsTried(familyOfSearch(line), line.plan);

/** Families differ by name; what is looked for in one is said behind it. */
export const kindText = ({ plan }: Pick<SearchLine, 'plan'>): string =>
  plan.fewer ? 'selection' : plan.growing ? 'learning curve' : 'search';

/** "3 combinations", "12 numbers of predictors", "4 sets". */
const comparedText = ({ plan }: Pick<SearchLine, 'plan'>, count: number): string =>
  plan.growing
    ? `${plural(count, 'number')} of patients`
    : !plan.fewer
      ? plural(count, 'combination')
      : plan.fewer.way === 'sets'
        ? plural(count, 'set')
        : `${plural(count, 'number')} of predictors`;

/** A figure as its measure is read. */
export function showTried(
  { unit }: Pick<SearchMeasure, 'unit'>,
  value: number | undefined,
): string {
  if (value === undefined) return '–';
  if (unit === 'cost') return showCost(value);
  return unit === 'outcome' ? showDigits(value, 4) : showFixed(value, 3);
}

export const labelOf = (fields: SettingField[], name: string): string =>
  fields.find((field) => field.name === name)?.label ?? name;

/** A value as it is said: the words of an option, yes or no. */
export function valueText(fields: SettingField[], name: string, value: Settings[string]): string {
  const field = fields.find((one) => one.name === name);
  if (field?.type === 'choice')
    return field.options.find((option) => option.value === value)?.label ?? String(value);
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  return typeof value === 'number' ? showDigits(value, 5) : String(value);
}

/** "trees 200, patients in a leaf 5"; "3 predictors". */
export const settingsText = (
  fields: SettingField[],
  varied: string[],
  values: Settings[string][],
): string =>
  varied
    .map((name, i) => {
      if (name === 'predictors') return plural(Number(values[i]), 'predictor');
      if (name === 'patients') return plural(Number(values[i]), 'patient');
      const label = labelOf(fields, name);
      return `${label.charAt(0).toLowerCase()}${label.slice(1)} ${valueText(fields, name, values[i])}`;
    })
    .join(', ');

/** How far a search is, in a few words. */
export function stateText(line: SearchLine): string {
  const { state, judged, settings, round, rounds, share, left, problem } = line;
  const compared = (count: number) => comparedText(line, count);
  const shown = `${showCount(judged)} of ${compared(settings)}`;
  const inRound =
    rounds > 1 ? ` in round ${round} of ${rounds}, on ${shareText(share)} of the patients` : '';
  switch (state) {
    case 'waiting':
      return 'waiting for a worker';
    case 'running':
      return `${rounds > 1 ? compared(judged) : shown} compared${inRound}${halvesText(line)}${leftText(left)}`;
    case 'stopped':
      return `stopped with ${rounds > 1 ? compared(judged) : shown} compared${inRound}`;
    case 'failed':
      return problem ?? 'failed';
    case 'done':
      return `${compared(settings)} compared${rounds > 1 ? `, the last ${showCount(judged)} on all patients` : ''}`;
  }
}

/** What comes after all numbers of predictors are compared. */
const halvesText = ({ plan, judged, settings }: SearchLine): string =>
  plan.fewer && plan.fewer.halves > 0 && judged === settings ? ', now in half samples' : '';

const leftText = (left: number | null): string =>
  left === null ? '' : `, about ${durationText(1000 * Math.ceil(left / 1000))} left`;

/** "0.4 s", "12 s", "3 min", "2.5 h". */
export function durationText(milliseconds: number): string {
  const seconds = milliseconds / 1000;
  if (seconds < 9.95) return `${showDigits(seconds, seconds < 1 ? 1 : 2)} s`;
  if (seconds < 90) return `${Math.round(seconds)} s`;
  const minutes = seconds / 60;
  return minutes < 90 ? `${Math.round(minutes)} min` : `${showDigits(minutes / 60, 2)} h`;
}

const shareText = (share: number): string =>
  share === 1 ? 'all' : `1 in ${Math.round(1 / share)}`;

/** More names than these are said by those that are left out, where they are fewer. */
const mostNamed = 6;

/** The predictors of one of the sets, in the order of the table. */
export function namesText(
  { sets, predictors }: SelectionShown,
  number: number,
  labelOf: (name: string) => string,
): string {
  const own = sets?.[number] ?? [];
  const without = predictors.filter((name) => !own.includes(name));
  if (own.length <= Math.max(mostNamed, without.length)) return cut(own.map(labelOf));
  return without.length === 0 ? 'all of them' : `all but ${cut(without.map(labelOf))}`;
}

/** As many names as can be read in a cell. */
const mostListed = 12;

function cut(names: string[]): string {
  const more = names.length - mostListed;
  return more > 1 ? `${names.slice(0, mostListed).join(', ')} and ${more} more` : names.join(', ');
}

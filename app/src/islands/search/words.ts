import {
  familyDescriptions,
  type FamilyDescription,
  type SettingField,
  type Settings,
} from '@rook-scale/core/families';
import type { SearchMeasure } from '@rook-scale/core/search';
import type { SearchLine } from '../../contract/searches.ts';
import { plural, showCost, showCount } from '../../browser/format.ts';

export const familyOfSearch = ({ family }: Pick<SearchLine, 'family'>): FamilyDescription =>
  familyDescriptions.find(({ id }) => id === family)!;

/** A figure as its measure is read. */
export function showTried(
  { unit }: Pick<SearchMeasure, 'unit'>,
  value: number | undefined,
): string {
  if (value === undefined) return '–';
  if (unit === 'cost') return showCost(value);
  return unit === 'outcome' ? String(Number(value.toPrecision(4))) : value.toFixed(3);
}

export const labelOf = (fields: SettingField[], name: string): string =>
  fields.find((field) => field.name === name)?.label ?? name;

/** A value as it is said: the words of an option, yes or no. */
export function valueText(fields: SettingField[], name: string, value: Settings[string]): string {
  const field = fields.find((one) => one.name === name);
  if (field?.type === 'choice')
    return field.options.find((option) => option.value === value)?.label ?? String(value);
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  return typeof value === 'number' ? String(Number(value.toPrecision(5))) : String(value);
}

/** "trees 200, patients in a leaf 5". */
export const settingsText = (
  fields: SettingField[],
  varied: string[],
  values: Settings[string][],
): string =>
  varied
    .map((name, i) => {
      const label = labelOf(fields, name);
      return `${label.charAt(0).toLowerCase()}${label.slice(1)} ${valueText(fields, name, values[i])}`;
    })
    .join(', ');

/** How far a search is, in a few words. */
export function stateText(line: SearchLine): string {
  const { state, judged, settings, round, rounds, share, left, problem } = line;
  const shown = `${showCount(judged)} of ${plural(settings, 'combination')}`;
  const inRound =
    rounds > 1 ? ` in round ${round} of ${rounds}, on ${shareText(share)} of the patients` : '';
  switch (state) {
    case 'waiting':
      return 'waiting for a worker';
    case 'running':
      return `${rounds > 1 ? plural(judged, 'combination') : shown} compared${inRound}${leftText(left)}`;
    case 'stopped':
      return `stopped with ${rounds > 1 ? plural(judged, 'combination') : shown} compared${inRound}`;
    case 'failed':
      return problem ?? 'failed';
    case 'done':
      return `${plural(settings, 'combination')} compared${rounds > 1 ? `, the last ${showCount(judged)} on all patients` : ''}`;
  }
}

const leftText = (left: number | null): string =>
  left === null ? '' : `, about ${durationText(1000 * Math.ceil(left / 1000))} left`;

/** "0.4 s", "12 s", "3 min", "2.5 h". */
export function durationText(milliseconds: number): string {
  const seconds = milliseconds / 1000;
  if (seconds < 9.95) return `${Number(seconds.toPrecision(seconds < 1 ? 1 : 2))} s`;
  if (seconds < 90) return `${Math.round(seconds)} s`;
  const minutes = seconds / 60;
  return minutes < 90 ? `${Math.round(minutes)} min` : `${Number((minutes / 60).toPrecision(2))} h`;
}

const shareText = (share: number): string =>
  share === 1 ? 'all' : `1 in ${Math.round(1 / share)}`;

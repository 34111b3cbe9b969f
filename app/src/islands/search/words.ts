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

function leftText(left: number | null): string {
  if (left === null) return '';
  const seconds = Math.ceil(left / 1000);
  return seconds < 60
    ? `, about ${seconds} s left`
    : `, about ${Math.round(seconds / 60)} min left`;
}

const shareText = (share: number): string =>
  share === 1 ? 'all' : `1 in ${Math.round(1 / share)}`;

import { familyDescriptions, type SettingField, type Settings } from '@rook-scale/core/families';
import { roundDigits } from '../../browser/numbers.ts';

/** Settings that are said; more would not be read. */
const most = 3;

/** In what settings are not those that their family begins with, so that two of one family are told apart. */
export function differsText(family: string, settings: Settings): string {
  const fields = familyDescriptions.find(({ id }) => id === family)?.settings ?? [];
  const isAsked = ({ when }: SettingField) => !when || settings[when.setting] === when.value;
  const words = fields.flatMap((field) => {
    const value = settings[field.name];
    if (value === undefined || !isAsked(field)) return [];
    // A choice that asks for a number is said by that.
    const isSaid = fields.some(({ when }) => when?.setting === field.name && when.value === value);
    // A number that a choice asks for stands for it, even where it is the usual one.
    const asking = fields.find(({ name }) => name === field.when?.setting);
    const isUsual =
      isDefault(field, value) && (!asking || isDefault(asking, settings[asking.name]));
    const said = isSaid || isUsual ? undefined : wordsOf(field, value);
    return said === undefined ? [] : [said];
  });
  const shown = words.slice(0, most).join(', ');
  return words.length > most ? `${shown} and ${words.length - most} more` : shown;
}

const isDefault = (field: SettingField, value: Settings[string] | undefined): boolean =>
  'default' in field && field.default === value;

function wordsOf(field: SettingField, value: Settings[string]): string | undefined {
  if (field.type === 'formula') return undefined;
  const label = field.label.charAt(0).toLowerCase() + field.label.slice(1);
  if (field.type === 'columns')
    return Array.isArray(value) && value.length > 0 ? `${label} ${value.join(', ')}` : undefined;
  if (field.type === 'switch') return value === true ? label : `not ${label}`;
  if (field.type === 'choice')
    return field.options.find((option) => option.value === value)?.label ?? String(value);
  return `${label} ${typeof value === 'number' ? roundDigits(value, 4) : String(value)}`;
}

import type { SettingField, Settings } from '../families/index.ts';
import { finerValues } from './ranges.ts';
import { keyOf } from './plan.ts';

/**
 * Settings around one that was found good: for every number that was tried with several values, the value it has and
 * finer ones on both sides, in all combinations. None that was tried already.
 *
 * @param tried all settings of the search
 */
export function settingsCloser(
  fields: SettingField[],
  tried: Settings[],
  around: Settings,
): Settings[] {
  const known = new Set(tried.map(keyOf));
  let found: Settings[] = [around];
  for (const field of fields) {
    if (field.type !== 'number') continue;
    if (field.when && around[field.when.setting] !== field.when.value) continue;
    const values = [...new Set(tried.map((settings) => Number(settings[field.name])))];
    if (values.length < 2) continue;
    const finer = finerValues(
      field,
      values.sort((a, b) => a - b),
      Number(around[field.name]),
    );
    found = found.flatMap((settings) => [
      settings,
      ...finer.map((value) => ({ ...settings, [field.name]: value })),
    ]);
  }
  return found.filter((settings) => !known.has(keyOf(settings)));
}

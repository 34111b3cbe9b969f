import type { FamilyDescription, Settings } from '../families/index.ts';
import { keyOf } from './plan.ts';

/** Settings that one fit gives: the one that is fitted, and the values along its way of each. */
export interface FittedTogether {
  fitted: Settings;
  /** One for each of the settings; absent where there is one, fitted as it is. */
  along?: number[];
}

/** Places of settings that one fit gives all of, in the order of the first of each. */
export function groupsOf(description: FamilyDescription, tried: Settings[]): number[][] {
  const groups = new Map<string, number[]>();
  tried.forEach((settings, place) => {
    const key = keyOf(liesAlong(description, settings) ? without(description, settings) : settings);
    const group = groups.get(key);
    if (group) group.push(place);
    else groups.set(key, [place]);
  });
  return [...groups.values()];
}

/** @param group settings that differ in the one along the way alone */
export function fittedTogether(
  { along }: Pick<FamilyDescription, 'along'>,
  group: Settings[],
): FittedTogether {
  if (!along || group.length === 1) return { fitted: group[0] };
  const values = group.map((settings) => Number(settings[along.setting]));
  const chosen = along.fitted === 'greatest' ? Math.max(...values) : Math.min(...values);
  return { fitted: group[values.indexOf(chosen)], along: values };
}

/** Whether other values of the setting along the way come with a fit of these settings. */
function liesAlong({ along, settings: fields }: FamilyDescription, settings: Settings): boolean {
  if (!along) return false;
  const { when } = fields.find(({ name }) => name === along.setting)!;
  const under = { ...along.under, ...(when && { [when.setting]: when.value }) };
  return Object.entries(under).every(([name, value]) => settings[name] === value);
}

function without({ along }: FamilyDescription, settings: Settings): Settings {
  const { [along!.setting]: _, ...rest } = settings;
  return rest;
}

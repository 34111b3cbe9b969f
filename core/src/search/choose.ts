import type { SettingField, Settings } from '../families/index.ts';
import type { TriedFigure } from './judge.ts';
import type { SearchMeasure } from './measures.ts';

/** One of the settings tried; without figure where it was not fitted on all patients. */
export interface Tried {
  settings: Settings;
  figure?: TriedFigure;
}

export interface Choice {
  /** Place of the best; of equally good ones the simpler. */
  best: number;
  /** Place of the simplest whose figure is within one standard error of the best. */
  simplest: number;
  /** Places of all that are within it. */
  asGood: number[];
}

/**
 * The best of the settings tried, and the simplest within one standard error of it (Breiman, Friedman, Olshen & Stone
 * 1984, section 3.4.3). Undefined where none has a figure.
 */
export function chooseTried(
  tried: Tried[],
  { better }: Pick<SearchMeasure, 'better'>,
  fields: SettingField[],
): Choice | undefined {
  const sign = better === 'higher' ? 1 : -1;
  const places = tried.flatMap(({ figure }, place) => (figure ? [place] : []));
  if (places.length === 0) return undefined;
  const valueAt = (place: number) => sign * tried[place].figure!.value;
  const most = places.reduce((found, place) => Math.max(found, valueAt(place)), -Infinity);
  const sizes = complexities(tried, fields);
  const simpler = (a: number, b: number) => sizes[a] - sizes[b] || valueAt(b) - valueAt(a) || a - b;
  // Sums in another order differ in their last digits.
  const slack = 1e-12 * Math.max(1, Math.abs(most));
  const [best] = places.filter((place) => valueAt(place) >= most - slack).sort(simpler);
  const error = tried[best].figure!.error ?? 0;
  const asGood = places.filter((place) => valueAt(place) >= most - error - slack);
  return { best, simplest: asGood.toSorted(simpler)[0], asGood };
}

/**
 * How complex a model each of the settings makes, by itself only to be compared: every setting that says which
 * way is simpler adds from 0 to 1, by the place of its value among those that were tried.
 */
function complexities(tried: Tried[], fields: SettingField[]): number[] {
  const sums = tried.map(() => 0);
  for (const field of fields) {
    if (field.type !== 'number' || !field.simpler) continue;
    const known = tried.map(({ settings }) => Number(settings[field.name]));
    const values = [...new Set(known)].sort((a, b) => a - b);
    if (values.length < 2) continue;
    if (field.simpler === 'high') values.reverse();
    const place = new Map(values.map((value, i) => [value, i / (values.length - 1)]));
    known.forEach((value, i) => (sums[i] += place.get(value)!));
  }
  return sums;
}

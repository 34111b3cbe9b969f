import type { SettingField, Settings } from '@rook-scale/core/families';
import type { SearchMeasure } from '@rook-scale/core/search';
import type { SearchDetail, TrialShown } from '../../contract/searches.ts';

/** A side of a drawing: a setting that differs, and its values in their order. */
export interface Side {
  name: string;
  values: Settings[string][];
}

/** Settings that a drawing is laid out by; the others are as good as they can be at each place. */
export interface Sides {
  across: Side;
  down?: Side;
  panels?: Side;
}

/** Every setting that differs with its values: numbers ascending, options as the family lists them. */
export function sidesOf(fields: SettingField[], { varied, trials }: SearchDetail): Side[] {
  return varied.map((name, i) => {
    const values = [...new Set(trials.map((trial) => trial.values[i]))];
    const field = fields.find((one) => one.name === name);
    const place = (value: Settings[string]) =>
      field?.type === 'choice'
        ? field.options.findIndex((option) => option.value === value)
        : Number(value);
    return { name, values: values.sort((a, b) => place(a) - place(b)) };
  });
}

/** The best of the settings at each place of a drawing; nothing where none is judged there. */
export function placesOf(
  { varied, trials }: SearchDetail,
  { across, down, panels }: Sides,
  { better }: SearchMeasure,
): (trial: { across: number; down?: number; panel?: number }) => TrialShown | undefined {
  const used = [across, down, panels].filter((side) => side !== undefined);
  const at = used.map(({ name }) => varied.indexOf(name));
  const keyOf = (trial: TrialShown) =>
    used.map(({ values }, k) => values.indexOf(trial.values[at[k]])).join();
  const sign = better === 'higher' ? 1 : -1;
  const best = new Map<string, TrialShown>();
  for (const trial of trials) {
    if (trial.value === undefined) continue;
    const key = keyOf(trial);
    const before = best.get(key);
    // What was judged on more patients stands before what was left behind.
    const isBetter =
      !before ||
      trial.round > before.round ||
      (trial.round === before.round && sign * (trial.value - before.value!) > 0);
    if (isBetter) best.set(key, trial);
  }
  return ({ across: x, down: y, panel }) =>
    best.get([x, ...(down ? [y] : []), ...(panels ? [panel] : [])].join());
}

import * as z from 'zod';
import { randomStream } from '../numeric/index.ts';
import {
  settingsSchema,
  type FamilyDescription,
  type SettingField,
  type Settings,
} from '../families/index.ts';
import { fewerPlanSchema } from './fewer/plan.ts';
import { growingPlanSchema } from './growing/plan.ts';
import { SearchError } from './search-error.ts';

const settingValue = z.union([z.number(), z.string().max(500), z.boolean()]);

/** What a search tries, and how it is judged. */
export const searchPlanSchema = z.object({
  /** Values by setting, for those with more than one. */
  tried: z.record(z.string(), z.array(settingValue).min(1).max(500)),
  /** All other settings. */
  fixed: z.record(z.string(), z.union([settingValue, z.array(z.string().max(500)).max(1000)])),
  /** All combinations, so many of them drawn at random, or a race: see `raceShares`. */
  way: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('all') }),
    z.object({ kind: z.literal('drawn'), count: z.number().int().min(2).max(5000) }),
    z.object({ kind: z.literal('race') }),
  ]),
  /** Id of the measure that settings are compared by: see `searchMeasures`. */
  measure: z.string().max(60),
  /** Compares fewer predictors, with one value of each setting: see `fewerTried`. */
  fewer: fewerPlanSchema.optional(),
  /** Compares more and more patients learned from, in the same way: see `growingTried`. */
  growing: growingPlanSchema.optional(),
});
export type SearchPlan = z.infer<typeof searchPlanSchema>;

/** Combinations that one search fits at most, and of which it can draw. */
export const mostTried = 5000;
const mostCounted = 200_000;

/**
 * The settings that a plan tries, each different from the others: a setting that is not asked for under
 * another has its usual value, and combinations that differ in such alone are one.
 *
 * @param seed of what is drawn
 * @throws SearchError where there are none, only one, or too many
 */
export function settingsTried(fields: SettingField[], plan: SearchPlan, seed: number): Settings[] {
  const all = combinations(fields, plan);
  const { way } = plan;
  const chosen = way.kind === 'drawn' ? drawn(all, way.count, seed) : all;
  if (chosen.length < 2)
    throw new SearchError('There is one combination only: give a setting more than one value.');
  if (chosen.length > mostTried)
    throw new SearchError(
      `These are ${chosen.length.toLocaleString('en')} combinations; a search fits at most ${mostTried.toLocaleString('en')}. Draw some of them, or give fewer values.`,
    );
  return chosen;
}

/**
 * Settings under which error costs enter any of a plan's fits; undefined where they enter none.
 *
 * @see FamilyDescription.costsEnter
 */
export function costsEntering(
  { costsEnter = {}, settings: fields }: FamilyDescription,
  { tried, fixed }: Pick<SearchPlan, 'tried' | 'fixed'>,
): Settings | undefined {
  const usual = (name: string) => {
    const field = fields.find((one) => one.name === name);
    return field && 'default' in field ? field.default : undefined;
  };
  const entering = Object.entries(costsEnter).find(([name, value]) =>
    (tried[name] ?? [fixed[name] ?? usual(name)]).includes(value as never),
  );
  return entering && { [entering[0]]: entering[1] };
}

/** The same settings under the same key. */
export const keyOf = (settings: Settings): string =>
  JSON.stringify(Object.entries(settings).sort(([a], [b]) => (a < b ? -1 : 1)));

function combinations(fields: SettingField[], { tried, fixed }: SearchPlan): Settings[] {
  const names = fields.map(({ name }) => name).filter((name) => tried[name] !== undefined);
  const unknown = Object.keys(tried).filter((name) => !names.includes(name));
  if (unknown.length > 0)
    throw new SearchError(`There is no setting ${unknown.map((name) => `“${name}”`).join(', ')}.`);
  const size = names.reduce((product, name) => product * tried[name].length, 1);
  if (size > mostCounted)
    throw new SearchError(
      `These are more than ${mostCounted.toLocaleString('en')} combinations. Give fewer values.`,
    );
  const schema = settingsSchema(fields);
  const found = new Map<string, Settings>();
  for (let at = 0; at < size; at++) {
    const settings: Settings = { ...fixed };
    let rest = at;
    for (const name of names.toReversed()) {
      const values = tried[name];
      settings[name] = values[rest % values.length];
      rest = Math.floor(rest / values.length);
    }
    const isAsked = (name: string) => {
      const when = fields.find((field) => field.name === name)?.when;
      return !when || settings[when.setting] === when.value;
    };
    const asked = Object.entries(settings).filter(([name]) => isAsked(name));
    const whole: Settings = schema.parse(Object.fromEntries(asked));
    const key = keyOf(whole);
    if (!found.has(key)) found.set(key, whole);
  }
  return [...found.values()];
}

/** So many of them, in their order. */
function drawn(all: Settings[], count: number, seed: number): Settings[] {
  if (all.length <= count) return all;
  const draw = randomStream(seed, 'settings drawn');
  const places = all.map((_, place) => place);
  for (let i = 0; i < count; i++) {
    const other = i + Math.floor(draw.uniform() * (places.length - i));
    [places[i], places[other]] = [places[other], places[i]];
  }
  return places
    .slice(0, count)
    .sort((a, b) => a - b)
    .map((place) => all[place]);
}

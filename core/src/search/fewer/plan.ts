import * as z from 'zod';
import type { SettingField, Settings } from '../../families/index.ts';
import { SearchError } from '../search-error.ts';

/** Half samples that tell how steady a selection is: as many as are usual (common practice). */
export const usualHalves = 50;

/** How predictors are selected, anew in each part. */
export const fewerPlanSchema = z.object({
  way: z.enum(['backward', 'left out', 'forward', 'path', 'sets']),
  /** Predictors that stay in any case. */
  pinned: z.array(z.string().max(500)).max(1000).default([]),
  /** Forward: predictors that are taken in at most. */
  most: z.number().int().min(1).max(200).optional(),
  /** Sets of the analyst's own, by name. */
  sets: z
    .array(
      z.object({
        name: z.string().trim().min(1).max(60),
        predictors: z.array(z.string().max(500)).min(1).max(2000),
      }),
    )
    .max(100)
    .default([]),
  /** Half samples in which the selection is made too. */
  halves: z.number().int().min(0).max(200).default(usualHalves),
});
export type FewerPlan = z.infer<typeof fewerPlanSchema>;
export type FewerWay = FewerPlan['way'];

/** The ways of selecting, in the interface's order. */
export const fewerWays: { way: FewerWay; name: string; about: string }[] = [
  {
    way: 'backward',
    name: 'backward, by what is lost where values are mixed up',
    about:
      'Begins with all. The predictor goes whose values, dealt anew among patients not learned from, worsen their predictions least; the rest is fitted and ranked anew.',
  },
  {
    way: 'left out',
    name: 'backward, by leaving each out',
    about:
      'Begins with all. Each is left out in turn, and that one goes without which patients not learned from are predicted best. More fits, and surer where predictors say the same.',
  },
  {
    way: 'forward',
    name: 'forward, one at a time',
    about:
      'Begins with none, or the pinned ones. Each is tried in turn, and that one comes in with which patients not learned from are predicted best.',
  },
  {
    way: 'path',
    name: 'in the order of a penalty path',
    about:
      'By the strength of the lasso’s penalty at which each first counts. One fit ranks them all; what is linear is seen.',
  },
  {
    way: 'sets',
    name: 'sets of your own',
    about: 'Nothing is selected: each set is fitted as it is.',
  },
];

/** Above so many predictors several go at a time. */
const singly = 20;
/** One in so many of them. */
const oneIn = 5;
/** Forward: that are taken in at most, unless it is said. */
const usualMost = 10;

/**
 * The numbers of predictors, or the sets, that a plan compares, as they are kept: the most first.
 *
 * @throws SearchError where there is nothing to compare
 */
export function fewerTried(plan: FewerPlan, predictors: string[]): Settings[] {
  if (plan.way === 'sets') return setsTried(plan, predictors);
  const unknown = plan.pinned.find((name) => !predictors.includes(name));
  if (unknown !== undefined) throw new SearchError(`“${unknown}” is not among the predictors.`);
  const sizes = sizesOf(plan, predictors.length);
  if (sizes.length < 2)
    throw new SearchError('There is nothing to select: fewer predictors than these there are not.');
  return sizes.map((size) => ({ predictors: size }));
}

function setsTried({ sets }: FewerPlan, predictors: string[]): Settings[] {
  if (sets.length < 2) throw new SearchError('Give two sets at least, to compare them.');
  if (new Set(sets.map(({ name }) => name)).size < sets.length)
    throw new SearchError('Two sets have the same name.');
  return sets.map(({ name, predictors: own }) => {
    const unknown = own.find((one) => !predictors.includes(one));
    if (unknown !== undefined)
      throw new SearchError(`“${unknown}” of the set “${name}” is not among the predictors.`);
    return { set: name, predictors: new Set(own).size };
  });
}

function sizesOf({ way, pinned, most }: FewerPlan, all: number): number[] {
  const least = Math.max(1, pinned.length);
  if (way === 'forward') {
    // What all of them come to stands beside.
    const upTo = Math.min(all - 1, Math.max(least, most ?? usualMost));
    return [all, ...Array.from({ length: Math.max(0, upTo - least + 1) }, (_, i) => upTo - i)];
  }
  const sizes = [all];
  for (let now = all; now > least;) {
    now = now > singly ? Math.max(singly, now - Math.ceil(now / oneIn)) : now - 1;
    sizes.push(Math.max(least, now));
  }
  return sizes;
}

/**
 * Predictors of each that is compared, in the order of the table.
 *
 * @param ranked those that are not pinned, the one that stays longest first; needed for all but sets
 */
export function setsOf(plan: FewerPlan, predictors: string[], ranked: string[] = []): string[][] {
  const inOrder = (names: Set<string>) => predictors.filter((name) => names.has(name));
  if (plan.way === 'sets') return plan.sets.map((one) => inOrder(new Set(one.predictors)));
  return fewerTried(plan, predictors).map(({ predictors: size }) =>
    size === predictors.length
      ? predictors
      : inOrder(new Set([...plan.pinned, ...ranked.slice(0, Number(size) - plan.pinned.length)])),
  );
}

/** What is compared as if it were settings: fewer predictors are simpler. */
export const fewerFields: SettingField[] = [
  {
    name: 'predictors',
    label: 'Number of predictors',
    help: 'How many predictors the model has.',
    type: 'number',
    least: 1,
    most: 2000,
    step: 1,
    whole: true,
    default: 1,
    simpler: 'low',
  },
  {
    name: 'set',
    label: 'Set',
    help: 'Predictors under a name.',
    type: 'choice',
    options: [],
    default: '',
  },
];

/** Inner folds in which predictors are ranked. */
export const innerFolds = 3;

/** Fits that one part takes: a fold, all patients, a half sample. */
export function fewerFits(
  plan: FewerPlan,
  predictors: number,
): { fold: number; all: number; half: number } {
  if (plan.way === 'sets') return { fold: plan.sets.length, all: 0, half: 0 };
  const sizes = sizesOf(plan, predictors);
  const ranking = rankingFits(plan, predictors, sizes);
  const inner = plan.way === 'path' ? 1 : innerFolds;
  return { fold: sizes.length + inner * ranking, all: inner * ranking, half: ranking };
}

function rankingFits({ way, pinned }: FewerPlan, all: number, sizes: number[]): number {
  if (way === 'path') return 1;
  if (way === 'backward') return sizes.length - 1;
  const tried =
    way === 'forward'
      ? sizes.slice(1).map((size) => (size > pinned.length ? all - size + 1 : 0))
      : sizes.slice(0, -1).map((size) => size - pinned.length);
  return tried.reduce((sum, one) => sum + one, 0);
}

import { availableParallelism } from 'node:os';
import { designFor, type Basis } from '@rook-scale/core/design';
import { choosePredictors } from '@rook-scale/core/preparation';
import {
  fewerFits,
  groupsOf,
  raceShares,
  type FewerPlan,
  type SearchPlan,
} from '@rook-scale/core/search';
import { planParts } from '@rook-scale/core/tuning';
import type { HowLong } from '../../contract/searches.ts';
import { checkBasis, knownFamily, readyDesign, refuseKind } from '../candidates/index.ts';
import { loadDevelopment } from '../development.ts';
import { onThread } from '../threads/index.ts';
import { judgedByInForce } from './judged-by.ts';
import { learnedIn, triedSettings } from './plan.ts';
import { recipeOf } from './recipe.ts';

/** About how long a search would take here, by one of its fits that is tried. Nothing is kept. */
export async function howLong(
  studyId: string,
  family: string,
  plan: SearchPlan,
  basis: Basis = {},
): Promise<HowLong> {
  const { description } = knownFamily(family);
  const design = await readyDesign(studyId);
  refuseKind([family], design.choices);
  checkBasis(basis, design.choices);
  const made = designFor(design.choices, basis);
  const tried = triedSettings(description, plan, made, learnedIn(design));
  const { fewer, growing } = plan;
  const groups = (fewer ?? growing) ? [] : groupsOf(description, tried);
  const ground = await loadDevelopment({
    designId: design.id,
    family,
    settings: plan.fixed,
    basis,
  });
  const { table, names, outcome, developmentRows } = ground;
  const parts = planParts(developmentRows, ground.folds, new Int32Array(0));
  const { by } = await judgedByInForce(studyId, ground);
  const one = await onThread('time a fit', {
    part: parts[0],
    predictors: choosePredictors(table, names),
    outcome,
    recipe: recipeOf(ground, family, plan),
    by,
    group:
      (fewer ?? growing) ? [plan.fixed] : groups[groups.length >> 1].map((place) => tried[place]),
    isPreparedToo: (fewer ?? growing) !== undefined,
  });
  const folds = parts.length - 1;
  if (fewer) return { one, ...ofFewer(fewer, made.predictors.length, folds, one) };
  // Most of the numbers of patients are small.
  const fits = growing ? (tried.length * folds) / 2 : groups.length * folds;
  const { patients, events } = design.counts!.development;
  const shares =
    plan.way.kind === 'race'
      ? raceShares(tried.length, patients, Math.min(events, patients - events))
      : [1];
  const work = shares.reduce((sum, share, round) => sum + share / 3 ** round, 0);
  const cores = Math.min(fits, availableParallelism());
  return { one, all: (one * fits * work) / cores, cores };
}

/** Fits of fewer predictors are about half as long as those of all; where values are mixed up, that takes as long. */
const lengthOf = ({ way }: FewerPlan): number => (way === 'backward' ? 1 : 0.5);

function ofFewer(
  fewer: FewerPlan,
  predictors: number,
  folds: number,
  one: number,
): Pick<HowLong, 'all' | 'cores'> {
  const { fold, all, half } = fewerFits(fewer, predictors);
  const fits = fold * folds + all + (half * fewer.halves) / 2;
  const cores = Math.min(folds, availableParallelism());
  return { all: (one * fits * lengthOf(fewer)) / cores, cores };
}

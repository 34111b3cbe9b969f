import { additiveModel } from './additive/index.ts';
import { blendFamily } from './blend/index.ts';
import { boostedTrees } from './boosted-trees/boosted-trees.ts';
import { decisionTree } from './decision-tree/decision-tree.ts';
import { discriminantsFamily } from './discriminants/index.ts';
import type { Family } from './family.ts';
import { linearRegression } from './linear/linear-regression.ts';
import { logisticRegression } from './logistic/index.ts';
import { multinomialRegression } from './multinomial/multinomial-regression.ts';
import { naiveBayesFamily } from './naive-bayes/index.ts';
import { nearestPatientsFamily } from './nearest-patients/index.ts';
import { neuralNetworkFamily } from './neural-network/index.ts';
import { penalisedRegression } from './penalised/index.ts';
import { proportionalOddsRegression } from './proportional-odds/proportional-odds.ts';
import { randomForest } from './random-forest/random-forest.ts';
import { recalibratedFamily } from './recalibrated/index.ts';
import { reference } from './reference/index.ts';
import { supportVectorsFamily } from './support-vectors/index.ts';
import { todaysRule } from './todays-rule/todays-rule.ts';

/** What every family computes. */
export const families: Family[] = [
  reference,
  logisticRegression,
  multinomialRegression,
  proportionalOddsRegression,
  linearRegression,
  penalisedRegression,
  additiveModel,
  decisionTree,
  randomForest,
  boostedTrees,
  nearestPatientsFamily,
  naiveBayesFamily,
  discriminantsFamily,
  supportVectorsFamily,
  neuralNetworkFamily,
  // It asks for the families of its parts, which are this very list.
  blendFamily((id) => familyOf(id)),
  recalibratedFamily((id) => familyOf(id)),
  todaysRule,
];

/** The family of this id; throws when there is none. */
export function familyOf(id: string): Family {
  const family = families.find(({ description }) => description.id === id);
  if (!family) throw new Error(`There is no model family "${id}".`);
  return family;
}

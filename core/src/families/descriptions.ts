import { additive } from './additive/description.ts';
import { blend } from './blend/description.ts';
import { boostedTrees } from './boosted-trees/description.ts';
import { decisionTree } from './decision-tree/description.ts';
import { discriminants } from './discriminants/description.ts';
import type { FamilyDescription } from './family.ts';
import { linear } from './linear/description.ts';
import { logistic } from './logistic/description.ts';
import { multinomial } from './multinomial/description.ts';
import { naiveBayes } from './naive-bayes/description.ts';
import { nearestPatients } from './nearest-patients/description.ts';
import { neuralNetwork } from './neural-network/description.ts';
import { penalised } from './penalised/description.ts';
import { proportionalOdds } from './proportional-odds/description.ts';
import { randomForest } from './random-forest/description.ts';
import { recalibrated } from './recalibrated/description.ts';
import { reference } from './reference/description.ts';
import { supportVectors } from './support-vectors/description.ts';
import { todaysRule } from './todays-rule/description.ts';

/** Every model family, in the order the interface offers them. A new family is added here and to the engines. */
export const familyDescriptions: FamilyDescription[] = [
  reference,
  logistic,
  multinomial,
  proportionalOdds,
  linear,
  penalised,
  additive,
  decisionTree,
  randomForest,
  boostedTrees,
  nearestPatients,
  naiveBayes,
  discriminants,
  supportVectors,
  neuralNetwork,
  blend,
  recalibrated,
  todaysRule,
];

/** Whether a candidate of this family is a rule that learned nothing. */
export const isRule = (family: string): boolean =>
  familyDescriptions.some(({ id, fixed }) => id === family && fixed === true);

/** Whether a candidate of this family learns something from predictors, by itself or through others. */
export const learnsFromPredictors = (family: string): boolean =>
  familyDescriptions.some(({ id, blind, fixed }) => id === family && !blind && !fixed);

/** Whether a candidate of this family learns by itself, so that others can be made of it. */
export const canBePart = (family: string): boolean =>
  learnsFromPredictors(family) &&
  familyDescriptions.some(({ id, composed }) => id === family && !composed);

/** A setting with options, as a form offers it. */
export function choiceOffered(family: string, setting: string) {
  const field = familyDescriptions
    .find(({ id }) => id === family)
    ?.settings.find(({ name }) => name === setting);
  if (field?.type !== 'choice') throw new Error(`${family} has no choice of ${setting}.`);
  return field;
}

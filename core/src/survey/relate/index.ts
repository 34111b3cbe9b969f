export { outcomeOf, type Outcome } from './outcome.ts';
export { adjust, relate, relateAll, type Estimate, type Relation } from './relation.ts';
export { informationShare } from './information.ts';
export { shareDifference } from './share-difference.ts';
export { holm } from './holm.ts';

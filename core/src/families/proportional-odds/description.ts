import type { FamilyDescription } from '../family.ts';
import { iterationsField } from '../shared/index.ts';

export const proportionalOdds: FamilyDescription = {
  id: 'proportional-odds',
  name: 'Proportional odds',
  about:
    'Weighs each predictor once for all steps of an ordered outcome, and tests whether once is enough.',
  outcomes: ['levels'],
  orderedOnly: true,
  settings: [iterationsField],
};

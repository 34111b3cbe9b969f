import type { FamilyDescription } from '../family.ts';
import { iterationsField } from '../shared/index.ts';

export const multinomial: FamilyDescription = {
  id: 'multinomial',
  name: 'Multinomial logistic regression',
  about:
    'Weighs each predictor once for every level against the reference level; levels need no order.',
  outcomes: ['levels'],
  settings: [iterationsField],
};

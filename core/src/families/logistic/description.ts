import type { FamilyDescription } from '../family.ts';
import { iterationsField } from '../shared/index.ts';

export const logistic: FamilyDescription = {
  id: 'logistic',
  name: 'Logistic regression',
  about:
    'Weighs each predictor once and adds the weights up; coefficients can be read and checked.',
  outcomes: ['event'],
  settings: [iterationsField],
};

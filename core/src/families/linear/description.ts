import type { FamilyDescription } from '../family.ts';

export const linear: FamilyDescription = {
  id: 'linear',
  name: 'Linear regression',
  about:
    'Adds up what each predictor contributes to the number; coefficients are in its unit and can be checked.',
  outcomes: ['number'],
  settings: [],
};

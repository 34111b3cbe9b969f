import type { FamilyDescription } from '../family.ts';
import { iterationsField } from '../shared/index.ts';

export const logistic: FamilyDescription = {
  id: 'logistic',
  name: 'Logistic regression',
  about:
    'Weighs each predictor once and adds the weights up; coefficients can be read and checked.',
  outcomes: ['event'],
  settings: [
    {
      name: 'estimates',
      label: 'Coefficients',
      type: 'choice',
      options: [
        { value: 'likeliest', label: 'The likeliest' },
        { value: 'reduced', label: 'Bias-reduced (Firth)' },
        {
          value: 'reduced, true share',
          label: 'Bias-reduced, risks brought to the share of cases',
        },
      ],
      default: 'likeliest',
      help: 'With few cases the likeliest coefficients are too large, and have no end where the outcome is separated; bias-reduced ones are smaller and always finite. Without the last, their risks lie a little too near to one half.',
    },
    iterationsField,
  ],
};

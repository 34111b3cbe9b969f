import type { FamilyDescription } from '../family.ts';
import { directionFields } from '../shared/index.ts';

export const additive: FamilyDescription = {
  id: 'additive',
  name: 'Additive model',
  about:
    'Adds up a smooth curve for each number and a step for each level; as easily read as a regression where effects are bent.',
  outcomes: ['event', 'number'],
  settings: [
    {
      name: 'smoothness',
      label: 'Smoothness',
      help: 'How strongly curves are drawn towards straight lines is found from the patients themselves.',
      type: 'choice',
      options: [
        { value: 'likelihood', label: 'by restricted likelihood' },
        { value: 'validation', label: 'by generalised cross-validation' },
      ],
      default: 'likelihood',
    },
    {
      name: 'knots',
      label: 'Knots of a curve',
      help: 'Where its pieces meet, at quantiles of the patients; more than it needs do no harm, as each curve is drawn towards a straight line.',
      type: 'number',
      least: 4,
      most: 40,
      step: 1,
      whole: true,
      default: 10,
      simpler: 'low',
      further: true,
    },
    {
      name: 'straight',
      label: 'Straight lines for',
      help: 'These numbers get a straight line instead of a curve.',
      type: 'columns',
      further: true,
    },
    ...directionFields,
  ],
};

import type { FamilyDescription } from '../family.ts';
import { priorFields } from '../shared/index.ts';

export const naiveBayes: FamilyDescription = {
  id: 'naive-bayes',
  name: 'Naive Bayes',
  about:
    'Multiplies what each predictor says by itself, as if none knew of the others; quick, sparing with patients, and too sure of itself where predictors go together.',
  outcomes: ['event', 'levels'],
  takesGaps: true,
  settings: [
    {
      name: 'numbers',
      label: 'Numbers',
      help: 'How a number is spread in each level: as a normal curve, or as a sum of small curves, one over each patient.',
      type: 'choice',
      options: [
        { value: 'normal', label: 'a normal curve' },
        { value: 'kernel', label: 'small curves over patients' },
      ],
      default: 'normal',
    },
    {
      name: 'added',
      label: 'Patients added to each level of a predictor',
      help: 'So that a level that no case has had yet does not make a risk of 0.',
      type: 'number',
      least: 0.01,
      most: 100,
      step: 0.01,
      whole: false,
      default: 1,
      simpler: 'high',
    },
    ...priorFields,
  ],
};

import type { FamilyDescription } from '../family.ts';

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
    },
    {
      name: 'prior',
      label: 'Before anything is known',
      help: 'The risk, or the shares of levels, that a patient begins from.',
      type: 'choice',
      options: [
        { value: 'patients', label: 'as among the patients' },
        { value: 'equal', label: 'all levels alike' },
        { value: 'given', label: 'a share of cases of my own' },
      ],
      default: 'patients',
    },
    {
      name: 'share',
      label: 'Share of cases, %',
      help: 'For a yes/no outcome; with several levels patients begin as among the patients.',
      when: { setting: 'prior', value: 'given' },
      type: 'number',
      least: 0.01,
      most: 99.99,
      step: 0.01,
      whole: false,
      default: 10,
    },
  ],
};

import type { FamilyDescription } from '../family.ts';

export const nearestPatients: FamilyDescription = {
  id: 'nearest-patients',
  name: 'Nearest patients',
  about:
    'Says of a patient what happened to the most similar ones; it assumes no shape, keeps the patients it learned from, and is led astray by predictors that say nothing.',
  outcomes: ['event', 'levels', 'number'],
  takesGaps: true,
  along: 'neighbours',
  settings: [
    {
      name: 'neighboursBy',
      label: 'How many are asked',
      help: 'Few follow every turn and every chance; many say what all have.',
      type: 'choice',
      options: [
        { value: 'root', label: 'the root of the number of patients' },
        { value: 'best', label: 'as many as do best in inner folds' },
        { value: 'given', label: 'a number of my own' },
      ],
      default: 'root',
    },
    {
      name: 'neighbours',
      label: 'Patients asked',
      help: 'How many of the most similar patients are asked.',
      when: { setting: 'neighboursBy', value: 'given' },
      type: 'number',
      least: 1,
      most: 5000,
      step: 1,
      whole: true,
      default: 15,
    },
    {
      name: 'distance',
      label: 'How alike',
      help: 'How differences in the predictors add up: numbers in SDs, or in shares of their range; different levels count as much as two patients usually differ.',
      type: 'choice',
      options: [
        { value: 'euclidean', label: 'squares of differences (Euclidean)' },
        { value: 'manhattan', label: 'differences (Manhattan)' },
        { value: 'gower', label: 'shares of ranges, and levels alike or not (Gower)' },
      ],
      default: 'euclidean',
    },
    {
      name: 'votes',
      label: 'Who counts how much',
      help: 'Whether those who are more alike say more.',
      type: 'choice',
      options: [
        { value: 'plain', label: 'all who are asked alike' },
        { value: 'distance', label: 'by one over the distance' },
        { value: 'kernel', label: 'less and less up to the next one not asked' },
      ],
      default: 'plain',
    },
    {
      name: 'added',
      label: 'Patients of the usual mix added',
      help: 'So that a few neighbours without a case do not make a risk of 0. Not for a number.',
      type: 'number',
      least: 0,
      most: 100,
      step: 0.5,
      whole: false,
      default: 1,
      further: true,
    },
  ],
};

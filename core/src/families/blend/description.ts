import type { FamilyDescription } from '../family.ts';

export const blend: FamilyDescription = {
  id: 'blend',
  name: 'Blend',
  about:
    'Several candidates as one: the average of what they say, or with weights that are learned from patients they did not learn from.',
  outcomes: ['event', 'levels', 'number'],
  settings: [
    {
      name: 'weights',
      label: 'Weights',
      help: 'Learned: none is below zero, together they are 1, and the squared error is the least it can be in patients whom the parts did not learn from. Folds are left out once more inside of each fold, so that it takes as many times longer as there are folds.',
      type: 'choice',
      options: [
        { value: 'learned', label: 'learned out of fold' },
        { value: 'equal', label: 'the same for all' },
      ],
      default: 'learned',
    },
  ],
  takesGaps: true,
  composed: 'of several',
};

/** Parts that a blend has at most: its weights are sought among all sets of them. */
export const mostParts = 8;

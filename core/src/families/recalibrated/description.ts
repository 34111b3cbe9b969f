import type { FamilyDescription } from '../family.ts';

export const recalibrated: FamilyDescription = {
  id: 'recalibrated',
  name: 'Recalibrated',
  about:
    'A candidate whose risks are moved to where they come true: learned from development patients whom it did not learn from, never from those held out.',
  outcomes: ['event'],
  settings: [
    {
      name: 'how',
      label: 'Risks are moved by',
      help: 'An intercept raises or lowers all; a slope besides makes them less extreme, or more. Both keep the order of patients. An isotonic map takes any rising shape, which needs many cases, and tells neighbours the same risk.',
      type: 'choice',
      options: [
        { value: 'intercept', label: 'an intercept' },
        { value: 'line', label: 'intercept and slope' },
        { value: 'isotonic', label: 'an isotonic map' },
      ],
      default: 'line',
    },
  ],
  takesGaps: true,
  composed: 'of one',
};

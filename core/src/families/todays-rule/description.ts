import type { FamilyDescription } from '../family.ts';

export const todaysRule: FamilyDescription = {
  id: 'todays-rule',
  name: 'Today’s rule',
  about:
    'What is done now, to set models against: a column or a formula gives the call, the risk, the level or the number. Nothing is learned.',
  outcomes: ['event', 'levels', 'number'],
  settings: [
    {
      name: 'formula',
      label: 'Column or formula',
      help: 'A condition calls in whom it holds for; a number from 0 to 1 is a risk. Several levels: it gives the level. A number: it gives the number.',
      type: 'formula',
    },
  ],
  asTheyAre: true,
  fixed: true,
};

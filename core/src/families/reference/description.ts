import type { FamilyDescription } from '../family.ts';

export const reference: FamilyDescription = {
  id: 'reference',
  name: 'Reference',
  about: 'Gives every patient what the development patients have on the whole.',
  outcomes: ['event', 'levels', 'number'],
  settings: [],
  blind: true,
};

import type { FamilyDescription } from '../family.ts';
import { priorFields } from '../shared/index.ts';

export const discriminants: FamilyDescription = {
  id: 'discriminants',
  name: 'Discriminants',
  about:
    'Takes each level of the outcome for a cloud of patients around its mean, and asks in which cloud a patient would lie.',
  outcomes: ['event', 'levels'],
  settings: [
    {
      name: 'shape',
      label: 'Clouds',
      help: 'Of one shape, borders between levels are straight; of a shape each, they bend, and every level needs many patients.',
      type: 'choice',
      options: [
        { value: 'linear', label: 'of one shape for all levels (linear)' },
        { value: 'quadratic', label: 'of a shape for each level (quadratic)' },
      ],
      default: 'linear',
    },
    {
      name: 'pooled',
      label: 'Share of the common shape',
      help: 'How far the shape of each level is drawn towards the one of all levels; 1 is linear.',
      when: { setting: 'shape', value: 'quadratic' },
      type: 'number',
      least: 0,
      most: 1,
      step: 0.05,
      whole: false,
      default: 0.2,
      simpler: 'high',
    },
    {
      name: 'round',
      label: 'Share of a round cloud',
      help: 'How far shapes are drawn towards one in which inputs do not go together and all vary alike: it steadies the fit where inputs are many.',
      type: 'number',
      least: 0,
      most: 1,
      step: 0.05,
      whole: false,
      default: 0,
      simpler: 'high',
    },
    ...priorFields,
  ],
};

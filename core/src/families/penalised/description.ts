import type { FamilyDescription } from '../family.ts';
import { directionFields } from '../shared/index.ts';

export const penalised: FamilyDescription = {
  id: 'penalised',
  name: 'Penalised regression',
  about:
    'Adds predictors up with coefficients that are drawn towards none, so that many predictors and few patients do not lead it astray; it can leave predictors out.',
  outcomes: ['event', 'levels', 'number'],
  along: { setting: 'strength', fitted: 'least' },
  settings: [
    {
      name: 'mix',
      label: 'Share of lasso',
      help: '1 (lasso) leaves predictors out; 0 (ridge) keeps all and makes them small; in between, those that go together come in together.',
      type: 'number',
      least: 0,
      most: 1,
      step: 0.05,
      whole: false,
      default: 1,
      simpler: 'high',
    },
    {
      name: 'strengthBy',
      label: 'Strength',
      help: 'How strongly coefficients are drawn towards none, by the loss in ten inner folds.',
      type: 'choice',
      options: [
        { value: 'best', label: 'the best' },
        { value: 'simplest', label: 'the strongest within one standard error of the best' },
        { value: 'given', label: 'a strength of my own' },
      ],
      default: 'best',
    },
    {
      name: 'strength',
      label: 'This strength',
      help: 'What a coefficient of 1 per SD costs, in the mean loss of a patient; a fitted candidate shows the path along which it can be picked.',
      when: { setting: 'strengthBy', value: 'given' },
      type: 'number',
      least: 1e-6,
      most: 1e9,
      step: 0.001,
      whole: false,
      default: 0.01,
      simpler: 'high',
    },
    {
      name: 'together',
      label: 'Levels of a predictor in or out together',
      help: 'All indicators of a predictor come in, or stay out, as one.',
      type: 'switch',
      default: false,
      further: true,
    },
    ...directionFields,
  ],
};

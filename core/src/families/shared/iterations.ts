import type { SettingField } from '../settings.ts';

/** How many steps a fit by maximum likelihood may take. */
export const iterationsField: SettingField = {
  name: 'iterations',
  label: 'Iterations at most',
  help: 'The fit usually settles in 5 to 8 steps; more are needed only when outcomes are nearly separated.',
  type: 'number',
  least: 5,
  most: 200,
  step: 1,
  whole: true,
  default: 50,
};

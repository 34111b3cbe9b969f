import type { SettingField } from '../settings.ts';

/** Whether patients count by what an error in them costs. */
export const costsInSplitsField: SettingField = {
  name: 'costsInSplits',
  label: 'Costs count in the splits',
  help: 'Patients count by what an error in them costs while trees grow; the risks stay those of the patients as they are.',
  further: true,
  type: 'switch',
  default: false,
};

/** By how much the shares of leaves are drawn to that of all. */
export const drawnField: SettingField = {
  name: 'drawn',
  label: 'Shares drawn to that of all by (patients)',
  help: 'As if so many more patients of the usual mix were in each leaf, so that none says 0% or 100%.',
  further: true,
  type: 'number',
  least: 0,
  most: 1000,
  step: 0.5,
  whole: false,
  default: 1,
};

import { ofKind, type Outcome, type Predictions } from '../../outcome/index.ts';
import type { SettingField, Settings } from '../settings.ts';
import { countCodes } from './likelihood.ts';
import { softmax } from './softmax.ts';
import type { Learners } from './spreads/index.ts';

/** What families ask for that weigh each level by how likely it is before anything is known. */
export const priorFields: SettingField[] = [
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
];

/** Patients as codes of levels; of yes and no, 0 and 1. */
export function learnersOf(outcome: Outcome, weights?: Float64Array): Learners {
  if (outcome.kind === 'levels')
    return { codes: outcome.values, levels: outcome.levels.length, ...(weights && { weights }) };
  return { codes: ofKind(outcome, 'event').values, levels: 2, ...(weights && { weights }) };
}

/** Shares of levels that a patient begins from. */
export function priorsOf(
  outcome: Outcome,
  { prior, share }: Settings,
  { codes, levels, weights }: Learners,
): number[] {
  if (prior === 'equal') return Array<number>(levels).fill(1 / levels);
  if (prior === 'given' && outcome.kind === 'event')
    return [1 - Number(share) / 100, Number(share) / 100];
  const counts = countCodes(codes, levels, weights);
  const total = counts.reduce((sum, one) => sum + one, 0);
  return Array.from(counts, (count) => count / total);
}

/**
 * What follows from how likely a patient is in each level.
 *
 * @param logs patients × levels, row-major, up to a constant of each patient; overwritten
 */
export function sharesFromLogs(
  kind: 'event' | 'levels',
  levels: string[],
  logs: Float64Array,
): Predictions {
  const width = levels.length;
  if (kind === 'event') {
    const risks = new Float64Array(logs.length / 2);
    for (let row = 0; row < risks.length; row++)
      risks[row] = 1 / (1 + Math.exp(logs[2 * row] - logs[2 * row + 1]));
    return { kind, risks };
  }
  return { kind, levels, shares: softmax(logs, width) };
}

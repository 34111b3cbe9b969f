import type { Design } from '@rook-scale/core/design';
import type { CandidateLine } from '../../contract/candidates.ts';
import type { MarginNote } from '../margin/index.ts';
import type { Patients } from './RiskScale.tsx';

/** Whether a column says what each patient's own errors cost. */
export const hasOwnCosts = ({ ownCosts }: Pick<Design, 'ownCosts'>): boolean =>
  ownCosts.missed !== '' || ownCosts.falseAlarm !== '';

/** Says where the costs of all are counted though patients have costs of their own. */
export function commonCostsNote(
  design: Pick<Design, 'ownCosts'>,
  { ranked }: Patients,
  line: Pick<CandidateLine, 'id' | 'name'>,
): MarginNote[] {
  if (!hasOwnCosts(design) || ranked.own) return [];
  return [
    {
      id: `common costs · ${line.id}`,
      standing: true,
      title: 'Costs are those of all patients here',
      text: `${line.name} was fitted on patients as they were before, so each patient’s own costs are not known of them. Fit it again to count those.`,
    },
  ];
}

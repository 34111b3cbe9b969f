import { nobodyOf, rankRisks } from '@rook-scale/core/measures';
import type { Model } from '@rook-scale/core/model';
import type { Predictions } from '../../contract/candidates.ts';
import { unpackBytes, unpackNumbers } from '../../browser/api.ts';
import type { Patients } from './RiskScale.tsx';
import { scaleFor } from './score-scale.ts';

/** Predictions as the server packs them, sorted once for the scale. */
export function makePatients(
  packed: Pick<Predictions, 'risks' | 'costs'> & Partial<Pick<Predictions, 'events' | 'times'>>,
  outcome: Model['outcome'] | undefined,
): Patients {
  const risks = unpackNumbers(packed.risks);
  const events = packed.events ? unpackBytes(packed.events) : new Uint8Array(risks.length);
  return {
    risks,
    events,
    ranked: rankRisks(
      risks,
      events,
      nobodyOf(outcome?.choice.kind ?? 'event'),
      packed.costs && {
        missed: unpackNumbers(packed.costs.missed),
        falseAlarm: unpackNumbers(packed.costs.falseAlarm),
      },
      packed.times,
    ),
    outcomesKnown: packed.events !== undefined,
    scale: scaleFor(outcome, risks),
  };
}

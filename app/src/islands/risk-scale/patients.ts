import { nobodyOf, rankRisks } from '@rook-scale/core/measures';
import type { Model } from '@rook-scale/core/model';
import { unpackBytes, unpackNumbers } from '../../browser/api.ts';
import type { Patients } from './RiskScale.tsx';
import { scaleFor } from './score-scale.ts';

/** Predictions as the server packs them, sorted once for the scale. */
export function makePatients(
  packed: { risks: string; events?: string; costs?: { missed: string; falseAlarm: string } },
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
    ),
    outcomesKnown: packed.events !== undefined,
    scale: scaleFor(outcome, risks),
  };
}

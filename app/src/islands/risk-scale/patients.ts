import { rankRisks } from '@rook-scale/core/measures';
import { unpackBytes, unpackNumbers } from '../../browser/api.ts';
import type { Patients } from './RiskScale.tsx';

/** Predictions as the server packs them, sorted once for the scale. */
export function makePatients(packed: { risks: string; events?: string }): Patients {
  const risks = unpackNumbers(packed.risks);
  const events = packed.events ? unpackBytes(packed.events) : new Uint8Array(risks.length);
  return {
    risks,
    events,
    ranked: rankRisks(risks, events),
    outcomesKnown: packed.events !== undefined,
  };
}

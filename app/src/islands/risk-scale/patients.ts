import { clustersOf, nobodyOf, rankRisks } from '@rook-scale/core/measures';
import type { Model } from '@rook-scale/core/model';
import type { Predictions } from '../../contract/candidates.ts';
import { unpackBytes, unpackNumbers } from '../../browser/api.ts';
import type { Patients } from './RiskScale.tsx';
import { scaleFor } from './score-scale.ts';

/** Predictions as the server packs them, sorted once for the scale. */
export function makePatients(
  packed: Pick<Predictions, 'risks' | 'costs' | 'clusters'> &
    Partial<Pick<Predictions, 'events' | 'times'>>,
  outcome: Model['outcome'] | undefined,
): Patients {
  const all = unpackNumbers(packed.risks);
  // Patients of a list who are not scored lie nowhere on the scale.
  const risks = packed.events ? all : all.filter((risk) => !Number.isNaN(risk));
  const events = packed.events ? unpackBytes(packed.events) : new Uint8Array(risks.length);
  const clusters =
    packed.clusters === undefined
      ? undefined
      : clustersOf(new Int32Array(unpackBytes(packed.clusters).buffer));
  return {
    risks,
    events,
    ...(clusters && { clusters }),
    ranked: rankRisks(
      risks,
      events,
      nobodyOf(outcome?.choice.kind ?? 'event'),
      packed.costs && {
        missed: unpackNumbers(packed.costs.missed),
        falseAlarm: unpackNumbers(packed.costs.falseAlarm),
      },
      packed.times,
      clusters,
    ),
    outcomesKnown: packed.events !== undefined,
    scale: scaleFor(outcome, risks),
  };
}

import type { Judged, PatientCosts } from '@rook-scale/core/measures';
import {
  caseScores,
  casesOf,
  packOutcome,
  packPredictions,
  type CaseRule,
} from '@rook-scale/core/outcome';
import { currentDesign } from '../design-in-force.ts';
import { casesInForce } from './cases.ts';
import { clustersOfPredictions } from './clusters.ts';
import { ownCosts } from './own-costs.ts';
import { candidateRow, keptFolds, keptPredictions, notFitted } from './store.ts';
import type { Predictions } from '../../contract/candidates.ts';

/**
 * @param own what errors cost each of the patients, where they have costs of their own
 * @param times how often each patient is among the predictions
 * @param clusters of the predictions, where several are of one patient or group
 */
export function pack(
  { predictions, outcome }: Judged,
  cases: CaseRule,
  own?: PatientCosts,
  times = 1,
  clusters?: Int32Array,
): Predictions {
  const whole = predictions.kind === 'event' ? undefined : packPredictions(predictions);
  const happened = packOutcome(outcome);
  return {
    cases,
    times,
    risks: base64(bytesOf(caseScores(predictions, cases))),
    events: base64(bytesOf(casesOf(outcome, cases))),
    ...(own && {
      costs: {
        missed: base64(bytesOf(own.missed)),
        falseAlarm: base64(bytesOf(own.falseAlarm)),
      },
    }),
    ...(clusters && { clusters: base64(bytesOf(clusters)) }),
    ...(whole && {
      whole: {
        header: { ...whole.header, ...happened.header },
        values: base64(whole.bytes),
        outcome: base64(happened.bytes),
      },
    }),
  };
}

/** Out-of-fold predictions of the development patients; the held-out ones are given only for a look. */
export async function outOfFoldPredictions(id: string): Promise<Predictions> {
  const candidate = await candidateRow(id);
  if (!candidate.outcome) throw notFitted();
  const design = await currentDesign(candidate.studyId);
  return pack(
    await keptPredictions(id, 'out of fold'),
    casesInForce(candidate.outcome, design?.choices),
    design && (await ownCosts(candidate, design.choices, 'out of fold')),
    (await keptFolds(id)).times,
    await clustersOfPredictions(candidate, 'out of fold'),
  );
}

const bytesOf = ({ buffer, byteOffset, byteLength }: ArrayBufferView) =>
  new Uint8Array(buffer, byteOffset, byteLength);

const base64 = (bytes: Uint8Array) =>
  Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength).toString('base64');

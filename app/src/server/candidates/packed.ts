import type { Judged } from '@rook-scale/core/measures';
import {
  caseScores,
  casesOf,
  packOutcome,
  packPredictions,
  type CaseRule,
  type OutcomeHeader,
} from '@rook-scale/core/outcome';
import { currentDesign } from '../design-in-force.ts';
import { casesInForce } from './cases.ts';
import { candidateRow, keptPredictions, notFitted } from './store.ts';

/** Predictions and outcomes of patients, packed for the browser. */
export interface Predictions {
  /** What a case is. */
  cases: CaseRule;
  /** How much each patient is taken for a case: base64 of little-endian Float64. */
  risks: string;
  /** Whether each is one: base64 of one byte a patient. */
  events: string;
  /** Besides, for kinds where a score does not say all: everything predicted, and what happened. */
  whole?: { header: OutcomeHeader; values: string; outcome: string };
}

export function pack({ predictions, outcome }: Judged, cases: CaseRule): Predictions {
  const whole = predictions.kind === 'event' ? undefined : packPredictions(predictions);
  const happened = packOutcome(outcome);
  return {
    cases,
    risks: base64(bytesOf(caseScores(predictions, cases))),
    events: base64(bytesOf(casesOf(outcome, cases))),
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
  );
}

const bytesOf = ({ buffer, byteOffset, byteLength }: ArrayBufferView) =>
  new Uint8Array(buffer, byteOffset, byteLength);

const base64 = (bytes: Uint8Array) =>
  Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength).toString('base64');

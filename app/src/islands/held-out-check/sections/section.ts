import type { ErrorCosts, ErrorTable } from '@rook-scale/core/measures';
import type { Outcome, Predictions as AnyPredictions } from '@rook-scale/core/outcome';
import type { CandidateLine } from '../../../contract/candidates.ts';
import type { errorWords } from '../../../browser/format.ts';
import type { Patients } from '../../risk-scale/index.ts';

/** What a section of the held-out check is drawn from. */
export interface SectionProps {
  studyId: string;
  /** When the fit that was looked at ended: what is asked of the server is of the same. */
  fittedAt: string;
  patients: Patients;
  /** At the cutoff. */
  table: ErrorTable;
  cutoff: number;
  /** Two costs for all; absent where they depend on the patient or on the level. */
  costs?: ErrorCosts;
  line: CandidateLine;
  /** All candidates of the study. */
  lines: CandidateLine[];
  words: ReturnType<typeof errorWords>;
  /** Besides, for kinds where scores of cases do not say all: everything predicted, and what happened. */
  whole?: { predictions: AnyPredictions; outcome: Outcome };
  /** What the reference candidate says of everybody, a number or shares of levels; absent for risks. */
  reference?: number[];
  /** What a wrong level costs; absent where every error costs the same. */
  levelCosts?: number[][];
}

/** What cases and the others are called within a sentence. */
export const casesIn = ({ isEvent, event }: SectionProps['words']) =>
  isEvent
    ? { cases: 'with the event', others: 'without it', case: 'the event' }
    : { cases: `with ${event}`, others: 'of the others', case: event };

import { findOutcome, type Design } from '@rook-scale/core/design';
import { takeOutcome } from '@rook-scale/core/outcome';
import {
  choosePredictors,
  fitPreparation,
  type FittedPreparation,
} from '@rook-scale/core/preparation';
import type { Table } from '@rook-scale/core/table';

export interface PrepareTask {
  table: Table;
  design: Design;
  /** The development patients. */
  rows: Int32Array;
}

/** What the preparation learns from these patients. */
export function learnPreparation({ table, design, rows }: PrepareTask): FittedPreparation {
  const outcome = takeOutcome(findOutcome(table, design), rows);
  return fitPreparation(choosePredictors(table, design.predictors), rows, outcome).preparation;
}
